/** A place between -1 and 1 for a row, always the same: rows keep where they lie from one look to the next. */
export function jitter(row: number): number {
  let h = Math.imul(row ^ 0x9e3779b9, 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return ((h ^ (h >>> 16)) >>> 0) / 2147483648 - 1;
}
