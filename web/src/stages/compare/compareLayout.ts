import type { Drawing, DrawnGroup } from "../../api/compare";
import { aired, airedLog, type Domain, linear, logarithmic, type Scale } from "../../plot/scales";
import type { Size } from "../../ui/useSize";
import { last, nth, ordered } from "../../values";
import { counted } from "../../words/numbers";
import type { CompareChoices } from "./useCompareChoices";

/** Room of one group across the values. foot: where its half density stands, off the middle; grow: to which side. */
export type Lane = {
  at: number;
  width: number;
  foot: number;
  grow: 1 | -1;
  rise: number;
  /** Where its points and box stand, off the middle, and how much room they have. */
  body: { off: number; room: number };
};
export type Level = { place: number; label: string; at: number; width: number; n: string };
export type ComparePlan = {
  upright: boolean;
  edge: { left: number; right: number; top: number; bottom: number };
  value: Scale;
  /** A value's place, held at the end of an axis that was cut. */
  held: (value: number) => number;
  inside: (value: number) => boolean;
  /** By the place of the group in the reading; null where it is hidden. */
  lanes: (Lane | null)[];
  /** Groups that are drawn, in the order in which they stand. */
  drawn: number[];
  levels: Level[];
  /** Where a number of the levels stands, where they stand at their numbers. */
  number: ((number: number) => number) | null;
  /** A place on the paper: off the middle of a lane, at so many pixels along the values. */
  spot: (lane: number, off: number, along: number) => [number, number];
};

export const RIDGE_RISE = 1.9;
const WIDEST = { upright: 150, along: 110 };

/** The drawn levels in their order. */
export function orderOf(reading: Drawing, { order, hand, hidden }: CompareChoices): number[] {
  const places = [...new Set(reading.groups.map(({ place }) => place))].sort((a, b) => a - b);
  const own = (place: number) => reading.groups.filter((group) => group.place === place);
  const mean = (place: number) => {
    const centers = own(place).map(({ centred }) => centred.center ?? Number.NEGATIVE_INFINITY);
    return centers.reduce((sum, each) => sum + each, 0) / centers.length;
  };
  const n = (place: number) => own(place).reduce((sum, { centred }) => sum + centred.n, 0);
  if (order === "centre") places.sort((a, b) => mean(a) - mean(b));
  if (order === "n") places.sort((a, b) => n(b) - n(a));
  if (order === "hand") {
    const rank = new Map(hand.map((place, i) => [place, i]));
    places.sort((a, b) => (rank.get(a) ?? 1e6 + a) - (rank.get(b) ?? 1e6 + b));
  }
  const shown = places.filter((place) => !hidden.includes(place));
  return shown.length > 0 ? shown : places;
}

/** Everything that is drawn lies within the axis, unless its ends were set. */
function domainOf(reading: Drawing, drawn: number[], choices: CompareChoices, log: boolean): Domain {
  let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  const take = (value: number | null | undefined) => {
    if (value === null || value === undefined || !Number.isFinite(value) || (log && value <= 0)) return;
    low = Math.min(low, value);
    high = Math.max(high, value);
  };
  const shown = (mark: CompareChoices["marks"][number]) => choices.marks.includes(mark);
  const here = new Set(drawn);
  if (shown("points"))
    for (let i = 0; i < reading.values.length; i++) if (here.has(nth(reading.of_group, i))) take(reading.values[i]);
  for (const i of drawn) {
    const { centred, box } = nth(reading.groups, i);
    take(centred.center);
    if (choices.side !== "up") take(centred.low);
    if (choices.side !== "down") take(centred.high);
    if (shown("box") || shown("violin")) {
      take(centred.summary.minimum);
      take(centred.summary.maximum);
      take(box.q1);
    }
  }
  if (shown("from zero") && !log) take(0);
  for (const value of reading.pair_values) take(value);
  if (!Number.isFinite(low)) [low, high] = log ? [1, 10] : [0, 1];
  const [from, to] = log ? airedLog(low, high, 0.05) : aired(low, high, 0.05);
  // Bars that stand on zero stand on the axis.
  const bottom = shown("from zero") && low === 0 && !log ? 0 : from;
  const { floor, ceiling } = choices;
  const own: [number, number] = [
    floor !== null && (!log || floor > 0) ? floor : bottom,
    ceiling !== null && (!log || ceiling > 0) ? ceiling : to,
  ];
  return own[0] < own[1] ? own : [bottom, to];
}

