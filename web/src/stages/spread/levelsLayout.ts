import type { GroupSpread, Split } from "../../api/readings";
import { aired, airedLog, linear, logarithmic, type Scale } from "../../plot/scales";
import { nth } from "../../values";
import type { Form, Layer, Scaling } from "./useSpreadChoices";

export const EDGE = {
  along: { left: 132, right: 20, top: 14, bottom: 46 },
  upright: { left: 64, right: 20, top: 18, bottom: 62 },
};
const LEAST_LANE = { along: 34, upright: 44 };
/** How far a ridge may rise over the one before it, in lanes. */
const RIDGE_RISE = 2.2;

export const needed = (groups: number, form: Form, upright: boolean) => {
  const edge = upright ? EDGE.upright : EDGE.along;
  const around = upright ? edge.left + edge.right : edge.top + edge.bottom;
  if (form === "overlay" || form === "facing") return around + 200;
  return around + groups * (form === "ridges" ? 22 : upright ? LEAST_LANE.upright : LEAST_LANE.along);
};

export type LevelsRoom = { width: number; height: number };

export type LevelsPlan = ReturnType<typeof planOf>;

type Asked = {
  split: Split;
  layers: Layer[];
  form: Form;
  upright: boolean;
  freeAxes: boolean;
  scaling: Scaling;
  room: LevelsRoom;
};

/**
 * Where everything stands. Values run along `value(i)`, in pixels; the other way is "across". Heights grow from
 * `foot(i)` by `grow`: upwards where values run from left to right, to the right where they run upwards.
 */
export function planOf({ split, layers, form, upright, freeAxes, scaling, room }: Asked) {
  const { groups } = split;
  const one = form === "overlay" || form === "facing";
  const edge = upright ? EDGE.upright : one ? { ...EDGE.along, left: EDGE.along.right } : EDGE.along;
  const [from, to] = upright ? [room.height - edge.bottom, edge.top] : [edge.left, room.width - edge.right];
  const start = upright ? edge.left : edge.top;
  const across = upright ? room.width - edge.left - edge.right : room.height - edge.top - edge.bottom;
  const showBox = layers.includes("box") && form !== "ridges";
  const showViolin = layers.includes("violin") && !one && form !== "ridges";
  const showClasses = layers.includes("classes") && form !== "ridges" && !showViolin;
  const showCurve = form === "ridges" || (layers.includes("density") && !showViolin);
  const bodies = showViolin || showClasses || showCurve || layers.includes("rug");
  const boxes = showBox || !bodies;
  const lane = one
    ? across
    : form === "ridges"
      ? across / (groups.length + RIDGE_RISE - 1)
      : across / Math.max(groups.length, 1);
  const box = boxes ? Math.min(Math.max((one ? 60 : lane) * (bodies ? 0.2 : 0.5), 8), showViolin ? 12 : 24) : 0;
  const ownAxis = freeAxes && !one && !upright ? 24 : 0;
  const under = one
    ? form === "overlay"
      ? boxes
        ? groups.length * (box + 7) + 6
        : 0
      : 0
    : (boxes ? box + 8 : 4) + ownAxis;
  const grow = upright ? 1 : -1;
  const startOf = (i: number) =>
    one ? start : start + i * lane + (form === "ridges" && !upright ? (RIDGE_RISE - 1) * lane : 0);
  const edgeOf = (i: number) => (upright ? startOf(i) : startOf(i) + lane);
  const middle = (i: number) => startOf(i) + (lane - ownAxis) / 2;
  const foot = (i: number) => (form === "facing" ? start + across / 2 : edgeOf(i) + grow * under);
  const boxAt = (i: number) => {
    if (showViolin) return middle(i);
    if (form === "facing") return start + across / 2 + (i === 0 ? 1 : -1) * grow * (across / 2 - box / 2 - 3);
    if (form === "overlay") return edgeOf(0) + grow * (under - 6 - (i + 0.5) * (box + 7));
    return bodies ? edgeOf(i) + grow * (ownAxis + box / 2 + 5) : middle(i);
  };
  const tops = groups.map((group) => topOf(group, split, showClasses, showCurve || showViolin, scaling));
  const tallest = Math.max(...tops, Number.MIN_VALUE);
  const bodyRoom =
    form === "ridges"
      ? lane * RIDGE_RISE - 4
      : form === "facing"
        ? across / 2 - (boxes ? box + 10 : 6)
        : showViolin
          ? (lane - ownAxis) / 2 - 4
          : Math.max(lane - under - 10, 6);
  const scaleOf = (i: number) => (bodyRoom / tallest) * factorOf(nth(groups, i), split, scaling);
  const whole = domainOf(groups, split.axis, showClasses ? split.boundaries : undefined);
  const make = split.axis === "log" ? logarithmic : linear;
  const shared = make(whole, from, to);
  const own = freeAxes && !one ? groups.map((group) => make(domainOf([group], split.axis), from, to)) : null;
  const value = (i: number): Scale => own?.[i] ?? shared;
  const most = Math.max(...groups.map(({ n }) => n), 1);
  const boxHeight = (i: number) =>
    layers.includes("widths") ? Math.max(box * Math.sqrt((groups[i]?.n ?? 0) / most), 3) : box;
  return {
    ...{
      from: Math.min(from, to),
      to: Math.max(from, to),
      shared,
      value,
      foot,
      boxAt,
      boxHeight,
      grow,
      lane,
      startOf,
      middle,
      scaleOf,
      edge,
      one,
      across,
      start,
    },
    free: own !== null,
    show: { boxes, violin: showViolin, classes: showClasses, curve: showCurve, rug: layers.includes("rug") },
    /** Which level is drawn downwards. */
    down: (i: number) => form === "facing" && i === 1,
  };
}

