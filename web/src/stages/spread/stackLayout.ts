import type { Box, Classes, Density, Spread } from "../../api/readings";
import type { Limit } from "../../plot/LimitLines";
import { aired, airedLog, type Domain, linear, logarithmic } from "../../plot/scales";
import type { Layer, Measure } from "./useSpreadChoices";

export const EDGE = { left: 58, right: 20, top: 34, bottom: 46 };
const BOX_LANE = 66;
const VIOLIN_LANE = 96;
const POINTS_LANE = 64;
const GAP = 8;

/** The specification limits and the target that were declared. */
export function limitsOf({ subject }: Spread): Limit[] {
  const limits: Limit[] = [];
  if (subject.spec_lower !== null) limits.push({ value: subject.spec_lower, words: "lower limit" });
  if (subject.target !== null) limits.push({ value: subject.target, words: "target", target: true });
  if (subject.spec_upper !== null) limits.push({ value: subject.spec_upper, words: "upper limit" });
  return limits;
}

/** Values from the smallest to the largest that the stack must show. */
export function domainOf(spread: Spread, classes: Classes | undefined): Domain {
  const { minimum, maximum } = spread.summary;
  const edges = classes?.boundaries ?? [];
  const shown = (value: number) => spread.axis === "straight" || value > 0;
  const aside = Array.from(spread.aside_values).filter(shown);
  const limits = limitsOf(spread)
    .map(({ value }) => value)
    .filter(shown);
  const low = Math.min(minimum ?? 0, edges[0] ?? Number.POSITIVE_INFINITY, ...aside, ...limits);
  const high = Math.max(maximum ?? 1, edges.at(-1) ?? Number.NEGATIVE_INFINITY, ...aside, ...limits);
  return spread.axis === "log" ? airedLog(low, high) : aired(low, high);
}

type Room = { width: number; height: number; layers: Layer[]; domain: Domain; axis: Spread["axis"] };

/** Where the lanes of the stack stand, one over the other on one axis. */
export function lanesOf({ width, height, layers, domain, axis }: Room) {
  const scale = axis === "log" ? logarithmic : linear;
  const foot = height - EDGE.bottom;
  const points = layers.includes("points") ? POINTS_LANE : 0;
  const violin = layers.includes("violin");
  const box = violin ? VIOLIN_LANE : layers.includes("box") ? BOX_LANE : 0;
  const base = foot - points - box - (points + box > 0 ? GAP : 0);
  return {
    x: scale(domain, EDGE.left, width - EDGE.right),
    foot,
    base,
    boxAt: foot - points - box / 2 + 4,
    boxHeight: violin ? 12 : 26,
    violinHalf: violin ? VIOLIN_LANE / 2 - 10 : 0,
    pointsAt: foot - points / 2 - 2,
    pointsHalf: POINTS_LANE / 2 - 8,
    hasBox: layers.includes("box"),
    hasViolin: violin,
    hasPoints: points > 0,
  };
}
export type Lanes = ReturnType<typeof lanesOf>;

/** What a density is multiplied by to stand on the axis of the measure; classes of unlike width allow only density. */
export function factorOf(measure: Measure, classes: Classes | undefined, n: number): number {
  if (measure === "density" || !classes?.width) return 1;
  return classes.width * (measure === "count" ? n : 100);
}

export function heightsOf(measure: Measure, classes: Classes): number[] {
  return { density: classes.densities, count: classes.counts, percent: classes.percents }[measure];
}

type Tops = { spread: Spread; classes?: Classes; density?: Density; layers: Layer[]; measure: Measure };

/** The tallest thing that will be drawn above the axis. */
export function tallest({ spread, classes, density, layers, measure }: Tops): number {
  const factor = factorOf(measure, classes, spread.summary.n);
  const tops = [0];
  if (layers.includes("classes") && classes) tops.push(...heightsOf(measure, classes));
  const most = (heights: Float64Array) => heights.reduce((top, height) => Math.max(top, height), 0);
  if (layers.includes("density") && density) tops.push(factor * most(density.density));
  if (layers.includes("normal") && spread.normal) tops.push(factor * most(spread.normal.density));
  const top = Math.max(...tops);
  return top > 0 && Number.isFinite(top) ? top : 1;
}

/** The box in numbers, where the variable has a value. */
export function boxFigures(box: Box) {
  if (box.q1 === null || box.median === null || box.q3 === null) return null;
  return {
    q1: box.q1,
    median: box.median,
    q3: box.q3,
    whiskerLow: box.whisker_low ?? box.q1,
    whiskerHigh: box.whisker_high ?? box.q3,
    fences: box.fences,
    notchLow: box.notch_low ?? box.median,
    notchHigh: box.notch_high ?? box.median,
  };
}
