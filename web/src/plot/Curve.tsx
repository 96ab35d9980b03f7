import { area, line } from "d3-shape";
import { memo, useMemo } from "react";
import { nth } from "../values";
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
      (_, i) => x(nth(xs, i)),
      (_, i) => y(nth(heights, i) * factor),
    );
    return draw(Array.from(heights)) ?? "";
  }, [xs, heights, factor, x, y]);
  return (
    <path
      data-curve={look}
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
      .x((_, i) => x(nth(xs, i)))
      .y0((_, i) => y(nth(low, i)))
      .y1((_, i) => y(nth(high, i)));
    return draw(Array.from(xs)) ?? "";
  }, [xs, low, high, x, y]);
  return <path d={path} className={className} />;
}

/** The curve's height at a value, on the straight line between its points; null beyond its ends. */
export function heightAt(xs: Numbers, heights: Numbers, value: number): number | null {
  const last = xs.length - 1;
  if (last < 1 || value < nth(xs, 0) || value > nth(xs, last)) return null;
  let low = 0;
  let high = last;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (nth(xs, middle) <= value) low = middle;
    else high = middle;
  }
  const span = nth(xs, high) - nth(xs, low);
  const share = span > 0 ? (value - nth(xs, low)) / span : 0;
  return nth(heights, low) * (1 - share) + nth(heights, high) * share;
}
