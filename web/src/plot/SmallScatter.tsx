import { useMemo } from "react";
import { nth } from "../values";
import { Dots } from "./Dots";
import { aired, linear } from "./scales";

const [WIDTH, HEIGHT] = [120, 68];

/** Pairs at a glance, those without a value on one side left out; it fills the room that it is given. */
export function SmallScatter({ x, y }: { x: Float64Array; y: Float64Array }) {
  const [xs, ys] = useMemo(() => {
    const there = Array.from(x.keys()).filter((i) => Number.isFinite(x[i]) && Number.isFinite(y[i]));
    const placed = (values: Float64Array, from: number, to: number) => {
      const own = there.map((i) => nth(values, i));
      const scale = linear(own.length > 0 ? aired(Math.min(...own), Math.max(...own), 0.05) : [0, 1], from, to);
      return own.map(scale);
    };
    return [placed(x, 4, WIDTH - 4), placed(y, HEIGHT - 4, 4)] as const;
  }, [x, y]);
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      preserveAspectRatio="none"
      aria-hidden="true"
      className="min-h-0 w-full flex-1 [&_path]:[vector-effect:non-scaling-stroke]"
    >
      <Dots {...{ xs, ys }} radius={1.2} opacity={0.55} className="stroke-series-heron" />
    </svg>
  );
}
