import { area, curveMonotoneX } from "d3-shape";

const WIDTH = 64;
const HEIGHT = 26;

/** A variable's shape at a glance: bars for counts and levels, a silhouette for what is continuous. */
export function SmallShape({ heights, bars }: { heights: readonly number[]; bars: boolean }) {
  const step = WIDTH / Math.max(heights.length, 1);
  return (
    <svg aria-hidden="true" width={WIDTH} height={HEIGHT + 1} className="shrink-0">
      {bars ? (
        heights.map((height, i) => (
          <rect
            // biome-ignore lint/suspicious/noArrayIndexKey: a bar is its place
            key={i}
            x={i * step + 0.75}
            width={Math.max(step - 1.5, 0.75)}
            y={HEIGHT - Math.max(height * HEIGHT, height > 0 ? 1 : 0)}
            height={Math.max(height * HEIGHT, height > 0 ? 1 : 0)}
            rx={Math.min(1.5, step / 4)}
            className="fill-blocks-strong"
          />
        ))
      ) : (
        <path
          d={
            area<number>()
              .x((_, i) => (i + 0.5) * step)
              .y0(HEIGHT)
              .y1((height) => HEIGHT - height * (HEIGHT - 2))
              .curve(curveMonotoneX)([...heights]) ?? ""
          }
          className="fill-blocks stroke-series-heron"
        />
      )}
    </svg>
  );
}
