import type { ReactNode } from "react";
import type { Table } from "../../api/studies";
import { useSelectedRows, useSelection } from "../../state/selection";
import { Card } from "../../ui/Card";
import { TakeTable } from "../../ui/TakeTable";
import { whole } from "../../words/numbers";

type Deed = { deed: string; entry: number; note: string };
/** What a cell says, as text for a file, and as it is drawn where that is more. */
export type RowCell = { text: string; drawn?: ReactNode; beyond?: boolean };

type NamedRowsProps<Row extends Deed & { row: number }> = {
  table: Table;
  title: string;
  /** What the file of these rows is called. */
  file: string;
  /** Between the row and what was decided. */
  head: string[];
  rows: Row[];
  cells: (row: Row) => RowCell[];
  footer?: ReactNode;
  /** A way to keep it as a table. */
  keep?: ReactNode;
};

const CELL = "whitespace-nowrap border-line border-b px-2.5 py-1 text-right";

/** Rows with what was found of them and what was decided; each can be taken in hand. */
export function NamedRows<Row extends Deed & { row: number }>(props: NamedRowsProps<Row>) {
  const { table, title, file, rows, cells, footer } = props;
  const select = useSelection((state) => state.select);
  const selected = useSelectedRows(table.id);
  const head = ["row", ...props.head, "decided"];
  const body = () =>
    rows.map((row) => [String(row.row), ...cells(row).map(({ text }) => text), row.deed || "undecided"]);
  return (
    <Card
      help="rules"
      title={title}
      label="Rows flagged"
      className="min-h-[150px]"
      aside={
        <span className="flex gap-2">
          {props.keep}
          <TakeTable name={file} table={() => ({ head, body: body() })} />
        </span>
      }
      footer={footer}
    >
      <div className="relative min-h-0 overflow-auto">
        <table className="figures w-full">
          <thead className="sticky top-0 z-10 bg-raised text-muted-ink text-small">
            <tr>
              {head.map((name, i) => (
                <th key={name} className={`${CELL} font-normal ${i === 0 ? "text-left!" : ""}`}>
                  {name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr
                key={`${row.row} ${row.deed}`}
                aria-selected={selected.has(row.row)}
                className="cursor-pointer hover:bg-surface aria-selected:bg-accent-tint"
                onClick={(event) =>
                  select(table.id, [row.row], `row ${whole(row.row)}`, event.shiftKey || event.ctrlKey || event.metaKey)
                }
              >
                <th className={`${CELL} text-left! font-semibold`}>
                  <button type="button" className="min-h-6 text-primary hover:underline">
                    row {whole(row.row)}
                  </button>
                </th>
                {cells(row).map(({ text, drawn, beyond }, i) => (
                  <td key={head[i + 1]} className={`${CELL} ${beyond ? "font-semibold text-danger" : ""}`}>
                    {drawn ?? text}
                    {beyond && !drawn && <span className="sr-only"> beyond</span>}
                  </td>
                ))}
                <td className={CELL}>
                  <DeedWords {...row} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </Card>
  );
}

/** A deed with its entry in the Ledger, or that nothing was decided. */
function DeedWords({ deed, entry, note }: Deed) {
  if (!deed) return <span className="text-caution">undecided</span>;
  return (
    <span title={note}>
      {deed}
      <span className="text-muted-ink text-small"> entry {entry}</span>
    </span>
  );
}
