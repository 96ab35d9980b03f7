import { type FormEvent, useState } from "react";
import { useCorrect } from "../../../api/ledger";
import type { Table } from "../../../api/studies";
import { useCorrections, useCorrectionsOf } from "../../../state/corrections";
import { Button } from "../../../ui/Button";
import { counted } from "../../../words/numbers";

const REASONS = ["entry mistake", "read again from the sheet", "confirmed with the observer"];

/** The cells that were changed and are not recorded yet, with the reason that they need. */
export function CorrectionsBar({ table }: { table: Table }) {
  const cells = useCorrectionsOf(table.id);
  const clear = useCorrections((state) => state.clear);
  const correct = useCorrect(table);
  const [reason, setReason] = useState("");
  if (cells.size === 0) return null;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    correct.mutate(
      { cells: [...cells.values()], reason },
      {
        onSuccess: () => {
          clear();
          setReason("");
        },
      },
    );
  };
  const remedy = correct.error && "remedy" in correct.error ? String(correct.error.remedy) : "";
  return (
    <form
      onSubmit={submit}
      aria-label="Corrections"
      className="mt-2 flex flex-wrap items-center gap-2 rounded-card border border-accent/50 bg-accent-tint px-3.5 py-2"
    >
      <span className="font-serif text-lead">{counted(cells.size, "cell")} changed, not recorded yet</span>
      <input
        aria-label="Reason for the corrections"
        required
        list="reasons-to-correct"
        placeholder="Why? A word or two"
        value={reason}
        onChange={(event) => setReason(event.target.value)}
        className="min-h-7 w-64 rounded-lg border border-line-strong/60 bg-surface px-2"
      />
      <datalist id="reasons-to-correct">
        {REASONS.map((words) => (
          <option key={words} value={words} />
        ))}
      </datalist>
      {correct.error && (
        <span role="alert" className="text-caution">
          {correct.error.message} {remedy}
        </span>
      )}
      <span className="ml-auto flex gap-2">
        <Button look="link" onClick={clear}>
          leave them as they were
        </Button>
        <Button type="submit" look="primary" disabled={correct.isPending}>
          {cells.size === 1 ? "Record the correction" : "Record the corrections"}
        </Button>
      </span>
    </form>
  );
}
