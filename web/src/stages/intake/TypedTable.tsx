import { type ClipboardEvent, type KeyboardEvent, useRef, useState } from "react";
import { type Preview, type Study, usePaste } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { Notice } from "../../ui/Notice";
import { titled } from "../../words/kinds";

const START = { rows: 8, columns: 3 };
const MOST = { rows: 500, columns: 60 };

const empty = (rows: number, columns: number) => Array.from({ length: rows }, () => Array<string>(columns).fill(""));

/** A small table typed by hand, header first; it grows as it is filled, and a block can be pasted into it. */
export function TypedTable({ study, onPreview }: { study: Study; onPreview: (result: Preview) => void }) {
  const look = usePaste(study.id, "typed.txt");
  const [cells, setCells] = useState(() => empty(START.rows + 1, START.columns));
  const body = useRef<HTMLTableElement>(null);
  const columns = cells[0]?.length ?? 0;
  const lastFilled = cells.findLastIndex((row) => row.some((cell) => cell.trim()));
  const widest = Math.max(...cells.map((row) => row.findLastIndex((cell) => cell.trim()) + 1));
  const put = (top: number, left: number, block: string[][]) =>
    setCells((now) => {
      const rows = Math.min(Math.max(now.length, top + block.length + 1), MOST.rows);
      const wide = Math.min(Math.max(columns, left + Math.max(...block.map((row) => row.length)) + 1), MOST.columns);
      return Array.from({ length: rows }, (_, r) =>
        Array.from({ length: wide }, (_, c) => block[r - top]?.[c - left] ?? now[r]?.[c] ?? ""),
      );
    });
  const focus = (row: number, column: number) =>
    body.current?.querySelector<HTMLInputElement>(`[data-cell="${row} ${column}"]`)?.focus();
  const onKeyDown = (event: KeyboardEvent, row: number, column: number) => {
    const step = { Enter: 1, ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (step === undefined) return;
    event.preventDefault();
    focus(row + step, column);
  };
  const onPaste = (event: ClipboardEvent, row: number, column: number) => {
    const text = event.clipboardData.getData("text");
    if (!/[\t\n]/.test(text.trimEnd())) return;
    event.preventDefault();
    put(
      row,
      column,
      text
        .trimEnd()
        .split(/\r?\n/)
        .map((line) => line.split("\t")),
    );
  };
  const submit = () => {
    const text = cells
      .slice(0, lastFilled + 1)
      .map((row) => row.slice(0, widest).map(quoted).join("\t"))
      .join("\n");
    look.mutate(text, { onSuccess: onPreview });
  };
  return (
    <Card
      title="Type a table"
      className="stack-card"
      aside={
        <span className="text-muted-ink text-small">names above, a row for each observation; Enter goes down</span>
      }
      footer={
        <>
          <Button look="primary" disabled={look.isPending || lastFilled < 1} onClick={submit}>
            Preview
          </Button>
          <span>A unit can stand in brackets behind its name: mass (g). Nothing is stored yet.</span>
        </>
      }
    >
      {look.error && (
        <Notice
          className="m-3.5"
          problem={titled(look.error.message)}
          remedy={"remedy" in look.error ? String(look.error.remedy) : ""}
        />
      )}
      <div className="min-h-0 flex-1 overflow-auto p-3.5">
        <table ref={body} className="figures border-separate border-spacing-0">
          <tbody>
            {cells.map((row, r) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: a cell is its place
              <tr key={r}>
                <th className="pr-2 text-right font-normal text-muted-ink text-small">{r === 0 ? "" : r}</th>
                {row.map((cell, c) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: a cell is its place
                  <td key={c}>
                    <input
                      data-cell={`${r} ${c}`}
                      aria-label={r === 0 ? `Name of variable ${c + 1}` : `Row ${r}, ${row0(cells, c)}`}
                      placeholder={r === 0 && c === 0 ? "name (unit)" : ""}
                      value={cell}
                      onChange={(event) => put(r, c, [[event.target.value]])}
                      onKeyDown={(event) => onKeyDown(event, r, c)}
                      onPaste={(event) => onPaste(event, r, c)}
                      className={`-mr-px -mb-px block h-7 w-32 border border-line px-2 focus:relative focus:z-10 ${r === 0 ? "bg-aside font-semibold" : "bg-surface"}`}
                    />
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </Card>
  );
}

const row0 = (cells: string[][], column: number) => cells[0]?.[column] || `variable ${column + 1}`;
const quoted = (cell: string) => (/["\t\n]/.test(cell) ? `"${cell.replaceAll('"', '""')}"` : cell.trim());
