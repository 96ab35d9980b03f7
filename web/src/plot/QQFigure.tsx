import { useMemo } from "react";
import { AxisBottom, AxisLeft } from "./Axes";
import { Band } from "./Curve";
import { Dots } from "./Dots";
import { aired, linear } from "./scales";

type Numbers = ArrayLike<number>;
export type QQData = {
  scores: Numbers;
  ordered: Numbers;
  band_scores: Numbers;
  point_low: Numbers;
  point_high: Numbers;
  simultaneous_low: Numbers;
  simultaneous_high: Numbers;
  slope: number;
  intercept: number;
};

type Room = { width: number; height: number };
const EDGE = { top: 10, right: 12, bottom: 42, left: 46 };

/** Where things stand in a Q-Q plot of this size. */
export function qqScales(data: QQData, { width, height }: Room) {
  const n = data.scores.length;
  const reach = Math.max(Math.abs(data.scores[0] ?? 1), Math.abs(data.scores[n - 1] ?? 1));
  const ends = [
    data.ordered[0] ?? 0,
    data.ordered[n - 1] ?? 1,
    data.intercept - reach * data.slope,
    data.intercept + reach * data.slope,
  ];
  return {
    x: linear(aired(-reach, reach, 0.04), EDGE.left, width - EDGE.right),
    y: linear(aired(Math.min(...ends), Math.max(...ends), 0.04), height - EDGE.bottom, EDGE.top),
  };
}

type QQFigureProps = Room & { data: QQData; unitTitle: string; selected: ReadonlySet<number>; rows: Numbers };

/** Ordered values against the scores expected of a normal sample, with the line and its bands. */
export function QQFigure({ data, width, height, unitTitle, selected, rows }: QQFigureProps) {
  const { x, y } = useMemo(() => qqScales(data, { width, height }), [data, width, height]);
  const points = useMemo(() => {
    const xs = Float64Array.from(data.scores, (score) => x(score));
    const ys = Float64Array.from(data.ordered, (value) => y(value));
    return { xs, ys };
  }, [data, x, y]);
  const chosen = useMemo(() => {
    const places: number[] = [];
    if (selected.size > 0) for (let i = 0; i < rows.length; i++) if (selected.has(rows[i] as number)) places.push(i);
    return { xs: places.map((i) => points.xs[i] as number), ys: places.map((i) => points.ys[i] as number) };
  }, [selected, rows, points]);
  const [left, right] = x.domain() as [number, number];
  const simultaneous = Number.isFinite(data.simultaneous_low[0] ?? Number.NaN);
  const band = { xs: data.band_scores, x, y };
  return (
    <>
      <clipPath id="qq-room">
        <rect
          x={EDGE.left}
          y={EDGE.top}
          width={width - EDGE.left - EDGE.right}
          height={height - EDGE.top - EDGE.bottom}
        />
      </clipPath>
      <AxisLeft scale={y} title="" turned={false} x={EDGE.left} to={width - EDGE.right} about={4} />
      <g clipPath="url(#qq-room)">
        {simultaneous && (
          <Band
            {...band}
            low={data.simultaneous_low}
            high={data.simultaneous_high}
            className="fill-velvet-fill opacity-55"
          />
        )}
        <Band {...band} low={data.point_low} high={data.point_high} className="fill-velvet-fill" />
        <path
          d={`M${x(left)} ${y(data.intercept + left * data.slope)}L${x(right)} ${y(data.intercept + right * data.slope)}`}
          className="stroke-[1.3] stroke-series-velvet"
        />
        <Dots {...points} radius={1.9} opacity={0.7} className="stroke-series-heron" />
        {chosen.xs.length > 0 && <Dots {...chosen} radius={2.9} className="stroke-accent" />}
      </g>
      <AxisBottom scale={x} title="normal scores" y={height - EDGE.bottom} about={5} />
      <text x={EDGE.left + 4} y={EDGE.top + 9} className="fill-muted-ink text-small">
        {unitTitle}
      </text>
    </>
  );
}
