import { type Scale, type Tick, ticksOf } from "./scales";

type AxisProps = { scale: Scale; title: string; about?: number; ticks?: Tick[] };

/** About the width of a figure, and a little air. */
const LETTER = 6.6;

export function AxisBottom({ scale, title, y, about = 8, ticks }: AxisProps & { y: number }) {
  const [from = 0, to = 0] = scale.range();
  const marks = ticks ?? ticksOf(scale, about);
  const longest = Math.max(...marks.map(({ text }) => text.length), 1) * LETTER;
  const apart = Math.abs((marks[1]?.at ?? to) - (marks[0]?.at ?? from));
  const every = scale.log ? 1 : Math.max(Math.ceil(longest / Math.max(apart, 1)), 1);
  return (
    <g data-axis="across" className="figures text-small">
      <line x1={from} x2={to} y1={y} y2={y} className="stroke-chart-axis" />
      {marks.map((tick, i) => (
        <g key={tick.value} data-tick={tick.text} transform={`translate(${tick.at},${y})`}>
          <line y2={5} className="stroke-chart-axis" />
          {i % every === 0 && (
            <text y={18} textAnchor="middle" className="fill-muted-ink">
              {tick.text}
            </text>
          )}
        </g>
      ))}
      <text x={(from + to) / 2} y={y + 36} textAnchor="middle" className="fill-ink text-body">
        {title}
      </text>
    </g>
  );
}

export function AxisLeft({
  scale,
  title,
  x,
  to,
  about = 5,
  turned = true,
}: AxisProps & { x: number; to: number; turned?: boolean }) {
  const [bottom = 0, top = 0] = scale.range();
  return (
    <g data-axis="up" className="figures text-small">
      {ticksOf(scale, about).map((tick) => (
        <g key={tick.value} data-tick={tick.text} transform={`translate(0,${tick.at})`}>
          <line x1={x} x2={to} className="stroke-chart-grid" />
          <text x={x - 7} dy="0.32em" textAnchor="end" className="fill-muted-ink">
            {tick.text}
          </text>
        </g>
      ))}
      {turned && (
        <text
          transform={`translate(13,${(bottom + top) / 2}) rotate(-90)`}
          textAnchor="middle"
          className="fill-ink text-body"
        >
          {title}
        </text>
      )}
    </g>
  );
}
