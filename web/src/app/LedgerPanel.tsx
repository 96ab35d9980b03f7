import { type Entry, useLedger, useRedo, useUndo } from "../api/ledger";
import type { Table } from "../api/studies";
import { RowLinks } from "../stages/RowLinks";
import { useLedgerPanel } from "../state/ledgerPanel";
import { Button } from "../ui/Button";
import { Notice } from "../ui/Notice";
import { counted } from "../words/numbers";

const TIME = new Intl.DateTimeFormat("en-GB", { dateStyle: "medium", timeStyle: "short" });

/** The ordered record of decisions, sliding over the right side. */
export function LedgerPanel({ table }: { table: Table }) {
  const { open, setOpen } = useLedgerPanel();
  const { data: ledger } = useLedger(open ? table : undefined);
  const undo = useUndo(table);
  const redo = useRedo(table);
  if (!open) return null;
  const error = undo.error ?? redo.error;
  const remedy = error && "remedy" in error ? String(error.remedy) : "";
  return (
    <aside
      aria-label="Ledger"
      className="rising fixed top-[52px] right-0 bottom-0 z-30 flex w-[360px] flex-col border-line-strong/50 border-l bg-surface shadow-float"
    >
      <header className="flex items-center gap-2 border-line border-b px-4 py-2">
        <h2 className="mr-auto text-lead">Ledger of {table.name}</h2>
        {ledger?.can_undo && <Button onClick={() => undo.mutate()}>Take back</Button>}
        {ledger?.can_redo && <Button onClick={() => redo.mutate()}>Make again</Button>}
        <Button look="link" onClick={() => setOpen(false)}>
          close
        </Button>
      </header>
      {error && <Notice problem={error.message} remedy={remedy} className="m-3" />}
      <ol className="min-h-0 flex-1 overflow-y-auto">
        {[...(ledger?.entries ?? [])].reverse().map((entry) => (
          <EntryLine key={entry.number} table={table} entry={entry} />
        ))}
        {ledger?.entries.length === 0 && (
          <li className="px-4 py-6 font-serif text-lead text-muted-ink">
            No decision yet. Select rows in a plot, then set them aside with a reason: it stands here, and can be taken
            back.
          </li>
        )}
      </ol>
    </aside>
  );
}

const FIELDS: Record<string, string> = {
  label: "label",
  unit: "unit",
  lower: "not below",
  upper: "not above",
  note: "note",
};

function descriptionWords({ changes }: Entry): string {
  return Object.entries(changes)
    .map(([name, value]) => `${FIELDS[name] ?? name} ${value === null || value === "" ? "none" : value}`)
    .join(", ");
}

function EntryLine({ table, entry }: { table: Table; entry: Entry }) {
  const isDecision = entry.kind !== "undo" && entry.kind !== "redo";
  const label = table.variables.find(({ symbol }) => symbol === entry.variable)?.label;
  return (
    <li className={`border-line border-b px-4 py-2.5 ${isDecision && !entry.stands ? "text-muted-ink" : ""}`}>
      <p className={isDecision && !entry.stands ? "line-through" : ""}>
        <span className="figures mr-2 text-muted-ink">{entry.number}</span>
        {entry.kind === "describe" ? (
          `Described ${label ?? entry.variable}: ${descriptionWords(entry)}`
        ) : isDecision ? (
          <>
            {entry.kind === "set-aside" ? "Set aside " : "Put back "}
            {label ? `the ${label} of ` : ""}
            {entry.n_rows > 4 ? `${counted(entry.n_rows, "row")}: ` : ""}
            <RowLinks table={table} rows={Float64Array.from(entry.rows)} />
          </>
        ) : (
          `${entry.kind === "undo" ? "Took back" : "Made again"} entry ${entry.of}`
        )}
      </p>
      {entry.reason && <p className="font-serif text-lead">{entry.reason}</p>}
      <p className="text-muted-ink text-small">
        {entry.author}, {TIME.format(new Date(entry.made))}
        {isDecision && !entry.stands && " · taken back"}
      </p>
    </li>
  );
}
