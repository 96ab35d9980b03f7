import type { Pairs, Series } from "../../api/relate";
import { jitter } from "../../plot/jitter";
import { aired, airedLog, linear, logarithmic, type Scale } from "../../plot/scales";
import type { Size } from "../../ui/useSize";
import { eachOf, nth } from "../../values";
import { counted } from "../../words/numbers";
import type { RelateChoices } from "./useRelateChoices";

export type Plan = {
  x: Scale;
  y: Scale;
  edge: { left: number; right: number; top: number; bottom: number };
  /** Whether a point stands within the axes. */
  inside: (x: number, y: number) => boolean;
};
const MARGIN = 54;
/** The most that points are scattered, as a share of an axis. */
const WIDEST = 0.05;

/** Axes that hold all pairs, or the window that was zoomed to. */
export function planOf(reading: Pairs, choices: RelateChoices, size: Size): Plan {
  const margin = choices.margins === "none" ? 0 : MARGIN;
  const legend = reading.levels.length > 0 || reading.series.length > 1 ? 22 : 0;
  const edge = { left: 64, right: 18 + margin, top: 14 + margin + legend, bottom: 46 };
  const axis = (of: 0 | 1, from: number, to: number): Scale => {
    const [low, high] = of === 0 ? [reading.x_low, reading.x_high] : [reading.y_low, reading.y_high];
    const own = choices.window ? eachOf([0, 1], (end) => nth(choices.window ?? [], 2 * of + end)) : undefined;
    if (choices.logs[of]) {
      const least = leastAbove(reading.series, of);
      return logarithmic(
        own && own[0] > 0 ? own : airedLog(Math.max(least, low > 0 ? low : least), Math.max(high, least), 0.04),
        from,
        to,
      );
    }
    return linear(own ?? aired(low, high, 0.04), from, to);
  };
  const x = axis(0, edge.left, size.width - edge.right);
  const y = axis(1, size.height - edge.bottom, edge.top);
  const [x0, x1] = x.domain();
  const [y0, y1] = y.domain();
  return { x, y, edge, inside: (a, b) => a >= x0 && a <= x1 && b >= y0 && b <= y1 };
}

function leastAbove(series: Series[], of: 0 | 1): number {
  let least = Number.POSITIVE_INFINITY;
  for (const each of series)
    for (const value of of === 0 ? each.x : each.y) if (value > 0) least = Math.min(least, value);
  return Number.isFinite(least) ? least : 1;
}

export type Spots = { xs: Float64Array; ys: Float64Array; lost: number };

/** Where the points of a series lie, those that cannot stand on a log axis nowhere. */
export function spotsOf(series: Series, plan: Plan, { scatter: [jx, jy] }: RelateChoices): Spots {
  const { x, y, edge } = plan;
  const [left, right] = x.range();
  const [bottom, top] = y.range();
  const xs = new Float64Array(series.x.length).fill(Number.NaN);
  const ys = xs.slice();
  let lost = 0;
  for (let i = 0; i < xs.length; i++) {
    const [a, b] = [nth(series.x, i), nth(series.y, i)];
    if ((x.log && a <= 0) || (y.log && b <= 0)) lost++;
    else if (plan.inside(a, b)) {
      const row = nth(series.positions, i);
      const px = x(a) + (jx > 0 ? jitter(row) * jx * WIDEST * (right - left) : 0);
      const py = y(b) + (jy > 0 ? jitter(row + 7_919) * jy * WIDEST * (bottom - top) : 0);
      xs[i] = Math.min(Math.max(px, edge.left), right);
      ys[i] = Math.min(Math.max(py, top), bottom);
    }
  }
  return { xs, ys, lost };
}

/** A path over points of the data, broken where there is nothing to draw. */
export function pathOver(
  plan: Plan,
  xs: ArrayLike<number>,
  ys: ArrayLike<number>,
  breaks?: ReadonlySet<number>,
): string {
  const parts: string[] = [];
  let open = false;
  for (let i = 0; i < xs.length; i++) {
    const [a, b] = [nth(xs, i), nth(ys, i)];
    const stands = Number.isFinite(a) && Number.isFinite(b) && !(plan.x.log && a <= 0) && !(plan.y.log && b <= 0);
    if (!stands) {
      open = false;
      continue;
    }
    parts.push(`${open && !breaks?.has(i) ? "L" : "M"}${plan.x(a).toFixed(1)} ${plan.y(b).toFixed(1)}`);
    open = true;
  }
  return parts.join("");
}

/** A series joined in the order of x, or of its rows, broken where a row has no value. */
export function joinedPath(plan: Plan, series: Series, rowOrder: boolean): string {
  if (!rowOrder) return pathOver(plan, series.x, series.y, new Set(series.broken));
  const order = [...series.positions.keys()].sort((a, b) => nth(series.positions, a) - nth(series.positions, b));
  const row = (k: number) => nth(series.positions, nth(order, k));
  const breaks = new Set(series.thinned ? [] : [...order.keys()].filter((k) => k > 0 && row(k) - row(k - 1) > 1));
  return pathOver(
    plan,
    order.map((i) => nth(series.x, i)),
    order.map((i) => nth(series.y, i)),
    breaks,
  );
}

/** Whether a place lies inside an outline, by the even-odd rule. */
export function within(outline: [number, number][], x: number, y: number): boolean {
  let found = false;
  for (let i = 0, j = outline.length - 1; i < outline.length; j = i++) {
    const [ax, ay] = nth(outline, i);
    const [bx, by] = nth(outline, j);
    if (ay > y !== by > y && x < ax + ((y - ay) / (by - ay)) * (bx - ax)) found = !found;
  }
  return found;
}

/** Pairs that a logarithmic axis cannot show, in words. */
export function lostOnLog(reading: Pairs, { logs: [xlog, ylog] }: RelateChoices): string {
  if (!xlog && !ylog) return "";
  let lost = 0;
  for (const series of reading.series)
    for (let i = 0; i < series.x.length; i++)
      if ((xlog && nth(series.x, i) <= 0) || (ylog && nth(series.y, i) <= 0)) lost++;
  return lost > 0 ? `${counted(lost, "pair")} of 0 or below cannot stand on a logarithmic axis.` : "";
}
