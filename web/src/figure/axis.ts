import { scaleUtc } from "d3-scale";
import type { AxisSettings, SceneAxis } from "../api/plates";
import { linear } from "../plot/scales";
import { nth } from "../values";
import { type NumberStyle, withMarks } from "../words/numbers";

/** An axis as it is drawn: the scene's own, with what was set over it. */
export type PlateAxis = {
  kind: SceneAxis["kind"];
  scale: "linear" | "log10" | "log2";
  low: number;
  high: number;
  gap: [number, number] | null;
  place: (value: number) => number;
  invert: (at: number) => number;
  from: number;
  to: number;
  /** name: what would stand there in the usual style, by which other words for it are kept. */
  ticks: { value: number; name: string; text: string }[];
  minor: number[];
  /** Where the gap of a broken axis stands. */
  gapAt: [number, number] | null;
};

const GAP = 7;
const MINUS = "−";
const THIN = "\u202f";
const DAY = 86_400_000;

/** The ends of an axis, as they were set or as they follow from the data. */
export function endsOf(axis: SceneAxis, own: AxisSettings): [number, number] {
  const scale = scaleOf(axis, own);
  const set: [number, number] = [own.low ?? axis.low, own.high ?? axis.high];
  if (scale === "linear") return set[0] < set[1] ? set : [axis.low, axis.high];
  const low = set[0] > 0 ? set[0] : axis.above_zero > 0 ? axis.above_zero / 1.1 : 1;
  if (low < set[1]) return [low, set[1]];
  // Near the largest number there is room below alone.
  return low * 10 <= Number.MAX_VALUE ? [low, low * 10] : [low / 10, low];
}

export const scaleOf = (axis: SceneAxis, own: AxisSettings): PlateAxis["scale"] =>
  axis.kind === "number" ? ((own.scale as PlateAxis["scale"] | null) ?? axis.scale) : "linear";

/** An axis from one place on the sheet to another, in points; style: how its numbers are written. */
export function axisOf(scene: SceneAxis, own: AxisSettings, from: number, to: number, style: NumberStyle): PlateAxis {
  const scale = scaleOf(scene, own);
  const [low, high] = endsOf(scene, own);
  const log = scale !== "linear";
  const forth = log ? Math.log10 : (value: number) => value;
  const back = log ? (value: number) => 10 ** value : (value: number) => value;
  const [start, end] = [forth(low), forth(high)];
  const gap: [number, number] | null =
    own.gap_from != null && own.gap_to != null && own.gap_from < own.gap_to && low < own.gap_from && own.gap_to < high
      ? [own.gap_from, own.gap_to]
      : null;
  const sign = to >= from ? 1 : -1;
  const inner = linear([start, end], from, to);
  let place = (value: number) => inner(forth(value));
  let invert = (at: number) => back(inner.invert(at));
  let gapAt: PlateAxis["gapAt"] = null;
  if (gap) {
    const [first, second] = [forth(gap[0]), forth(gap[1])];
    const room = Math.abs(to - from) - GAP;
    const shown = first - start + (end - second);
    const below = (room * (first - start)) / shown;
    gapAt = [from + sign * below, from + sign * (below + GAP)];
    place = (value) => {
      const at = forth(value);
      if (at <= first) return from + (sign * (room * (at - start))) / shown;
      if (at >= second) return from + sign * (below + GAP + (room * (at - second)) / shown);
      return from + sign * (below + (GAP * (at - first)) / (second - first));
    };
    invert = (at) => {
      const off = sign * (at - from);
      if (off <= below) return back(start + (off / room) * shown);
      if (off >= below + GAP) return back(second + ((off - below - GAP) / room) * shown);
      return back(first + ((off - below) / GAP) * (second - first));
    };
  }
  const result = { kind: scene.kind, scale, low, high, gap, place, invert, from, to, gapAt };
  const { ticks, minor } = ticksOf(scene, own, result, style);
  return { ...result, minor, ticks: ticks.map((tick) => ({ ...tick, text: own.names?.[tick.name] ?? tick.text })) };
}

/** Round values from one end to the other, however large or small these are. */
const roundSteps = (low: number, high: number, about: number) => linear([low, high], 0, 1).ticks(about);

type Bare = Omit<PlateAxis, "ticks" | "minor">;

const inside = (axis: Bare, value: number) =>
  Number.isFinite(value) &&
  value >= axis.low - 1e-9 * Math.abs(axis.low) &&
  value <= axis.high + 1e-9 * Math.abs(axis.high) &&
  (!axis.gap || value <= axis.gap[0] || value >= axis.gap[1]);

function ticksOf(
  scene: SceneAxis,
  own: AxisSettings,
  axis: Bare,
  style: NumberStyle,
): Pick<PlateAxis, "ticks" | "minor"> {
  if (axis.kind === "bare") return { ticks: [], minor: [] };
  if (axis.kind === "levels") {
    const values = scene.levels.map((_, i) => i).filter((i) => i >= axis.low && i <= axis.high);
    return { ticks: values.map((value) => named(value, scene.levels[value] ?? "")), minor: [] };
  }
  const room = Math.abs(axis.to - axis.from);
  if (axis.kind === "time") return { ticks: timeTicks(axis, room), minor: [] };
  const values = valuesOf(own, axis, room);
  const [usual, write] = [writer(values, own, axis, "space-point"), writer(values, own, axis, style)];
  const ticks = values.map((value) => {
    const shown = scene.mirrored ? Math.abs(value) : value;
    return { value, name: usual(shown), text: write(shown) };
  });
  return { ticks, minor: minorOf(values, own.minor, axis) };
}

/** About as many ticks as are read at one look, however much room there is. */
const MOST_STEPS = 8;

