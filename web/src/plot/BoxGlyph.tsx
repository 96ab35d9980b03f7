import { memo } from "react";
import type { Scale } from "./scales";

export type BoxFigures = {
  q1: number;
  median: number;
  q3: number;
  whiskerLow: number;
  whiskerHigh: number;
  notchLow: number;
  notchHigh: number;
  fences: { inner_low: number; inner_high: number; outer_low: number; outer_high: number } | null;
};

type BoxGlyphProps = {
  box: BoxFigures;
  x: Scale;
  y: number;
  height: number;
  showFences: boolean;
  showNotch?: boolean;
  /** Drawn as a lozenge where it is given. */
  mean?: number | null;
};

const FENCES = [
  ["outer_low", "outer fence"],
  ["inner_low", "inner fence"],
  ["inner_high", "inner fence"],
  ["outer_high", "outer fence"],
] as const;

/** A rounded box with a plum median and whiskers without caps; its fences on request. */
export function BoxGlyph({ box, x, y, height, showFences, showNotch = false, mean = null }: BoxGlyphProps) {
  const half = height / 2;
  // Where values run upwards, the larger one has the smaller place.
  const [from, to] = [x(box.q1), x(box.q3)];
  const [left, right] = [Math.min(from, to), Math.max(from, to)];
  const width = Math.max(right - left, 1);
  return (
    <g>
      <path
        d={`M${x(box.whiskerLow)} ${y}H${from}M${to} ${y}H${x(box.whiskerHigh)}`}
        className="stroke-ink stroke-[1.5]"
        strokeLinecap="round"
      />
      {showNotch ? (
        <path
          data-box=""
          d={notched(box, x, y, half)}
          strokeLinejoin="round"
          className="fill-raised stroke-[1.5] stroke-ink"
        />
      ) : (
        <rect
          data-box=""
          x={left}
          y={y - half}
          width={width}
          height={height}
          rx={Math.min(6, width / 2)}
          className="fill-raised stroke-[1.5] stroke-ink"
        />
      )}
      <path
        d={
          showNotch
            ? `M${x(box.median)} ${y - half * WAIST}v${2 * half * WAIST}`
            : `M${x(box.median)} ${y - half + 1.5}v${height - 3}`
        }
        className="stroke-[3] stroke-series-velvet"
        strokeLinecap="round"
      />
      {mean !== null && (
        <path
          d={`M${x(mean)} ${y - 4.5}l4.5 4.5l-4.5 4.5l-4.5 -4.5Z`}
          className="fill-series-heron stroke-[1.2] stroke-raised"
        />
      )}
      {showFences && box.fences && <Fences fences={box.fences} x={x} y={y} half={half} />}
    </g>
  );
}

/** How narrow a notched box is at its median. */
const WAIST = 0.5;

/** A box drawn in at its median, from the lower to the upper end of the notch, which may lie beyond a quartile. */
function notched(box: BoxFigures, x: Scale, y: number, half: number): string {
  const [q1, low, median, high, q3] = [box.q1, box.notchLow, box.median, box.notchHigh, box.q3].map(x);
  const upper = [`${q1} ${y - half}`, `${low} ${y - half}`, `${median} ${y - half * WAIST}`, `${high} ${y - half}`];
  const lower = [`${q3} ${y + half}`, `${high} ${y + half}`, `${median} ${y + half * WAIST}`, `${low} ${y + half}`];
  return `M${[...upper, `${q3} ${y - half}`, ...lower, `${q1} ${y + half}`].join("L")}Z`;
}

type FencesProps = { fences: NonNullable<BoxFigures["fences"]>; x: Scale; y: number; half: number };

function Fences({ fences, x, y, half }: FencesProps) {
  const [from = 0, to = 0] = x.range();
  return (
    <g>
      {FENCES.map(([name, words]) => {
        const at = x(fences[name]);
        if (at < from || at > to) return null;
        const low = name.endsWith("low");
        return (
          <g key={name}>
            <path
              d={`M${at} ${y - half - 13}V${y + half + 5}`}
              strokeDasharray="2 3"
              className={name.startsWith("outer") ? "stroke-danger" : "stroke-caution"}
            />
            <text
              x={low ? at - 4 : at + 4}
              y={y - half - 5}
              textAnchor={low ? "end" : "start"}
              className="fill-muted-ink text-small"
            >
              {words}
            </text>
          </g>
        );
      })}
    </g>
  );
}

type RingsProps = { near: readonly number[]; far: readonly number[]; y: number };

const ring = (at: number, y: number) =>
  `M${at.toFixed(1)} ${y - 3.6}v-3.6m-3.6 7.2a3.6 3.6 0 1 0 7.2 0a3.6 3.6 0 1 0 -7.2 0`;

/** Rows beyond a fence: an open ring with a short tick, the farther ones in rust. */
export const Rings = memo(function Rings({ near, far, y }: RingsProps) {
  return (
    <g className="fill-raised stroke-[1.5]">
      <path d={near.map((at) => ring(at, y)).join("")} className="stroke-caution" />
      <path d={far.map((at) => ring(at, y)).join("")} className="stroke-danger" />
    </g>
  );
});
