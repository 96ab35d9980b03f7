import { area, line } from "d3-shape";
import { memo, useMemo } from "react";
import type { Scale } from "./scales";

type Numbers = ArrayLike<number>;
type CurveProps = { xs: Numbers; heights: Numbers; factor: number; x: Scale; y: Scale; look: "density" | "normal" };

const LOOKS = {
  density: "stroke-series-heron stroke-[2.2]",
  normal: "stroke-series-velvet stroke-[1.6]",
};

export const Curve = memo(function Curve({ xs, heights, factor, x, y, look }: CurveProps) {
  const path = useMemo(() => {
    const draw = line<number>(
      (_, i) => x(xs[i] as number),
      (_, i) => y((heights[i] as number) * factor),
    );
    return draw(Array.from(heights)) ?? "";
  }, [xs, heights, factor, x, y]);
  return (
    <path
      d={path}
      fill="none"
      strokeLinejoin="round"
      strokeLinecap="round"
      strokeDasharray={look === "normal" ? "0.1 4.5" : undefined}
      className={LOOKS[look]}
    />
  );
});

type BandProps = { xs: Numbers; low: Numbers; high: Numbers; x: Scale; y: Scale; className: string };

export function Band({ xs, low, high, x, y, className }: BandProps) {
  const path = useMemo(() => {
    const draw = area<number>()
      .x((_, i) => x(xs[i] as number))
      .y0((_, i) => y(low[i] as number))
      .y1((_, i) => y(high[i] as number));
    return draw(Array.from(xs)) ?? "";
  }, [xs, low, high, x, y]);
  return <path d={path} className={className} />;
}

/** The curve's height at a value, on the straight line between its points; null beyond its ends. */
export function heightAt(xs: Numbers, heights: Numbers, value: number): number | null {
  const last = xs.length - 1;
  if (last < 1 || value < (xs[0] as number) || value > (xs[last] as number)) return null;
  let low = 0;
  let high = last;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if ((xs[middle] as number) <= value) low = middle;
    else high = middle;
  }
  const span = (xs[high] as number) - (xs[low] as number);
  const share = span > 0 ? (value - (xs[low] as number)) / span : 0;
  return (heights[low] as number) * (1 - share) + (heights[high] as number) * share;
}
