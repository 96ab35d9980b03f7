import { useQuery } from "@tanstack/react-query";
import { type Figure, figureOf, type Picture } from "../api/figures";
import type { Table } from "../api/studies";

type Drawn = { data: Figure | undefined; isFetching: boolean; isPlaceholderData: boolean };

/** A picture that sharpens: of a long table that of a sample of its rows, until all of them have been looked at. */
export function useSketch(
  table: Table,
  pictures: Picture | readonly Picture[],
  drawn: Drawn,
): { figure: Figure | undefined; sketched: boolean } {
  const waiting = table.is_long && drawn.isFetching && (drawn.data === undefined || drawn.isPlaceholderData);
  const sketch = useQuery({ ...figureOf(table, pictures, "sketch", true), enabled: waiting });
  const sketched = waiting && sketch.data !== undefined;
  return { figure: sketched ? sketch.data : drawn.data, sketched };
}
