import { useEffect, useRef } from "react";
import { Link } from "react-router";
import { type Entry, useDigest, useLedger, useRedo, useUndo } from "../api/ledger";
import type { Table } from "../api/studies";
import { RowLinks } from "../stages/RowLinks";
import { useLedgerPanel } from "../state/ledgerPanel";
import { useLookingBack } from "../state/lookingBack";
import { Button } from "../ui/Button";
import { Notice } from "../ui/Notice";
import { counted } from "../words/numbers";

const TIME = new Intl.DateTimeFormat("en-GB", { dateStyle: "medium", timeStyle: "short" });

/** The ordered record of decisions, sliding over the right side. */
export function LedgerPanel({ table, study }: { table: Table; study: string | undefined }) {
  const { open, setOpen } = useLedgerPanel();
  const { data: ledger, readEarlier } = useLedger(open ? table : undefined);
  const undo = useUndo(table);
  const redo = useRedo(table);
  const panel = useRef<HTMLElement>(null);
  useEffect(() => {
    if (!open) return;
    const before = document.activeElement;
    panel.current?.focus({ preventScroll: true });
    return () => {
      if (before instanceof HTMLElement && before.isConnected) before.focus({ preventScroll: true });
    };
  }, [open]);
  if (!open) return null;
  const error = undo.error ?? redo.error;
  const remedy = error && "remedy" in error ? String(error.remedy) : "";
  return (
    <aside
      ref={panel}
      tabIndex={-1}
      aria-label="Ledger"
      onKeyDown={(event) => {
        if (event.key === "Escape") setOpen(false);
      }}
      className="rising fixed top-[52px] right-0 bottom-0 z-30 flex w-[360px] max-w-full flex-col border-line-strong/50 border-l bg-surface shadow-float outline-none"
    >
      <header className="flex items-center gap-2 border-line border-b px-4 py-2">
        <h2 className="mr-auto text-lead">Ledger of {table.name}</h2>
        {ledger?.can_undo && <Button onClick={() => undo.mutate()}>Undo</Button>}
        {ledger?.can_redo && <Button onClick={() => redo.mutate()}>Redo</Button>}
        <Button look="link" onClick={() => setOpen(false)}>
          close
        </Button>
      </header>
      {error && <Notice problem={error.message} remedy={remedy} className="m-3" />}
      <ol className="min-h-0 flex-1 overflow-y-auto">
        {[...(ledger?.entries ?? [])].reverse().map((entry) => (
          <EntryLine key={entry.number} table={table} entry={entry} />
        ))}
        {readEarlier && (
          <li className="px-4 py-2.5">
            <Button look="link" onClick={() => readEarlier()}>
              earlier entries
            </Button>
          </li>
        )}
        {ledger && ledger.n_entries > 0 && !readEarlier && <Beginning table={table} />}
        {ledger?.n_entries === 0 && (
          <li className="px-4 py-6 font-serif text-lead text-muted-ink">
            No decision yet. Select rows in a plot, then set them aside with a reason: it stands here, and can be
            undone.
          </li>
        )}
      </ol>
      {ledger && (
        <footer className="flex items-baseline justify-between gap-3 border-line border-t px-4 py-2 text-muted-ink text-small">
          <Digest table={table} />
          {study && (
            <Link
              to={`/studies/${study}/record?as=routine`}
              className="text-primary underline decoration-primary/40 underline-offset-3"
            >
              run it again on another file
            </Link>
          )}
        </footer>
      )}
    </aside>
  );
}

function Digest({ table }: { table: Table }) {
  const { data } = useDigest(table);
  if (!data) return null;
  return (
    <span title={`${data.digest}: the same decisions on the same file have the same`}>
      digest <code>{data.digest.slice(0, 12)}</code>
    </span>
  );
}