/** From the smallest to the largest value, and over all classes where they are drawn. */
function domainOf(groups: readonly GroupSpread[], axis: Split["axis"], edges?: Float64Array) {
  const lows = groups.map(({ summary }) => summary.minimum ?? Number.POSITIVE_INFINITY);
  const highs = groups.map(({ summary }) => summary.maximum ?? Number.NEGATIVE_INFINITY);
  const low = Math.min(...lows, edges?.[0] ?? Number.POSITIVE_INFINITY);
  const high = Math.max(...highs, edges?.at(-1) ?? Number.NEGATIVE_INFINITY);
  const [from, to] = low <= high ? [low, high] : axis === "log" ? [1, 10] : [0, 1];
  return axis === "log" ? airedLog(from, to, 0.04) : aired(from, to, 0.04);
}

function peak(heights: Float64Array): number {
  let top = 0;
  for (const height of heights) if (height > top) top = height;
  return top;
}

/** The density of each class of a level, area 1. */
export function classHeights(group: GroupSpread, { boundaries, class_width: width, axis }: Split): number[] {
  const inside = Array.from(group.counts).reduce((sum, count) => sum + count, 0);
  return Array.from(group.counts, (count, i) => {
    const [a, b] = [nth(boundaries, i), nth(boundaries, i + 1)];
    const span = width ?? (axis === "log" ? Math.log10(b / a) : b - a);
    return inside > 0 ? count / inside / span : 0;
  });
}

/** What a level's densities are multiplied by: for equal areas nothing, for equal heights to 1, by count to n. */
function factorOf(group: GroupSpread, split: Split, scaling: Scaling): number {
  if (scaling === "count") return group.n;
  if (scaling === "height") return 1 / Math.max(peak(group.heights), ...classHeights(group, split), Number.MIN_VALUE);
  return 1;
}

function topOf(group: GroupSpread, split: Split, classes: boolean, curve: boolean, scaling: Scaling): number {
  const top = Math.max(classes ? Math.max(...classHeights(group, split), 0) : 0, curve ? peak(group.heights) : 0);
  return top * factorOf(group, split, scaling);
}