/** Where each group stands: evenly apart, or at the number of its level; second groups side by side within it. */
export function planOf(reading: Drawing, choices: CompareChoices, size: Size, numbered: boolean): ComparePlan {
  const { upright, log } = choices;
  const order = orderOf(reading, choices);
  const drawn = order.flatMap((place) =>
    reading.groups.map((group, i) => (group.place === place ? i : -1)).filter((i) => i >= 0),
  );
  const labels = order.map((place) => reading.groups.find((group) => group.place === place)?.label ?? "");
  const top = reading.second || reading.lines.length > 1 ? 34 : 16;
  const longest = Math.max(...labels.map((label) => label.length), 4);
  const edge = upright
    ? { left: 66, right: 16, top, bottom: 62 }
    : { left: Math.min(46 + 6.4 * longest, 190), right: 22, top, bottom: 50 };
  const domain = domainOf(reading, drawn, choices, log);
  const [low, high] = domain;
  const ends = upright
    ? ([size.height - edge.bottom, edge.top] as const)
    : ([edge.left, size.width - edge.right] as const);
  const value = (log ? logarithmic : linear)(domain, ...ends);
  const [from, to] = upright ? [edge.left, size.width - edge.right] : [edge.top, size.height - edge.bottom];
  const kinds = [...new Set(reading.groups.map(({ second_place: place }) => place))].sort((a, b) => a - b);
  const widest = upright ? WIDEST.upright : WIDEST.along;
  const facing = choices.violin === "facing" && choices.marks.includes("violin");
  const paired = facing && !reading.second && order.length === 2;
  const numbers = order.map((place) => reading.groups.find((group) => group.place === place)?.number ?? place);
  let middle: (i: number) => number;
  let room: number;
  let number: ComparePlan["number"] = null;
  if (numbered && numbers.length > 1) {
    const sorted = [...numbers].sort((a, b) => a - b);
    const gap = Math.min(...sorted.slice(1).map((each, i) => each - nth(sorted, i)));
    const scale = linear([nth(sorted, 0) - gap * 0.6, last(sorted) + gap * 0.6], from, to);
    number = scale;
    room = Math.abs(scale(gap) - scale(0)) * 0.86;
    middle = (i) => scale(nth(numbers, i));
  } else {
    const step = (to - from) / Math.max(order.length, 1);
    room = step * 0.9;
    const width = Math.min(room, widest);
    middle = paired ? (i) => (from + to) / 2 + (i === 0 ? -1 : 1) * (width / 2) : (i) => from + step * (i + 0.5);
  }
  const width = Math.min(room / kinds.length, widest);
  const laneOf = (group: DrawnGroup, i: number): Lane => {
    const kind = kinds.indexOf(group.second_place);
    const at = middle(i) + (kind - (kinds.length - 1) / 2) * width;
    const lane: Lane = { at, width, foot: 0, grow: 1, rise: width * 0.46, body: { off: 0, room: width } };
    if (!choices.marks.includes("violin")) return lane;
    if (choices.violin === "half") return { ...lane, body: { off: -width * 0.25, room: width * 0.46 } };
    if (choices.violin === "ridges") return { ...lane, foot: -width * 0.45, rise: width * RIDGE_RISE };
    const second = paired ? i === 1 : kind === 1;
    if (facing && (paired || kinds.length === 2)) {
      // Off the middle is to the right where values stand upright, and up where they lie along.
      const grow = second === upright ? 1 : -1;
      return { ...lane, foot: (-grow * width) / 2, grow, rise: width * 0.94 };
    }
    return lane;
  };
  const lanes = reading.groups.map((group) => {
    const i = order.indexOf(group.place);
    return i < 0 ? null : laneOf(group, i);
  });
  const levels = order.map((place, i) => {
    const own = reading.groups.filter((group) => group.place === place);
    return {
      place,
      label: labels[i] ?? "",
      at: middle(i),
      width: room,
      n: own.map(({ centred }) => centred.n).join(", "),
    };
  });
  return {
    upright,
    edge,
    value,
    held: (at) => value(Math.min(Math.max(at, low), high)),
    inside: (at) => at >= low && at <= high,
    lanes,
    drawn,
    levels,
    number,
    spot: (lane, off, along) => (upright ? [lane + off, along] : [along, lane - off]),
  };
}

/** The part of a straight line that lies within the axis, on the paper; null where none does. */
export function within(plan: ComparePlan, a: [number, number], b: [number, number]): [number, number][] | null {
  const along = plan.upright ? (1 as const) : (0 as const);
  const [low, high] = ordered(...plan.value.range());
  const [from, to] = [a[along], b[along]];
  if (!Number.isFinite(from) || !Number.isFinite(to)) return null;
  const cut = (end: number) => (from === to ? 0 : (end - from) / (to - from));
  const [enters, leaves] = from <= to ? [cut(low), cut(high)] : [cut(high), cut(low)];
  if (from === to) return from < low || from > high ? null : [a, b];
  const [start, end] = [Math.max(enters, 0), Math.min(leaves, 1)];
  const at = (t: number): [number, number] => [a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])];
  return start < end ? [at(start), at(end)] : null;
}

/** What an axis whose ends were set leaves out, in words: points, and groups whose centre, bar, box or curve is cut. */
export function cutWords(reading: Drawing, choices: CompareChoices): string {
  if (choices.floor === null && choices.ceiling === null) return "";
  const plan = planOf(reading, choices, { width: 600, height: 400 }, false);
  const { points, bars, zero } = cutBy(reading, plan, choices);
  const names = bars.slice(0, 4).map((i) => {
    const { label, second } = nth(reading.groups, i);
    return second ? `${label}, ${second}` : label;
  });
  return [
    ...(points > 0 ? [counted(points, "point")] : []),
    ...(bars.length > 0
      ? [`marks of ${names.join("; ")}${bars.length > 4 ? ` and ${bars.length - 4} more` : ""}`]
      : []),
    ...(zero ? ["zero, from which bodies reach"] : []),
  ].join(" and ");
}

function cutBy(reading: Drawing, plan: ComparePlan, { marks, side }: CompareChoices) {
  let points = 0;
  if (marks.includes("points"))
    for (let i = 0; i < reading.values.length; i++)
      if (plan.lanes[nth(reading.of_group, i)] && !plan.inside(nth(reading.values, i))) points++;
  const bars = plan.drawn.filter((i) => {
    const { centred } = nth(reading.groups, i);
    const ends = [centred.center, side === "up" ? null : centred.low, side === "down" ? null : centred.high];
    const whole = marks.includes("box") || marks.includes("violin");
    if (whole) ends.push(centred.summary.minimum, centred.summary.maximum);
    return ends.some((end) => end !== null && !plan.inside(end));
  });
  const zero = marks.includes("from zero") && !plan.inside(0);
  return { points, bars, zero };
}
