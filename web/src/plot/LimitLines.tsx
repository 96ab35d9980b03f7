import type { Scale } from "./scales";

export type Limit = { value: number; words: string; target?: boolean };

/** Specification limits and the target as upright lines through the whole stack, named at their head. */
export function LimitLines({ limits, x, top, foot }: { limits: Limit[]; x: Scale; top: number; foot: number }) {
  return limits.map(({ value, words, target }) => (
    <g key={words} className={target ? "stroke-good" : "stroke-danger"}>
      <path d={`M${x(value)} ${top}V${foot}`} strokeWidth={1.3} strokeDasharray={target ? "1.5 3" : "7 3"} />
      <text
        x={x(value) + 4}
        y={top + 9}
        stroke="none"
        className={target ? "fill-good text-small" : "fill-danger text-small"}
      >
        {words}
      </text>
    </g>
  ));
}
