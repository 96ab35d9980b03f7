import { useDecide } from "../api/ledger";
import { type Table, useRows } from "../api/studies";
import { useSelectedRows, useSelection } from "../state/selection";
import { Button } from "../ui/Button";
import { counted, whole } from "../words/numbers";
import { SetAside } from "./SetAside";

const SHOWN = 100;

/** The selected rows, whole, in a strip from below. */
export function RowStrip({ table, variable }: { table: Table; variable: string | null }) {
  const selected = useSelectedRows(table.id);
  const words = useSelection((state) => state.words);
  const clear = useSelection((state) => state.clear);
  const numbers = [...selected].sort((a, b) => a - b).slice(0, SHOWN);
  const { data: rows } = useRows(table, numbers);
  const putBack = useDecide(table);
  if (selected.size === 0) return null;
  const aside = rows?.filter((row) => row.aside && selected.has(row.row)).map((row) => row.row) ?? [];
  const alone =
    rows
      ?.filter((row) => variable !== null && row.aside_values.includes(variable) && selected.has(row.row))
      .map((row) => row.row) ?? [];
  const given = words && words !== `row ${whole(numbers[0] ?? 0)}` ? `: ${words}` : "";
  return (
    <section
      aria-label="Selected rows"
      className="rising col-span-full flex max-h-[148px] min-h-0 flex-col border-line-strong/50 border-t bg-raised"
    >
      <header className="flex items-center gap-3 px-4 py-1.5">
        <h2 className="text-lead">
          {counted(selected.size, "row")} selected{given}
        </h2>
        {selected.size > SHOWN && <span className="text-muted-ink text-small">the first {SHOWN} are listed</span>}
        <span className="ml-auto flex items-center gap-2">
          {putBack.error && <span className="text-caution">{putBack.error.message}</span>}
          <Button look="link" onClick={clear}>
            clear (Esc)
          </Button>
          {alone.length > 0 && variable && (
            <Button onClick={() => putBack.mutate({ kind: "put-back", rows: alone, variable, reason: "" })}>
              Put back {counted(alone.length, "value")}
            </Button>
          )}
          {aside.length > 0 && (
            <Button onClick={() => putBack.mutate({ kind: "put-back", rows: aside, variable: "", reason: "" })}>
              Put back {counted(aside.length, "row")}
            </Button>
          )}
          <SetAside table={table} rows={[...selected]} variable={variable} onDone={clear} />
        </span>
      </header>
      <div className="min-h-0 overflow-auto">
        <table className="figures w-full border-separate border-spacing-0 text-left">
          <thead className="sticky top-0 bg-raised text-muted-ink text-small">
            <tr>
              <th className="border-line border-b px-4 py-1 font-normal">row</th>
              {table.variables.map((variable) => (
                <th key={variable.symbol} className="whitespace-nowrap border-line border-b px-3 py-1 font-normal">
                  {variable.label}
                  {variable.unit && ` (${variable.unit})`}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows
              ?.filter(({ row }) => selected.has(row))
              .map(({ row, cells, aside, aside_values: alone }) => (
                <tr key={row} data-aside={aside} className={aside ? "text-muted-ink line-through" : ""}>
                  <th className="px-4 py-1 font-semibold text-accent">{whole(row)}</th>
                  {cells.map((cell, i) => (
                    <td
                      key={table.variables[i]?.symbol}
                      className={`whitespace-nowrap px-3 py-1 ${alone.includes(table.variables[i]?.symbol ?? "") ? "text-muted-ink line-through" : ""}`}
                    >
                      {cell === "" ? <em className="text-caution">blank</em> : cell.replace(/^-(?=\d)/, "\u2212")}
                    </td>
                  ))}
                </tr>
              ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}
