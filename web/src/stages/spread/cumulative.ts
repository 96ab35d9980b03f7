import type { Scene } from "../../api/plates";
import { nth } from "../../values";

/** A line that only rises: shares from 0 to 1 that lie below each x. top: what stands for all rows on the picture;
 *  atLeast: it falls there, over the shares at or above. */
export type Rising = { xs: number[]; shares: number[]; steps: boolean; top: number; atLeast: boolean };

/** The lines of a picture, the polygon first. */
export function linesOf({ layers, facts, up }: Scene, atLeast: boolean): Rising[] {
  const top = up.unit === "%" ? 100 : Number(facts.n[0]?.[1] ?? 1);
  const below = (y: number) => (atLeast ? 1 - y / top : y / top);
  return layers
    .filter(({ role }) => role === "polygon" || role === "steps")
    .map(({ x, y, role }) => {
      // Steps go up at each value: from the share before to that with it.
      const steps = role === "steps";
      const kept = Array.from(x.keys()).filter((i) => !steps || i % 2 === 1);
      return { xs: kept.map((i) => nth(x, i)), shares: kept.map((i) => below(nth(y, i))), steps, top, atLeast };
    });
}

/** The share that is shown at x. */
export const shareAt = (line: Rising, x: number): number =>
  line.atLeast ? 1 - shareBelow(line, x) : shareBelow(line, x);

/** The value that cuts off a share as it is shown. */
export const valueAt = (line: Rising, share: number): number => valueBelow(line, line.atLeast ? 1 - share : share);

/** The share that lies below x; of a polygon, as if values were spread evenly within their class. */
function shareBelow({ xs, shares, steps }: Rising, x: number): number {
  const next = xs.findIndex((edge) => (steps ? edge >= x : edge > x));
  if (next < 0) return shares.at(-1) ?? 1;
  if (next === 0 && steps) return 0;
  if (next === 0) return x < (xs[0] ?? 0) ? 0 : (shares[0] ?? 0);
  const [from, to] = [nth(xs, next - 1), nth(xs, next)];
  const [low, high] = [nth(shares, next - 1), nth(shares, next)];
  return steps ? low : low + ((high - low) * (x - from)) / (to - from);
}

/** The value below which a share lies; of steps, the smallest at or below which so much lies. */
function valueBelow({ xs, shares, steps }: Rising, share: number): number {
  const next = shares.findIndex((reached) => reached >= share - 1e-12);
  if (next < 0) return xs.at(-1) ?? 0;
  if (next === 0 || steps) return nth(xs, next);
  const [low, high] = [nth(shares, next - 1), nth(shares, next)];
  const [from, to] = [nth(xs, next - 1), nth(xs, next)];
  return from + (high > low ? ((to - from) * (share - low)) / (high - low) : 0);
}
