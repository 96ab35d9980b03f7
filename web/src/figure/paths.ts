import type { Layer } from "../api/plates";
import { nth } from "../values";
import type { PlateAxis } from "./axis";
import { round } from "./Words";

/** Where values stand along an axis. */
export const placed = (values: Float64Array, axis: PlateAxis) => {
  const result = new Float64Array(values.length);
  for (let i = 0; i < values.length; i++) result[i] = axis.place(nth(values, i));
  return result;
};

/** Where points stand, or beside it where they are set aside so that each is seen. */
export const asideOf = (values: Float64Array, aside: Float64Array, axis: PlateAxis) =>
  placed(aside.length === values.length ? values.map((value, i) => value + nth(aside, i)) : values, axis);

/** The radius of the point that counts most, in sizes of type; and of the largest where points tell a number, in radii
 *  of a point. */
const COUNTED = 0.95;
const SIZED = 2.1;

/** How much larger than a point that stands for one row is one that counts one. */
const ONE = 1.2;

/** The radius of a point whose area tells a share of the largest; few that are counted do not swell. */
export function radiusOf(
  role: Layer["role"],
  share: number,
  radius: number,
  size: number,
  most: number,
  room: number,
): number {
  const free = role === "counted" ? Math.min(COUNTED * size, ONE * radius * Math.sqrt(most)) : SIZED * radius;
  const largest = room > 0 ? Math.min(free, room / 2) : free;
  return Math.max(largest * Math.sqrt(Math.max(share, 0)), radius * 0.35);
}

/** A line over places, broken where one is missing or cannot stand on its axis. */
export function lineOf(xs: Float64Array, ys: Float64Array, close = false): string {
  let d = "";
  let down = false;
  for (let i = 0; i < xs.length; i++) {
    const [x, y] = [nth(xs, i), nth(ys, i)];
    if (!Number.isFinite(x) || !Number.isFinite(y)) {
      if (down && close) d += "Z";
      down = false;
      continue;
    }
    d += `${down ? "L" : "M"}${round(held(x))} ${round(held(y))}`;
    down = true;
  }
  return close && down ? `${d}Z` : d;
}

/** Far outside the sheet a line only needs its direction. */
const held = (at: number) => Math.min(Math.max(at, -20_000), 20_000);

/** How a mark of radius 1 about 0 is drawn elsewhere and larger: its path is read once. */
export function drawer(path: string): (x: number, y: number, r: number) => string {
  const steps = [...path.matchAll(/([MLHVAZ])([^MLHVAZ]*)/g)].map(([, command = "", rest = ""]) => ({
    command,
    n: (rest.match(/-?[\d.]+(?:e-?\d+)?/g) ?? []).map(Number),
  }));
  return (x, y, r) => {
    let d = "";
    for (const { command, n } of steps) {
      const [a = 0, b = 0, c = 0, large = 0, sweep = 0, e = 0, f = 0] = n;
      if (command === "Z") d += "Z";
      else if (command === "H") d += `H${round(x + r * a)}`;
      else if (command === "V") d += `V${round(y + r * a)}`;
      else if (command === "A")
        d += `A${round(r * a)} ${round(r * b)} ${c} ${large} ${sweep} ${round(x + r * e)} ${round(y + r * f)}`;
      else d += `${command}${round(x + r * a)} ${round(y + r * b)}`;
    }
    return d;
  };
}

/** A path of radius 1 about 0, elsewhere and larger. */
export const shifted = (path: string, x: number, y: number, r: number) => drawer(path)(x, y, r);

/** A rectangle with sides on the axes. */
export const rectPath = (x0: number, y0: number, x1: number, y1: number) =>
  `M${round(held(Math.min(x0, x1)))} ${round(held(Math.min(y0, y1)))}H${round(held(Math.max(x0, x1)))}V${round(held(Math.max(y0, y1)))}H${round(held(Math.min(x0, x1)))}Z`;

/** A hexagon that stands on a corner, within a box. */
export function hexagonPath(x0: number, y0: number, x1: number, y1: number): string {
  const [a, b, c] = [x0, (x0 + x1) / 2, x1].map((x) => round(held(x)));
  const [d, e, f, g] = [0, 0.25, 0.75, 1].map((share) => round(held(y0 + share * (y1 - y0))));
  return `M${b} ${d}L${c} ${e}V${f}L${b} ${g}L${a} ${f}V${e}Z`;
}

/** The box about an outline written with M, L, H, V and Z alone. */
export function boxOf(d: string): [number, number, number, number] {
  let [left, top, right, bottom] = [1e9, 1e9, -1e9, -1e9];
  for (const [, command, rest = ""] of d.matchAll(/([MLHV])([^MLHVZ]*)/g)) {
    const n = (rest.match(/-?\d+(?:\.\d+)?/g) ?? []).map(Number);
    const [x, y] = command === "H" ? [n[0], undefined] : command === "V" ? [undefined, n[0]] : [n[0], n[1]];
    if (x !== undefined) [left, right] = [Math.min(left, x), Math.max(right, x)];
    if (y !== undefined) [top, bottom] = [Math.min(top, y), Math.max(bottom, y)];
  }
  return [left, top, right, bottom];
}

/** The height of a curve at a value, between its points; null beyond its ends. */
export function heightAt(xs: ArrayLike<number>, heights: ArrayLike<number>, x: number): number | null {
  const n = xs.length;
  if (n === 0 || x < nth(xs, 0) || x > nth(xs, n - 1)) return null;
  let [low, high] = [0, n - 1];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (nth(xs, middle) <= x) low = middle;
    else high = middle;
  }
  const [a, b] = [nth(xs, low), nth(xs, high)];
  const share = b > a ? (x - a) / (b - a) : 0;
  return nth(heights, low) + share * (nth(heights, high) - nth(heights, low));
}
