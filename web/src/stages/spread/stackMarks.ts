import type { RowsAsked } from "../../api/queryKeys";
import type { Classes, Density, Spread } from "../../api/readings";
import { heightAt } from "../../plot/Curve";
import { jitter } from "../../plot/jitter";
import { last, nth } from "../../values";
import { counted, decimalsFor, fixed, significant, whole } from "../../words/numbers";
import { interval, unitOf } from "./caption";
import type { Lanes } from "./stackLayout";
import { boxFigures } from "./stackLayout";

/** Something drawn that can be asked: where it stands, what it says, and the rows behind it. */
export type Mark = {
  key: string;
  x: number;
  y: number;
  words: string[];
  /** Row numbers where they are known here, else what to ask the server for. */
  rows?: number[];
  asked?: Omit<RowsAsked, "variable">;
};

export type Points = { rows: Float64Array; values: Float64Array; xs: Float64Array; ys: Float64Array; order: number[] };

/** The points' places, and their order along the axis. */
export function placePoints(spread: Spread, lanes: Lanes): Points {
  const { rows, values } = spread;
  const xs = Float64Array.from(values, (value) => lanes.x(value));
  // A row that counts several times stands there several times, one after the other.
  const seed = (row: number, i: number) => {
    let times = 0;
    while (times < i && rows[i - times - 1] === row) times++;
    return times === 0 ? row : row * 1_021 + times;
  };
  const ys = Float64Array.from(rows, (row, i) => lanes.pointsAt + jitter(seed(row, i)) * lanes.pointsHalf);
  const order = Array.from(values.keys()).sort((a, b) => nth(values, a) - nth(values, b));
  return { rows, values, xs, ys, order };
}

type Seen = { spread: Spread; classes: Classes | undefined; density: Density | undefined; lanes: Lanes; top: number };

const writer = ({ subject, summary }: Spread) => {
  const decimals = subject.decimals ?? decimalsFor(null, summary.sd);
  return (value: number) => `${fixed(value, decimals)}${unitOf(subject.unit)}`;
};

export function classMark(seen: Seen, i: number): Mark {
  const { classes, spread, lanes, top } = seen;
  const found = classes as Classes;
  const [low, high] = [nth(found.boundaries, i), nth(found.boundaries, i + 1)];
  const last = i === found.counts.length - 1;
  const bothEnds = found.closed === "left" ? last : i === 0;
  const count = found.counts[i] ?? 0;
  return {
    key: `class-${i}`,
    x: lanes.x((low + high) / 2),
    y: top,
    words: [
      `${interval(found, i)}${unitOf(spread.subject.unit)}`,
      `${counted(count, "row")}, ${(found.percents[i] ?? 0).toFixed(1)} %`,
    ],
    asked: { low, high, closed: bothEnds ? "both" : found.closed },
  };
}

export function pointMark(seen: Seen, points: Points, i: number): Mark {
  const row = nth(points.rows, i);
  return {
    key: `row-${row}`,
    x: nth(points.xs, i),
    y: nth(points.ys, i),
    words: [`row ${whole(row)}`, writer(seen.spread)(nth(points.values, i))],
    rows: [row],
  };
}

/** The parts of the box from left to right, and the rows beyond its fences. */
export function boxMarks(seen: Seen): Mark[] {
  const { spread, lanes } = seen;
  const box = boxFigures(spread.box);
  if (!box) return [];
  const write = writer(spread);
  const definition = spread.summary.quantile_definition;
  const by = definition === "hinges" ? "hinge" : `definition ${definition}`;
  const part = (key: string, value: number, words: string[], asked?: Mark["asked"]): Mark => ({
    key,
    x: lanes.x(value),
    y: lanes.boxAt,
    words: [`${words[0]} ${write(value)}`, ...words.slice(1)],
    ...(asked ? { asked } : {}),
  });
  const at = (value: number) => ({ low: value, high: value, closed: "both" as const });
  const marks = [
    part("whisker-low", box.whiskerLow, ["lower whisker", spread.whiskers], at(box.whiskerLow)),
    part("q1", box.q1, ["Q1", by], { high: box.q1, closed: "both" }),
    part("median", box.median, ["median", by], at(box.median)),
    part("q3", box.q3, ["Q3", by], { low: box.q3, closed: "both" }),
    part("whisker-high", box.whiskerHigh, ["upper whisker", spread.whiskers], at(box.whiskerHigh)),
  ];
  const values = new Map<number, number>();
  const beyond = new Set(spread.box.outlier_rows);
  for (let i = 0; i < spread.rows.length; i++) {
    const row = nth(spread.rows, i);
    if (beyond.has(row)) values.set(row, nth(spread.values, i));
  }
  const far = new Set(spread.box.far_rows);
  const rings = [...values].map(
    ([row, value]): Mark => ({
      key: `ring-${row}`,
      x: lanes.x(value),
      y: lanes.boxAt,
      words: [`row ${whole(row)}`, write(value), far.has(row) ? "beyond an outer fence" : "beyond a whisker"],
      rows: [row],
    }),
  );
  return [...marks, ...rings].sort((a, b) => a.x - b.x);
}

