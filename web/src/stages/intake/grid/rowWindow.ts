export const ROW = 26;
export const HEAD = 62;
/** A browser lays out no element taller than about 33 million pixels; ours stays well below. */
const TALLEST = 12_000_000;

export type RowWindow = { first: number; last: number; top: number };

/** How tall the scrolled element is: true to its rows, or scaled where they would be too tall. */
export function heightFor(n: number): number {
  return Math.min(n * ROW, TALLEST);
}

/** Rows to draw at a scroll place, and where the first of them stands. Scaled, the ends still meet the ends. */
export function windowAt(n: number, scrolled: number, room: number): RowWindow {
  const height = heightFor(n);
  const shown = Math.ceil(room / ROW) + 1;
  if (height === n * ROW) {
    const first = Math.min(Math.floor(scrolled / ROW), Math.max(n - 1, 0));
    return { first, last: Math.min(first + shown, n), top: first * ROW };
  }
  const share = Math.min(Math.max(scrolled / Math.max(height - room, 1), 0), 1);
  const exact = share * (n - room / ROW);
  const first = Math.max(Math.floor(exact), 0);
  return { first, last: Math.min(first + shown, n), top: scrolled - (exact - first) * ROW };
}

/** The scroll place that brings a row into view, changed as little as needed. */
export function scrollFor(n: number, place: number, scrolled: number, room: number): number {
  const height = heightFor(n);
  if (height === n * ROW) {
    if (place * ROW < scrolled) return place * ROW;
    return (place + 1) * ROW > scrolled + room ? (place + 1) * ROW - room : scrolled;
  }
  const perRow = (height - room) / (n - room / ROW);
  const first = scrolled / perRow;
  const rows = room / ROW;
  if (place < first) return place * perRow;
  return place + 1 > first + rows ? (place + 1 - rows) * perRow : scrolled;
}
