import type { Variable } from "../../../api/studies";
import type { Layout } from "../../../state/gridLayout";

const NARROWEST = 92;
const WIDEST = 190;
export const LEAST = 40;
export const MOST = 900;

/** A column where it is drawn: its place among the variables, and from where to where it goes. */
export type PlacedColumn = { variable: Variable; index: number; left: number; width: number };
export type Columns = {
  /** Those that stay in sight, in the order in which they were pinned. */
  pinned: PlacedColumn[];
  pinnedWidth: number;
  /** The others; `left` is counted from where the pinned ones end. */
  loose: PlacedColumn[];
  looseWidth: number;
};

/** Where each column stands: as wide as was asked for, else in fair shares of the room. */
export function placeColumns(variables: Variable[], { widths, pinned }: Layout, room: number): Columns {
  const fair = Math.min(Math.max(Math.floor(room / Math.max(variables.length, 1)), NARROWEST), WIDEST);
  const places = new Map(variables.map((variable, index) => [variable.symbol, { variable, index }]));
  const row = (symbols: string[]) => {
    let left = 0;
    const placed: PlacedColumn[] = [];
    for (const symbol of symbols) {
      const place = places.get(symbol);
      if (!place) continue;
      const width = widths[symbol] ?? fair;
      placed.push({ ...place, left, width });
      left += width;
    }
    return { placed, width: left };
  };
  const held = row(pinned);
  const others = row(variables.map(({ symbol }) => symbol).filter((symbol) => !pinned.includes(symbol)));
  return { pinned: held.placed, pinnedWidth: held.width, loose: others.placed, looseWidth: others.width };
}

/** The loose columns that show between two places, with one more at each end. */
export function inSight(loose: PlacedColumn[], from: number, to: number): PlacedColumn[] {
  const first = loose.findIndex(({ left, width }) => left + width > from);
  if (first < 0) return loose.slice(-1);
  const beyond = loose.findIndex(({ left }) => left > to);
  return loose.slice(Math.max(first - 1, 0), beyond < 0 ? loose.length : beyond + 1);
}
