import type { Scene } from "../../api/plates";
import type { RowsWithin } from "../../api/queryKeys";
import type { Spread } from "../../api/readings";
import type { PlateAxis } from "../../figure/axis";
import type { PanelPlan } from "../../figure/layout";
import { heightAt } from "../../figure/paths";
import { last, nth } from "../../values";
import { counted, decimalsFor, fixed, significant, whole } from "../../words/numbers";
import { interval, unitOf } from "./classWords";

/** Something drawn that can be asked: where it stands, what it says, and the rows behind it. */
export type Mark = {
  key: string;
  x: number;
  y: number;
  words: string[];
  /** Row numbers where they are known here, else what to ask the server for. */
  rows?: number[];
  within?: Omit<RowsWithin, "variable">;
};

type Layer = Scene["layers"][number];
export type Points = {
  rows: Float64Array;
  values: Float64Array;
  along: Float64Array;
  off: Float64Array;
  order: number[];
};

/** What marks of a shape are read from: its picture, and the numbers that are said of it. */
export type Seen = {
  plan: PanelPlan;
  upright: boolean;
  spread: Spread;
};

/** The axis of the values, and that of the heights. */
export const axesOf = ({ plan, upright }: Seen): { value: PlateAxis; heights: PlateAxis } =>
  upright ? { value: plan.up, heights: plan.across } : { value: plan.across, heights: plan.up };

/** A place along the values and off them, on the paper; and the other way round. */
export const turned = <T>(upright: boolean, along: T, off: T): [T, T] => (upright ? [off, along] : [along, off]);

export const layerOf = (plan: PanelPlan, role: Layer["role"], form?: Layer["form"]): Layer | undefined =>
  plan.scene.layers.find((layer) => layer.role === role && (!form || layer.form === form));

/** Values and rows of a layer, whichever way they stand. */
const valuesOf = (layer: Layer, upright: boolean) => (upright ? layer.y : layer.x);
const offOf = (layer: Layer, upright: boolean) => (upright ? layer.x : layer.y);
const stripOf = (plan: PanelPlan, layer: Layer) => (layer.strip == null ? null : nth(plan.strips, layer.strip));

/** All points that stand for rows, and their order along the axis. */
export function pointsOf({ plan, upright }: Seen): Points {
  const layers = plan.scene.layers.filter(({ role }) => role === "points" || role === "limited");
  const value = upright ? plan.up : plan.across;
  const n = layers.reduce((sum, { x }) => sum + x.length, 0);
  const result = {
    rows: new Float64Array(n),
    values: new Float64Array(n),
    along: new Float64Array(n),
    off: new Float64Array(n),
  };
  let at = 0;
  for (const layer of layers) {
    const strip = stripOf(plan, layer);
    const [values, places] = [valuesOf(layer, upright), offOf(layer, upright)];
    for (let i = 0; i < values.length; i++, at++) {
      result.rows[at] = nth(layer.rows, i);
      result.values[at] = nth(values, i);
      result.along[at] = value.place(nth(values, i));
      result.off[at] = strip ? strip.place(nth(places, i)) : 0;
    }
  }
  const { values } = result;
  return { ...result, order: Array.from(values.keys()).sort((a, b) => nth(values, a) - nth(values, b)) };
}

const writer = ({ spread: { subject, summary } }: Seen) => {
  const decimals = subject.decimals ?? decimalsFor(null, summary.sd);
  return (value: number) => `${fixed(value, decimals)}${unitOf(subject.unit)}`;
};

/** Statistics with the decimals that they have in the list beside the picture. */
const statisticWriter = ({ spread: { subject, summary } }: Seen) => {
  const decimals = decimalsFor(subject.decimals, summary.sd);
  return (value: number) => `${fixed(value, decimals)}${unitOf(subject.unit)}`;
};

function placed(seen: Seen, along: number, off: number) {
  const [x, y] = turned(seen.upright, along, off);
  return { x, y };
}

/** Above the bodies, where what is said of them does not cover them. */
const over = ({ plan: { area }, upright }: Seen) => (upright ? area.x + area.width * 0.7 : area.y + 12);

/** The classes that are drawn: their ends, and how many rows each holds. */
export type Drawn = {
  boundaries: number[];
  counts: number[];
  /** Where each ends on the axis of the heights. */
  tops: number[];
  closed: "left" | "right";
  n: number;
};

export function classesOf({ plan, upright }: Seen): Drawn | null {
  const layer = layerOf(plan, "classes");
  const { source } = plan.panel;
  if (!layer?.x.length || source.kind !== "shape") return null;
  const [low, high, tops] = upright ? [layer.y, layer.high_y, layer.high_x] : [layer.x, layer.high_x, layer.high_y];
  return {
    boundaries: [...low, last(high)],
    counts: [...layer.value],
    tops: [...tops],
    closed: source.closed,
    n: Number(plan.scene.facts.n[0]?.[1] ?? 0),
  };
}