function valuesOf(own: AxisSettings, axis: Bare, room: number): number[] {
  if (own.at) return own.at.filter((value) => inside(axis, value)).sort((a, b) => a - b);
  const vertical = axis.from > axis.to;
  const about = Math.min(Math.max(2, Math.round(room / (vertical ? 32 : 44))), MOST_STEPS);
  if (axis.scale !== "linear") return logValues(axis, about).filter((value) => inside(axis, value));
  if (own.every) {
    const first = Math.ceil(axis.low / own.every - 1e-9);
    const n = Math.floor(axis.high / own.every + 1e-9) - first;
    if (n >= 0 && n < 200)
      return Array.from({ length: n + 1 }, (_, i) =>
        Number(((first + i) * (own.every as number)).toPrecision(12)),
      ).filter((value) => inside(axis, value));
  }
  const result = axis.gap
    ? [...roundSteps(axis.low, axis.gap[0], about), ...roundSteps(axis.gap[1], axis.high, about)]
    : roundSteps(axis.low, axis.high, about);
  return result.filter((value) => inside(axis, value));
}

function logValues(axis: Bare, about: number): number[] {
  const base = axis.scale === "log2" ? 2 : 10;
  const [low, high] = [Math.log(axis.low) / Math.log(base), Math.log(axis.high) / Math.log(base)];
  if (base === 10 && high - low < 0.9) return roundSteps(axis.low, axis.high, about);
  const powers: number[] = [];
  const step = Math.max(1, Math.ceil((high - low) / (about * 1.6)));
  for (let power = Math.ceil(low - 1e-9); power <= high + 1e-9; power++)
    if (power % step === 0) powers.push(Number((base ** power).toPrecision(12)));
  if (base === 2 || powers.length >= Math.min(3, about)) return powers;
  const steps = high - low < 2.2 ? [1, 2, 5] : [1, 3];
  const result: number[] = [];
  for (let power = Math.floor(low); power <= high; power++) for (const s of steps) result.push(Number(`${s}e${power}`));
  return result;
}

function minorOf(values: number[], n: number, axis: Bare): number[] {
  if (n === 0 || values.length < 2) return [];
  const result: number[] = [];
  if (axis.scale === "log10") {
    for (let power = Math.floor(Math.log10(axis.low)); power <= Math.log10(axis.high); power++)
      for (let step = 2; step < 10; step++) result.push(Number(`${step}e${power}`));
  } else {
    const step = (nth(values, 1) - nth(values, 0)) / (n + 1);
    if (!(step > 0)) return [];
    const all = [nth(values, 0) - step * (n + 1), ...values];
    for (const value of all) for (let i = 1; i <= n; i++) result.push(value + step * i);
  }
  return result.filter((value) => inside(axis, value) && !values.includes(value));
}

const DATES: [number, Intl.DateTimeFormatOptions][] = [
  [2, { hour: "2-digit", minute: "2-digit" }],
  [300, { day: "numeric", month: "short" }],
  [1500, { month: "short", year: "numeric" }],
  [Number.POSITIVE_INFINITY, { year: "numeric" }],
];

function timeTicks(axis: Bare, room: number): PlateAxis["ticks"] {
  const times = scaleUtc([new Date(axis.low * DAY), new Date(axis.high * DAY)], [0, 1]);
  const format = DATES.find(([upTo]) => axis.high - axis.low <= upTo)?.[1];
  const write = new Intl.DateTimeFormat("en-GB", { ...format, timeZone: "UTC" });
  const wanted = times.ticks(Math.max(2, Math.round(room / 60)));
  return wanted.map((time) => named(time.getTime() / DAY, write.format(time)));
}

const named = (value: number, text: string) => ({ value, name: text, text });

/** How ticks are written: with the decimals that their steps need, true minus, powers of ten as powers. */
function writer(values: number[], own: AxisSettings, axis: Bare, style: NumberStyle): (value: number) => string {
  const scaled = own.format === "percent" ? values.map((value) => value * 100) : values;
  const largest = Math.max(...scaled.map(Math.abs), 0);
  const step =
    scaled.length > 1 ? Math.min(...scaled.slice(1).map((value, i) => Math.abs(value - nth(scaled, i)))) : largest;
  const log = axis.scale !== "linear";
  const powers = own.format === "scientific" || largest >= 1e7 || (largest > 0 && largest < 1e-4);
  const needed =
    step > 0 && Number.isFinite(step) ? Math.min(Math.max(0, -Math.floor(Math.log10(step) + 1e-9)), 12) : 0;
  const crooked = scaled.some((value) => {
    const at = value * 10 ** needed;
    return Math.abs(at - Math.round(at)) > 1e-6 * Math.max(1, Math.abs(at));
  });
  const decimals = own.decimals ?? needed + (crooked ? 1 : 0);
  return (value) => {
    const given = own.format === "percent" ? value * 100 : value;
    const sign = given < 0 ? MINUS : "";
    const size = Math.abs(given);
    if (given === 0) return own.format === "percent" ? `0${THIN}%` : "0";
    if (powers || (log && (size >= 1e5 || size < 1e-3))) {
      const [mantissa = "1", power = "0"] = size.toExponential(own.decimals ?? 6).split("e");
      const short = own.decimals === null || own.decimals === undefined ? String(Number(mantissa)) : mantissa;
      const raised = `10^{${Number(power)}}`;
      return `${sign}${short === "1" ? "" : `${withMarks(short, style)} × `}${raised}`;
    }
    const text = log && own.decimals == null ? String(Number(size.toPrecision(6))) : size.toFixed(decimals);
    const spaced = withMarks(text, style, own.format === "thousands");
    return `${sign}${spaced}${own.format === "percent" ? `${THIN}%` : ""}`;
  };
}
