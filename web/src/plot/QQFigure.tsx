import { useMemo } from "react";
import { nth } from "../values";
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
  const [from, to] = [data.scores[0] ?? 0, data.scores[n - 1] ?? 1];
  let [low, high] = [data.intercept + from * data.slope, data.intercept + to * data.slope];
  if (low > high) [low, high] = [high, low];
  for (let i = 0; i < n; i++) {
    low = Math.min(low, nth(data.ordered, i));
    high = Math.max(high, nth(data.ordered, i));
  }
  // Away from the line, the bands are what the points are judged by.
  if (data.slope === 0) {
    for (let i = 0; i < data.band_scores.length; i++) {
      low = Math.min(low, nth(data.point_low, i));
      high = Math.max(high, nth(data.point_high, i));
    }
  }
  const ends = [low, high];
  return {
    x: linear(aired(from, to, 0.04), EDGE.left, width - EDGE.right),
    y: linear(aired(Math.min(...ends), Math.max(...ends), 0.04), height - EDGE.bottom, EDGE.top),
  };
}

type QQFigureProps = Room & {
  data: QQData;
  unitTitle: string;
  scoreTitle: string;
  selected: ReadonlySet<number>;
  rows: Numbers;
};

/** Ordered values against what is expected of them, with the line and its bands. */
export function QQFigure({ data, width, height, unitTitle, scoreTitle, selected, rows }: QQFigureProps) {
  const { x, y } = useMemo(() => qqScales(data, { width, height }), [data, width, height]);
  const points = useMemo(() => {
    const xs = Float64Array.from(data.scores, (score) => x(score));
    const ys = Float64Array.from(data.ordered, (value) => y(value));
    return { xs, ys };
  }, [data, x, y]);
  const chosen = useMemo(() => {
    const places: number[] = [];
    if (selected.size > 0) for (let i = 0; i < rows.length; i++) if (selected.has(nth(rows, i))) places.push(i);
    return { xs: places.map((i) => nth(points.xs, i)), ys: places.map((i) => nth(points.ys, i)) };
  }, [selected, rows, points]);
  const [left, right] = x.domain();
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
        {Number.isFinite(data.point_low[0] ?? Number.NaN) && (
          <Band {...band} low={data.point_low} high={data.point_high} className="fill-velvet-fill" />
        )}
        <path
          d={`M${x(left)} ${y(data.intercept + left * data.slope)}L${x(right)} ${y(data.intercept + right * data.slope)}`}
          className="stroke-[1.3] stroke-series-velvet"
        />
        <Dots {...points} radius={1.9} opacity={0.7} className="stroke-series-heron" />
        {chosen.xs.length > 0 && <Dots {...chosen} radius={2.9} of="selected" className="stroke-accent" />}
      </g>
      <AxisBottom scale={x} title={scoreTitle} y={height - EDGE.bottom} about={5} />
      <text x={EDGE.left + 4} y={EDGE.top + 9} className="fill-muted-ink text-small">
        {unitTitle}
      </text>
    </>
  );
}
