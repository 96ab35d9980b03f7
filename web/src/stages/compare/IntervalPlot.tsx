import { type PointerEvent, type Ref, useState } from "react";
import { AxisBottom } from "../../plot/Axes";
import { aired, airedLog, linear, logarithmic } from "../../plot/scales";
import { seriesOf } from "../../plot/series";
import { eachOf, nth } from "../../values";

export type IntervalRow = {
  key: string | number;
  label: string;
  estimate: number;
  low: number | null;
  high: number | null;
  /** What stands beside it: the estimate, and the rest paler. */
  words: [string, string];
  /** Area of its mark beside that of the others. */
  weight?: number | null;
  heading?: string;
  /** Put together elsewhere from others: a lozenge from limit to limit. */
  combined?: boolean;
  kind?: number;
  pale?: boolean;
};

type IntervalPlotProps = {
  rows: IntervalRow[];
  width: number;
  /** What there is to fill, as far as rows may stand apart. */
  room?: number;
  label: string;
  title?: string;
  log?: boolean;
  /** The value that means no difference, and what is written on its line. */
  none: number | null;
  noneWords?: string;
  drawing?: Ref<SVGSVGElement>;
  /** A row was dragged to the place of another. */
  onMove?: (from: number, to: number) => void;
};

const ROW = { least: 20, most: 36 };
const HEAD = 26;
const LETTER = 6.1;
const cut = (text: string, most: number) => (text.length > most ? `${text.slice(0, most - 1)}…` : text);

/** Estimates with their limits, one under the other on one axis, their numbers beside them. */
export function IntervalPlot(props: IntervalPlotProps) {
  const { rows, width, room = 0, label, title = "", log = false, none, noneWords = "", drawing, onMove } = props;
  const [held, setHeld] = useState<{ from: number; y: number } | null>(null);
  const longest = Math.max(...rows.map((row) => row.label.length), 4);
  const [first, second] = eachOf(
    [0, 1],
    (part) => Math.max(...rows.map(({ words }) => nth(words, part).length), 1) * LETTER,
  );
  const left = Math.min(Math.max(longest * LETTER + 24, 90), width * 0.34);
  const right = width - first - second - 36;
  const stands = (value: number | null): value is number => value !== null && (!log || value > 0);
  const ends = rows.flatMap(({ low, high, estimate }) => [low, high, estimate].filter(stands));
  if (stands(none)) ends.push(none);
  const [least, most] = ends.length > 0 ? [Math.min(...ends), Math.max(...ends)] : log ? [1, 10] : [0, 1];
  const x = log ? logarithmic(airedLog(least, most, 0.05), left, right) : linear(aired(least, most, 0.05), left, right);
  const held_ = (value: number) => (stands(value) ? x(value) : left);
  const heaviest = Math.max(...rows.map(({ weight }) => weight ?? 0), 0);
  const top = noneWords ? 24 : 8;
  const headings = rows.filter((row, i) => row.heading && row.heading !== rows[i - 1]?.heading).length;
  const free = room - top - headings * HEAD - (title ? 58 : 34);
  const step = Math.min(Math.max(free / Math.max(rows.length, 1), ROW.least), ROW.most);
  let y = top;
  let heading = "";
  const places = rows.map((row) => {
    const begins = (row.heading ?? "") !== heading ? (row.heading ?? "") : "";
    heading = row.heading ?? "";
    if (begins) y += HEAD;
    y += step;
    return { begins, at: y - step / 2 };
  });
  const bottom = y + 8;
  const height = bottom + (title ? 48 : 26);
  const nearest = (at: number) =>
    places.reduce((best, each, i) => (Math.abs(each.at - at) < Math.abs((places[best]?.at ?? 0) - at) ? i : best), 0);
  const yOf = (event: PointerEvent<SVGGElement>) =>
    event.clientY - (event.currentTarget.ownerSVGElement?.getBoundingClientRect().top ?? 0);
  const drop = () => {
    if (held && onMove && nearest(held.y) !== held.from) onMove(held.from, nearest(held.y));
    setHeld(null);
  };
  return (
    <svg ref={drawing} role="img" aria-label={label} width={width} height={height} className="figures block text-small">
      {none !== null && stands(none) && (
        <g>
          <path d={`M${x(none)} ${top - 4}V${bottom}`} strokeDasharray="4 3" className="stroke-line-strong" />
          {noneWords && (
            <text x={x(none)} y={14} textAnchor="middle" className="fill-muted-ink">
              {noneWords}
            </text>
          )}
        </g>
      )}
      {rows.map((row, i) => {
        const { begins, at } = nth(places, i);
        const look = row.pale ? "stroke-line-strong" : seriesOf(row.kind ?? 0).stroke;
        const limits = row.low !== null && row.high !== null ? [held_(row.low), held_(row.high)] : null;
        const radius =
          row.weight !== null && row.weight !== undefined && heaviest > 0
            ? Math.max(8.5 * Math.sqrt(row.weight / heaviest), 1.6)
            : 4;
        const middle = held_(row.estimate);
        return (
          <g key={row.key} data-row={row.label}>
            {begins && (
              <text x={12} y={at - step / 2 - 8} className="fill-ink font-semibold text-body">
                {begins}
              </text>
            )}
            <g
              className={onMove ? "cursor-grab touch-none" : ""}
              onPointerDown={(event) => {
                if (!onMove) return;
                event.currentTarget.setPointerCapture(event.pointerId);
                setHeld({ from: i, y: yOf(event) });
              }}
              onPointerMove={(event) => held && setHeld({ ...held, y: yOf(event) })}
              onPointerUp={drop}
              onPointerCancel={() => setHeld(null)}
            >
              <text
                x={left - 12}
                y={held?.from === i ? held.y : at}
                dy="0.32em"
                textAnchor="end"
                className={`fill-ink ${row.combined ? "font-semibold" : ""}`}
              >
                {cut(row.label, Math.floor((left - 18) / LETTER))}
              </text>
            </g>
            {row.combined && limits ? (
              <path
                data-interval={row.label}
                d={`M${limits[0]} ${at}L${middle} ${at - 7}L${limits[1]} ${at}L${middle} ${at + 7}Z`}
                strokeLinejoin="round"
                className="fill-velvet-fill stroke-[1.6] stroke-series-velvet"
              />
            ) : (
              <>
                {limits && (
                  <path
                    data-interval={row.label}
                    d={`M${limits[0]} ${at}H${limits[1]}`}
                    strokeLinecap="round"
                    className={`stroke-[2.2] ${look}`}
                  />
                )}
                {stands(row.estimate) && (
                  <circle cx={middle} cy={at} r={radius} className={`fill-raised stroke-2 ${look}`} />
                )}
              </>
            )}
            <g className={row.combined ? "font-semibold" : ""}>
              <text x={right + 12 + first} y={at} dy="0.32em" textAnchor="end" className="fill-ink">
                {row.words[0]}
              </text>
              <text x={right + 24 + first} y={at} dy="0.32em" className="fill-muted-ink">
                {row.words[1]}
              </text>
            </g>
          </g>
        );
      })}
      {held && (
        <path
          data-screen-only
          d={`M8 ${(places[nearest(held.y)]?.at ?? 0) - step / 2}H${width - 8}`}
          className="stroke-2 stroke-accent"
        />
      )}
      <AxisBottom scale={x} title={title} y={bottom} about={6} />
    </svg>
  );
}
