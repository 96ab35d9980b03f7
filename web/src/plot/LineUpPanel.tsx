import { line } from "d3-shape";
import { nth } from "../values";
import { Dots } from "./Dots";
import { linear, type Scale } from "./scales";

type Numbers = ArrayLike<number>;
type Panel = { ordered: Numbers; counts: Numbers; x: Numbers; heights: Numbers };
type LineUp = { scores: Numbers; boundaries: Numbers; panels: Panel[] };
type Size = { width: number; height: number };

export const LINE_UP_LOOKS = [
  { value: "qq", label: "Q-Q plots" },
  { value: "classes", label: "histograms" },
  { value: "density", label: "densities" },
] as const;
export type LineUpLook = (typeof LINE_UP_LOOKS)[number]["value"];
type Scales = { x: Scale; y: Scale };

const EDGE = 10;
const HEAD = 20;

const least = (numbers: Numbers) =>
  Array.from(numbers).reduce((low, number) => Math.min(low, number), Number.POSITIVE_INFINITY);
const most = (numbers: Numbers) =>
  Array.from(numbers).reduce((top, number) => Math.max(top, number), Number.NEGATIVE_INFINITY);

/** The same scales for all panels, so that none stands out by its frame. */
export function lineUpScales(
  { scores, boundaries, panels }: LineUp,
  look: LineUpLook,
  { width, height }: Size,
): Scales {
  const across = (low: number, high: number) => linear([low, high], EDGE, Math.max(width - EDGE, EDGE + 1));
  const up = (low: number, high: number) => linear([low, high], Math.max(height - EDGE, HEAD + 1), HEAD);
  const low = Math.min(...panels.map(({ ordered }) => least(ordered)));
  const high = Math.max(...panels.map(({ ordered }) => most(ordered)));
  if (look === "qq") return { x: across(least(scores), most(scores)), y: up(low, high) };
  const top = Math.max(...panels.map(({ counts, heights }) => most(look === "classes" ? counts : heights)), 1e-300);
  const ends = look === "classes" ? boundaries : [low, high];
  return { x: across(least(ends), most(ends)), y: up(0, top) };
}

type LineUpPanelProps = Size & { lineUp: LineUp; panel: Panel; look: LineUpLook; scales: Scales };

/** One panel, without axes or numbers: only its shape tells it from the others. */
export function LineUpPanel({ lineUp, panel, look, scales: { x, y }, width, height }: LineUpPanelProps) {
  const foot = height - EDGE;
  return (
    <svg width={width} height={height} aria-hidden="true" className="block">
      {look === "qq" && (
        <>
          <path
            d={qqLine(lineUp.scores, panel.ordered, x, y)}
            fill="none"
            strokeDasharray="0.1 4"
            strokeLinecap="round"
            className="stroke-[1.4] stroke-series-velvet"
          />
          <Dots
            xs={Array.from(lineUp.scores, x)}
            ys={Array.from(panel.ordered, y)}
            radius={1.5}
            opacity={0.8}
            className="stroke-series-heron"
          />
        </>
      )}
      {look === "classes" &&
        Array.from(panel.counts, (count, i) => {
          const [left, right] = [x(nth(lineUp.boundaries, i)), x(nth(lineUp.boundaries, i + 1))];
          const top = y(count);
          return (
            <rect
              // biome-ignore lint/suspicious/noArrayIndexKey: a class is its place
              key={i}
              x={left + 0.5}
              y={top}
              width={Math.max(right - left - 1, 0.5)}
              height={Math.max(foot - top, 0)}
              className="fill-blocks-strong"
            />
          );
        })}
      {look === "density" && (
        <path
          d={
            line<number>(
              (_, i) => x(nth(panel.x, i)),
              (height) => y(height),
            )(Array.from(panel.heights)) ?? ""
          }
          fill="none"
          className="stroke-[2] stroke-series-heron"
        />
      )}
      <path d={`M${EDGE} ${foot}H${width - EDGE}`} className="stroke-chart-axis" />
    </svg>
  );
}

/** The line through the panel's own mean and SD, as every panel has one. */
function qqLine(scores: Numbers, ordered: Numbers, x: Scale, y: Scale): string {
  const n = ordered.length;
  const mean = Array.from(ordered).reduce((sum, value) => sum + value, 0) / n;
  const sd = Math.sqrt(Array.from(ordered).reduce((sum, value) => sum + (value - mean) ** 2, 0) / Math.max(n - 1, 1));
  const [from, to] = [scores[0] ?? 0, scores[n - 1] ?? 0];
  return `M${x(from)} ${y(mean + sd * from)}L${x(to)} ${y(mean + sd * to)}`;
}
