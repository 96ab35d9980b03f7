import { memo } from "react";
import { nth } from "../values";
import type { Scale } from "./scales";

type ClassBlocksProps = {
  boundaries: readonly number[];
  heights: readonly number[];
  x: Scale;
  y: Scale;
  /** Share of each class that is selected. */
  selected?: readonly number[] | undefined;
};

const GAP = 1;

/** Counts as pale blocks, one for each class. */
export const ClassBlocks = memo(function ClassBlocks({ boundaries, heights, x, y, selected }: ClassBlocksProps) {
  const base = y(0);
  return (
    <g>
      {heights.map((height, i) => {
        const left = x(nth(boundaries, i)) + GAP / 2;
        const width = Math.max(x(nth(boundaries, i + 1)) - left - GAP / 2, 0.5);
        const top = y(height);
        const share = selected?.[i] ?? 0;
        const radius = Math.min(3, width / 3);
        return height > 0 ? (
          <g key={boundaries[i]}>
            <path
              d={`M${left} ${base}V${top + radius}q0 ${-radius} ${radius} ${-radius}h${width - 2 * radius}q${radius} 0 ${radius} ${radius}V${base}Z`}
              className="fill-blocks"
            />
            {share > 0 && (
              <rect
                x={left}
                width={width}
                y={base - (base - top) * share}
                height={(base - top) * share}
                className="fill-accent opacity-55"
              />
            )}
          </g>
        ) : null;
      })}
    </g>
  );
});

type MarkedClassProps = { boundaries: readonly number[]; heights: readonly number[]; x: Scale; y: Scale; i: number };

/** The class that is being asked, tinted. */
export function MarkedClass({ boundaries, heights, x, y, i }: MarkedClassProps) {
  const [left, right] = [x(nth(boundaries, i)), x(nth(boundaries, i + 1))];
  const top = y(nth(heights, i));
  return (
    <rect
      x={left}
      width={Math.max(right - left, 0.5)}
      y={top}
      height={y(0) - top}
      className="fill-series-heron opacity-20"
    />
  );
}