/** What is set aside, as it was, where the axis reaches so far. */
export function asideMarks({ spread, lanes }: Seen): Mark[] {
  const [from = 0, to = 0] = lanes.x.range();
  const write = writer(spread);
  return Array.from(spread.aside_rows, (row, i) => ({
    key: `aside-${row}`,
    x: lanes.x(nth(spread.aside_values, i)),
    y: lanes.pointsAt + jitter(row) * lanes.pointsHalf,
    words: [`row ${whole(row)}`, write(nth(spread.aside_values, i)), "set aside"],
    rows: [row],
  })).filter(({ x }) => x >= from && x <= to);
}

const REACH = 12;

function nearest(marks: Mark[], px: number): Mark | null {
  let best: Mark | null = null;
  for (const mark of marks)
    if (Math.abs(mark.x - px) <= REACH && (!best || Math.abs(mark.x - px) < Math.abs(best.x - px))) best = mark;
  return best;
}

function nearestPoint(points: Points, px: number, py: number): number | null {
  const { order, xs, ys } = points;
  let low = 0;
  let high = order.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (nth(xs, nth(order, middle)) < px - REACH) low = middle + 1;
    else high = middle;
  }
  let best: number | null = null;
  let distance = REACH;
  for (let place = low; place < order.length; place++) {
    const i = nth(order, place);
    const dx = nth(xs, i) - px;
    if (dx > REACH) break;
    const d = Math.hypot(dx, nth(ys, i) - py);
    if (d <= distance) [best, distance] = [i, d];
  }
  return best;
}

type Layers = { classes: boolean; density: boolean };

/** What lies under the pointer. */
export function markAt(seen: Seen, points: Points, box: Mark[], shown: Layers, px: number, py: number): Mark | null {
  const { lanes, classes, density, spread } = seen;
  if (py <= lanes.base + 4) {
    const value = lanes.x.invert(px);
    const height = shown.density && density ? heightAt(density.x, density.density, value) : null;
    const along = height === null ? [] : [`density ${significant(height)} at ${writer(spread)(value)}`];
    const i = shown.classes && classes ? classAt(classes, value) : null;
    if (i !== null) {
      const mark = classMark(seen, i);
      return { ...mark, y: Math.min(py, lanes.base - 8), words: [...mark.words, ...along] };
    }
    return along.length > 0 ? { key: "curve", x: px, y: py, words: along } : null;
  }
  if ((lanes.hasBox || lanes.hasViolin) && Math.abs(py - lanes.boxAt) < 28) {
    const part = nearest(box, px);
    if (part) return part;
    const figures = boxFigures(spread.box);
    if (!figures || px < lanes.x(figures.q1) || px > lanes.x(figures.q3)) return null;
    return {
      key: "box",
      x: px,
      y: lanes.boxAt,
      words: [`IQR ${writer(spread)(figures.q3 - figures.q1)}`, "the middle half of the rows"],
      asked: { low: figures.q1, high: figures.q3, closed: "both" },
    };
  }
  const aside = lanes.hasPoints
    ? asideMarks(seen).find(({ x, y }) => Math.hypot(x - px, y - py) < REACH / 2)
    : undefined;
  if (aside) return aside;
  const i = lanes.hasPoints ? nearestPoint(points, px, py) : null;
  return i === null ? null : pointMark(seen, points, i);
}

function classAt(classes: Classes, value: number): number | null {
  const edges = classes.boundaries;
  if (value < nth(edges, 0) || value > last(edges)) return null;
  const next = edges.findIndex((edge) => edge > value);
  return next < 0 ? edges.length - 2 : Math.max(next - 1, 0);
}
