import { line } from "d3-shape";
import { memo, useMemo } from "react";
import { nth } from "../values";
import type { Scale } from "./scales";

type Numbers = ArrayLike<number>;
type BumpsProps = {
  xs: Numbers;
  heights: Numbers;
  n: number;
  factor: number;
  x: Scale;
  y: Scale;
  marked: number | null;
};

/** Each row's own bump, standing on the axis, and all of them laid one on the other up to the curve. */
export const Bumps = memo(function Bumps({ xs, heights, n, factor, x, y, marked }: BumpsProps) {
  const { own, sums } = useMemo(() => {
    const places = Array.from(xs, (_, i) => i);
    const total = new Float64Array(xs.length);
    const at = (i: number) => x(nth(xs, i));
    const own: string[] = [];
    const sums: string[] = [];
    for (let row = 0; row < n; row++) {
      const height = (i: number) => nth(heights, row * xs.length + i) * factor;
      own.push(line<number>(at, (i) => y(height(i)))(places) ?? "");
      for (const i of places) total[i] = nth(total, i) + height(i);
      sums.push(line<number>(at, (i) => y(nth(total, i)))(places) ?? "");
    }
    return { own, sums };
  }, [xs, heights, n, factor, x, y]);
  return (
    <g fill="none">
      <path d={sums.join("")} className="stroke-[0.7] stroke-series-heron opacity-35" />
      {own.map((path, row) => (
        <path
          // biome-ignore lint/suspicious/noArrayIndexKey: a bump is its place
          key={row}
          data-bump={row}
          d={path}
          className={row === marked ? "fill-accent-tint stroke-[2] stroke-accent" : "stroke-series-ochre"}
        />
      ))}
    </g>
  );
});