/** What an entry decided, in words. */
function Deed({ table, entry }: { table: Table; entry: Entry }) {
  const labelOf = (symbol: string) => table.variables.find((variable) => variable.symbol === symbol)?.label ?? symbol;
  const rows = <RowLinks table={table} rows={Float64Array.from(entry.rows)} />;
  switch (entry.kind) {
    case "describe":
    case "derive":
      return entry.said;
    case "correct":
      return (
        <>
          Corrected {entry.n_rows > 4 ? `${counted(entry.n_rows, "row")}: ` : ""}
          {rows}: {cellsWords(entry, labelOf)}
        </>
      );
    case "reread":
      return `Read the file again. ${entry.report.join(" ")}`;
    case "line-up": {
      const [symbol = "", said] = Object.entries(entry.changes)[0] ?? [];
      const { picked, data, seen_before: seen } = (said ?? {}) as Record<string, unknown>;
      const result = picked === data ? "the data were picked" : `panel ${picked} was picked, the data stood in ${data}`;
      return `Line-up of ${labelOf(symbol)}: ${result}, by eyes that ${seen ? "had seen" : "had not seen"} the plot`;
    }
    case "follow":
      return entry.report.join(" ");
    case "undo":
    case "redo":
      return `${entry.kind === "undo" ? "Took back" : "Made again"} entry ${entry.of}`;
    default:
      return (
        <>
          {ROW_DEEDS[entry.kind]}
          {entry.variable ? `the ${labelOf(entry.variable)} of ` : ""}
          {entry.n_rows > 4 ? `${counted(entry.n_rows, "row")}: ` : ""}
          {rows}
        </>
      );
  }
}

const ROW_DEEDS: Partial<Record<Entry["kind"], string>> = {
  "set-aside": "Set aside ",
  "put-back": "Put back ",
  keep: "Looked at, and kept, ",
};

const CELLS_NAMED = 4;

function cellsWords({ changes }: Entry, labelOf: (symbol: string) => string): string {
  const cells = Object.entries(changes).flatMap(([symbol, own]) =>
    Object.values(own as Record<string, { old: string; new: string }>).map(
      (cell) => `${labelOf(symbol)} ${cell.old || "blank"} → ${cell.new || "blank"}`,
    ),
  );
  return cells.slice(0, CELLS_NAMED).join(", ") + (cells.length > CELLS_NAMED ? " …" : "");
}

function EntryLine({ table, entry }: { table: Table; entry: Entry }) {
  const { past, setPast } = useLookingBack();
  const taken = entry.kind !== "undo" && entry.kind !== "redo" && !entry.stands;
  const isNow = entry.revision === table.latest_revision;
  const isSeen = past?.table === table.id && past.at === entry.revision;
  return (
    <li
      className={`border-line border-b px-4 py-2.5 ${taken ? "text-muted-ink" : ""} ${isSeen ? "bg-accent-tint" : ""}`}
    >
      <p className={taken ? "line-through" : ""}>
        <span className="figures mr-2 text-muted-ink">{entry.number}</span>
        <Deed table={table} entry={entry} />
      </p>
      {entry.reason && <p className="font-serif text-lead">{entry.reason}</p>}
      <p className="flex gap-2 text-muted-ink text-small">
        {entry.author}, {TIME.format(new Date(entry.made))}
        {entry.brought_by && ` · brought in by ${entry.brought_by}`}
        {taken && " · undone"}
        {!isNow && (
          <button
            type="button"
            className="ml-auto text-primary hover:underline"
            onClick={() => setPast(isSeen ? null : { table: table.id, at: entry.revision, entry: entry.number })}
          >
            {isSeen ? "return to now" : "look back to here"}
          </button>
        )}
      </p>
    </li>
  );
}

/** The table as it came, before the first decision. */
function Beginning({ table }: { table: Table }) {
  const { past, setPast } = useLookingBack();
  const isSeen = past?.table === table.id && past.at === 1;
  return (
    <li className={`flex px-4 py-2.5 text-muted-ink ${isSeen ? "bg-accent-tint" : ""}`}>
      As it came: {table.source}
      <button
        type="button"
        className="ml-auto text-primary text-small hover:underline"
        onClick={() => setPast(isSeen ? null : { table: table.id, at: 1, entry: 0 })}
      >
        {isSeen ? "return to now" : "look back to here"}
      </button>
    </li>
  );
}
