import type { Classes } from "../../api/readings";
import { nth } from "../../values";

/** A line that only rises: shares from 0 to 1 that lie below each x. */
export type Rising = { xs: number[]; shares: number[]; steps: boolean };

/** The polygon: from 0 at the first boundary to each upper boundary; rows outside count on their side. */
export function polygonOf(classes: Classes): Rising {
  const n = classes.n;
  const xs = Array.from(classes.boundaries);
  const shares = [classes.below / n, ...classes.cumulative_counts.map((count) => (classes.below + count) / n)];
  return { xs, shares, steps: false };
}

/** The empirical distribution: a step of 1/n at each value. */
export function empiricalOf(values: ArrayLike<number>): Rising {
  const sorted = Float64Array.from(values).sort();
  const xs: number[] = [];
  const shares: number[] = [];
  for (let i = 0; i < sorted.length; i++) {
    if (sorted[i] === sorted[i + 1]) continue;
    xs.push(nth(sorted, i));
    shares.push((i + 1) / sorted.length);
  }
  return { xs, shares, steps: true };
}

/** The share that lies below x (up to and with x, for steps). */
export function shareBelow({ xs, shares, steps }: Rising, x: number): number {
  const next = xs.findIndex((edge) => edge > x);
  if (next < 0) return shares.at(-1) ?? 1;
  if (next === 0) return steps ? 0 : x < (xs[0] ?? 0) ? 0 : (shares[0] ?? 0);
  const [from, to] = [nth(xs, next - 1), nth(xs, next)];
  const [low, high] = [nth(shares, next - 1), nth(shares, next)];
  return steps ? low : low + ((high - low) * (x - from)) / (to - from);
}

/** The value below which a share lies. */
export function valueAt({ xs, shares, steps }: Rising, share: number): number {
  const next = shares.findIndex((each) => each >= share - 1e-12);
  if (next < 0) return xs.at(-1) ?? 0;
  if (next === 0 || steps) return nth(xs, next);
  const [low, high] = [nth(shares, next - 1), nth(shares, next)];
  const [from, to] = [nth(xs, next - 1), nth(xs, next)];
  return from + (high > low ? ((to - from) * (share - low)) / (high - low) : 0);
}
