import { type Table, useRows } from "../api/studies";
import { useSelectedRows, useSelection } from "../state/selection";
import { Button } from "../ui/Button";
import { counted, whole } from "../words/numbers";

const SHOWN = 100;

/** The selected rows, whole, in a strip from below. */
export function RowStrip({ table }: { table: Table }) {
  const selected = useSelectedRows(table.id);
  const words = useSelection((state) => state.words);
  const clear = useSelection((state) => state.clear);
  const numbers = [...selected].sort((a, b) => a - b).slice(0, SHOWN);
  const { data: rows } = useRows(table, numbers);
  if (selected.size === 0) return null;
  const given = words && words !== `row ${whole(numbers[0] ?? 0)}` ? `: ${words}` : "";
  return (
    <section
      aria-label="Selected rows"
      className="rising col-span-2 flex max-h-[148px] min-h-0 flex-col border-line-strong/50 border-t bg-raised"
    >
      <header className="flex items-center gap-3 px-4 py-1.5">
        <h2 className="text-lead">
          {counted(selected.size, "row")} selected{given}
        </h2>
        {selected.size > SHOWN && <span className="text-muted-ink text-small">the first {SHOWN} are listed</span>}
        <Button look="link" className="ml-auto" onClick={clear}>
          clear (Esc)
        </Button>
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
              .map(({ row, cells }) => (
                <tr key={row}>
                  <th className="px-4 py-1 font-semibold text-accent">{whole(row)}</th>
                  {cells.map((cell, i) => (
                    <td key={table.variables[i]?.symbol} className="whitespace-nowrap px-3 py-1">
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
