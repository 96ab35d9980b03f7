/**
 * Places side by side for marks of one radius, none over another. Marks stand in columns two radii apart, so those of
 * neighbouring columns only touch; from the lowest value on, each goes to the free column nearest to the middle.
 *
 * along: where each mark lies along its values, in pixels. Returns how far each stands from the middle; null where
 * `room` is too narrow for them.
 */
export function spreadApart(along: ArrayLike<number>, radius: number, room: number): Float64Array | null {
  const order = Array.from({ length: along.length }, (_, i) => i).sort((a, b) => nth(along, a) - nth(along, b));
  const reach = Math.floor((room / 2 - radius) / (2 * radius));
  if (reach < 0) return along.length === 0 ? new Float64Array() : null;
  const last = new Float64Array(2 * reach + 1).fill(Number.NEGATIVE_INFINITY);
  const found = new Float64Array(along.length);
  for (const i of order) {
    const at = nth(along, i);
    let column = -1;
    for (let step = 0; step <= 2 * reach && column < 0; step++) {
      const tried = reach + (step % 2 === 1 ? 1 : -1) * Math.ceil(step / 2);
      if (at - nth(last, tried) >= 2 * radius) column = tried;
    }
    if (column < 0) return null;
    last[column] = at;
    found[i] = (column - reach) * 2 * radius;
  }
  return found;
}

const RADII = [2.4, 2.1, 1.8, 1.5, 1.25, 1, 0.8, 0.65];

/** The largest marks that all groups have room for, and their places; null where even small ones would overlap. */
export function largestApart(groups: { along: ArrayLike<number>; room: number }[]) {
  for (const radius of RADII) {
    const places: Float64Array[] = [];
    for (const { along, room } of groups) {
      const found = spreadApart(along, radius, room);
      if (!found) break;
      places.push(found);
    }
    if (places.length === groups.length) return { radius, places };
  }
  return null;
}

import { nth } from "../../values";
