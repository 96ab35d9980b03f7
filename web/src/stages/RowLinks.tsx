import { Fragment } from "react";
import type { Table } from "../api/studies";
import { useSelection } from "../state/selection";
import { whole } from "../words/numbers";

const NAMED = 4;

/** Rows by name, each a link that selects it; many of them as one link that selects them all. */
export function RowLinks({ table, rows: given }: { table: Table; rows: Float64Array }) {
  const rows = Array.from(given);
  const select = useSelection((state) => state.select);
  const link = (words: string, chosen: readonly number[]) => (
    <button
      type="button"
      className="text-primary underline decoration-primary/40 underline-offset-3 hover:decoration-primary"
      onClick={() => select(table.id, chosen, words)}
    >
      {words}
    </button>
  );
  if (rows.length === 0) return null;
  if (rows.length > NAMED) return link("show them", rows);
  return rows.map((row, i) => (
    <Fragment key={row}>
      {i > 0 && (i === rows.length - 1 ? " and " : ", ")}
      {link(`row ${whole(row)}`, [row])}
    </Fragment>
  ));
}
