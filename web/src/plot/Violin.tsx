import { area } from "d3-shape";
import { useMemo } from "react";
import { nth } from "../values";
import { heightAt } from "./Curve";
import type { Scale } from "./scales";

type Numbers = ArrayLike<number>;
type ViolinProps = {
  xs: Numbers;
  heights: Numbers;
  /** Half its width at the density 1. */
  scale: number;
  x: Scale;
  /** Its middle line. */
  y: number;
  /** The range of the data, at which it is cut. */
  from: number;
  to: number;
  /** Values marked across it. */
  quartiles?: readonly number[];
  fill: string;
  stroke: string;
};

/** A density and its mirror image, cut at the range of the data. */
export function Violin({ xs, heights, scale, x, y, from, to, quartiles = [], fill, stroke }: ViolinProps) {
  const inside = useMemo(() => {
    const places: { at: number; half: number }[] = [];
    const add = (value: number) => places.push({ at: x(value), half: scale * (heightAt(xs, heights, value) ?? 0) });
    add(from);
    for (let i = 0; i < xs.length; i++) if (nth(xs, i) > from && nth(xs, i) < to) add(nth(xs, i));
    add(to);
    return places;
  }, [xs, heights, scale, x, from, to]);
  const body = area<(typeof inside)[number]>()
    .x(({ at }) => at)
    .y0(({ half }) => y + half)
    .y1(({ half }) => y - half)(inside);
  return (
    <g>
      <path d={body ?? ""} strokeLinejoin="round" className={`${fill} stroke-[1.6] ${stroke}`} fillOpacity={0.75} />
      {quartiles.map((value, i) => {
        const half = scale * (heightAt(xs, heights, value) ?? 0);
        return (
          <path
            // biome-ignore lint/suspicious/noArrayIndexKey: three quartiles, which may be equal
            key={i}
            d={`M${x(value)} ${y - half}V${y + half}`}
            strokeDasharray={i === 1 ? undefined : "2 2.5"}
            className={i === 1 ? "stroke-[2.4] stroke-series-velvet" : "stroke-[1.3] stroke-ink"}
          />
        );
      })}
    </g>
  );
}
