import { type ReactNode, useEffect, useRef } from "react";
import type { MadePreview } from "../../../api/making";
import type { Table } from "../../../api/studies";
import { SmallShape } from "../../../plot/SmallShape";
import { Card } from "../../../ui/Card";
import { SCROLLS } from "../../../ui/scrolls";
import { KIND_WORDS } from "../../../words/kinds";
import { counted, whole } from "../../../words/numbers";
import { RowLinks } from "../../RowLinks";

type MadeRowsProps = { table?: Table; shown: MadePreview; aside: ReactNode };

const isNumber = (kind: string) => kind === "continuous" || kind === "count";

/** The first rows of a table that is not made yet, and what is to be known of it. */
export function MadeRows({ table, shown, aside }: MadeRowsProps) {
  const box = useRef<HTMLDivElement>(null);
  const isNew = (symbol: string) =>
    table !== undefined && !table.variables.some((variable) => variable.symbol === symbol);
  const fresh = shown.columns.filter(({ symbol }) => isNew(symbol)).map(({ symbol }) => symbol);
  const [firstFresh, lastFresh] = [fresh[0], fresh.at(-1)];
  // What is new stands in sight.
  useEffect(() => {
    for (const symbol of [firstFresh, lastFresh]) {
      if (symbol)
        box.current?.querySelector(`[data-of="${symbol}"]`)?.scrollIntoView({ block: "nearest", inline: "end" });
    }
  }, [firstFresh, lastFresh]);
  const more = shown.cells.length < shown.n_rows;
  return (
    <Card
      title={`${counted(shown.n_rows, "row")}, ${counted(shown.columns.length, "variable")}`}
      aside={aside}
      footer={
        (more || shown.notes.length > 0 || table) && (
          <>
            {more && <span>The first {shown.cells.length} are shown.</span>}
            {shown.notes.map((note) => (
              <span key={note} className="text-caution">
                {note}
              </span>
            ))}
            {table && shown.rows.length > 0 && (
              <span>
                In {table.name}: <RowLinks table={table} rows={Float64Array.from(shown.rows)} />
              </span>
            )}
            {table && <span>It follows its source: what is decided there is seen here.</span>}
          </>
        )
      }
    >
      <div ref={box} className="min-h-0 flex-1 overflow-auto" {...SCROLLS}>
        <table className="figures w-max min-w-full border-separate border-spacing-0">
          <thead className="sticky top-0 z-10 bg-raised text-left align-top">
            <tr>
              <th className="border-line-strong border-b px-3 py-1.5 text-right font-normal text-muted-ink text-small">
                row
              </th>
              {shown.columns.map((column) => (
                <th
                  key={column.symbol}
                  data-of={column.symbol}
                  className={`border-line-strong border-b px-2.5 py-1.5 font-normal ${isNumber(column.kind) ? "text-right" : ""}`}
                >
                  <span className={`flex items-center gap-2 ${isNumber(column.kind) ? "justify-end" : ""}`}>
                    {column.shape.length > 0 && (!table || isNew(column.symbol)) && (
                      <SmallShape heights={column.shape} bars={column.kind !== "continuous"} />
                    )}
                    <span className={`font-semibold ${isNew(column.symbol) ? "text-accent" : ""}`}>{column.label}</span>
                  </span>
                  <span className="block text-muted-ink text-small">
                    {KIND_WORDS[column.kind]}
                    {column.unit && ` · ${column.unit}`}
                    {column.n_missing > 0 && <span className="text-caution"> · {whole(column.n_missing)} missing</span>}
                  </span>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {shown.cells.map((cells, row) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: a row of the result is its place
              <tr key={row} className="hover:bg-surface">
                <th className="border-line border-b px-3 py-1 text-right font-normal text-muted-ink text-small">
                  {whole(row + 1)}
                </th>
                {cells.map((cell, c) => {
                  const column = shown.columns[c];
                  return (
                    <td
                      key={column?.symbol}
                      className={`max-w-64 truncate border-line border-b px-2.5 py-1 ${column && isNumber(column.kind) ? "text-right" : ""}`}
                    >
                      {cell === "" ? <em className="text-caution">blank</em> : cell.replace(/^-(?=\d)/, "\u2212")}
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </Card>
  );
}