export function classMark(seen: Seen, classes: Drawn, i: number): Mark {
  const [low, high] = [nth(classes.boundaries, i), nth(classes.boundaries, i + 1)];
  const bothEnds = classes.closed === "left" ? i === classes.counts.length - 1 : i === 0;
  return {
    key: `class-${i}`,
    ...placed(seen, axesOf(seen).value.place(low + (high - low) / 2), over(seen)),
    words: [
      `${interval(classes, i)}${unitOf(seen.spread.subject.unit)}`,
      `${counted(nth(classes.counts, i), "row")}, ${fixed((100 * nth(classes.counts, i)) / Math.max(classes.n, 1), 1)} %`,
    ],
    within: { low, high, closed: bothEnds ? "both" : classes.closed },
  };
}

export function pointMark(seen: Seen, points: Points, i: number): Mark {
  const row = nth(points.rows, i);
  return {
    key: `row-${row}`,
    ...placed(seen, nth(points.along, i), nth(points.off, i)),
    words: [`row ${whole(row)}`, writer(seen)(nth(points.values, i))],
    rows: [row],
  };
}

/** The parts of the box from one end to the other, and the rows beyond its whiskers. */
export function boxMarks(seen: Seen): Mark[] {
  const { plan, upright, spread } = seen;
  const { value } = axesOf(seen);
  const box = layerOf(plan, "box");
  const strip = box && stripOf(plan, box);
  if (!box || !strip || box.x.length === 0) return [];
  const [write, ofRow] = [statisticWriter(seen), writer(seen)];
  const definition = spread.summary.quantile_definition;
  const by = definition === "hinges" ? "hinge" : `definition ${definition}`;
  const [low, q1, median, q3, high] = [box.low, box.q1, valuesOf(box, upright), box.q3, box.high].map((end) =>
    nth(end, 0),
  ) as [number, number, number, number, number];
  // Whiskers end at values of rows, unless they reach percent points.
  const atRows = !spread.whiskers.includes("percent");
  const part = (key: string, at: number, words: string[], within: Mark["within"]): Mark => ({
    key,
    ...placed(seen, value.place(at), strip.place(0)),
    words: [`${words[0]} ${(atRows && key.startsWith("whisker") ? ofRow : write)(at)}`, ...words.slice(1)],
    ...(within ? { within } : {}),
  });
  const just = (at: number) => ({ low: at, high: at, closed: "both" as const });
  const marks = [
    part("whisker-low", low, ["lower whisker", spread.whiskers], just(low)),
    part("q1", q1, ["Q1", by], { high: q1, closed: "both" }),
    part("median", median, ["median", by], just(median)),
    part("q3", q3, ["Q3", by], { low: q3, closed: "both" }),
    part("whisker-high", high, ["upper whisker", spread.whiskers], just(high)),
  ];
  const beyond = layerOf(plan, "beyond");
  const rings = beyond
    ? Array.from(
        beyond.rows,
        (row, i): Mark => ({
          key: `ring-${row}`,
          ...placed(seen, value.place(nth(valuesOf(beyond, upright), i)), strip.place(0)),
          words: [
            `row ${whole(row)}`,
            ofRow(nth(valuesOf(beyond, upright), i)),
            beyond.far[i] ? "beyond an outer fence" : "beyond a whisker",
          ],
          rows: [row],
        }),
      )
    : [];
  const along = ({ x, y }: Mark) => (upright ? -y : x);
  return [...marks, ...rings].sort((a, b) => along(a) - along(b));
}

/** What is set aside, as it was; at the end of the axis where that does not reach so far. */
export function asideMarks(seen: Seen, strip: PlateAxis | null): Mark[] {
  const { value } = axesOf(seen);
  const write = writer(seen);
  const { aside_rows: rows, aside_values: values } = seen.spread;
  if (!strip) return [];
  return Array.from(rows, (row, i) => {
    const at = nth(values, i);
    const beyond = at < value.low || at > value.high ? ["beyond the axis"] : [];
    return {
      key: `aside-${row}`,
      ...placed(seen, value.place(Math.min(Math.max(at, value.low), value.high)), strip.place(0)),
      words: [`row ${whole(row)}`, write(at), "set aside", ...beyond],
      rows: [row],
    };
  });
}

/** The strip in which points stand. */
export const pointStrip = ({ plan }: Seen): PlateAxis | null => {
  const layer = layerOf(plan, "points") ?? layerOf(plan, "limited");
  return layer ? stripOf(plan, layer) : null;
};

const REACH = 12;

/** Of a point on the paper, how far along the values and off them it lies. */
const laid = (upright: boolean, px: number, py: number): [number, number] => turned(upright, px, py);

function nearestPoint(points: Points, along: number, off: number, upright: boolean): number | null {
  const { order } = points;
  // Along an axis that goes up, places fall as values rise.
  const sign = upright ? -1 : 1;
  let low = 0;
  let high = order.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sign * nth(points.along, nth(order, middle)) < sign * along - REACH) low = middle + 1;
    else high = middle;
  }
  let best: number | null = null;
  let distance = REACH;
  for (let place = low; place < order.length; place++) {
    const i = nth(order, place);
    const away = sign * (nth(points.along, i) - along);
    if (away > REACH) break;
    const d = Math.hypot(away, nth(points.off, i) - off);
    if (d <= distance) [best, distance] = [i, d];
  }
  return best;
}

const within = (at: number, { from, to }: PlateAxis) => at >= Math.min(from, to) && at <= Math.max(from, to);

/** What lies under the pointer. */
export function markAt(seen: Seen, points: Points, box: Mark[], aside: Mark[], px: number, py: number): Mark | null {
  const { plan, upright } = seen;
  const { value } = axesOf(seen);
  const [along, off] = laid(upright, px, py);
  const inStrip = plan.strips.findIndex((strip) => within(off, strip));
  if (inStrip < 0) return bodyAt(seen, along, off);
  const strip = nth(plan.strips, inStrip);
  const boxLayer = layerOf(plan, "box") ?? layerOf(plan, "violin");
  if (boxLayer && stripOf(plan, boxLayer) === strip) {
    let best: Mark | null = null;
    const away = (mark: Mark) => Math.abs(laid(upright, mark.x, mark.y)[0] - along);
    for (const mark of box) if (away(mark) <= REACH && (!best || away(mark) < away(best))) best = mark;
    if (best) return best;
    const [q1, q3] = [boxLayer.q1[0], boxLayer.q3[0]];
    const at = value.invert(along);
    if (q1 === undefined || q3 === undefined || at < q1 || at > q3) return null;
    return {
      key: "box",
      ...placed(seen, along, strip.place(0)),
      words: [`IQR ${statisticWriter(seen)(q3 - q1)}`, "the middle half of the rows"],
      within: { low: q1, high: q3, closed: "both" },
    };
  }
  const put = aside.find(({ x, y }) => Math.hypot(x - px, y - py) < REACH / 2);
  if (put) return put;
  const i = nearestPoint(points, along, off, upright);
  return i === null ? null : pointMark(seen, points, i);
}

function bodyAt(seen: Seen, along: number, off: number): Mark | null {
  const { plan, upright } = seen;
  const { value } = axesOf(seen);
  const at = value.invert(along);
  if (!within(along, value)) return null;
  const { source } = plan.panel;
  const curve = source.kind === "shape" && source.measure === "density" ? layerOf(plan, "density") : undefined;
  const height = curve ? heightAt(valuesOf(curve, upright), offOf(curve, upright), at) : null;
  const told = height === null ? [] : [`density ${significant(height)} at ${writer(seen)(at)}`];
  const classes = classesOf(seen);
  const i = classes ? classAt(classes, at) : null;
  if (classes && i !== null) {
    const mark = classMark(seen, classes, i);
    return { ...mark, ...placed(seen, along, off), words: [...mark.words, ...told] };
  }
  return told.length > 0 ? { key: "curve", ...placed(seen, along, off), words: told } : null;
}

function classAt(classes: Drawn, value: number): number | null {
  const edges = classes.boundaries;
  if (value < nth(edges, 0) || value > last(edges)) return null;
  const next = edges.findIndex((edge) => edge > value);
  return next < 0 ? edges.length - 2 : Math.max(next - 1, 0);
}

/** Where the bodies end at a value, on the paper. */
export function clearAt(seen: Seen, at: number): number {
  const { heights } = axesOf(seen);
  let top = 0;
  for (const layer of seen.plan.scene.layers) {
    if (layer.strip != null) continue;
    if (layer.role === "classes") {
      const [low, high] = seen.upright ? [layer.y, layer.high_y] : [layer.x, layer.high_x];
      const i = high.findIndex((edge, k) => at < edge && at >= nth(low, k));
      if (i >= 0) top = Math.max(top, nth(seen.upright ? layer.high_x : layer.high_y, i));
    } else if (layer.role === "density" || layer.role === "normal")
      top = Math.max(top, heightAt(valuesOf(layer, seen.upright), offOf(layer, seen.upright), at) ?? 0);
  }
  return heights.place(top);
}
