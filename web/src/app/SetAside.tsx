import { type FormEvent, useState } from "react";
import { useDecide } from "../api/ledger";
import type { Table } from "../api/studies";
import { ReasonChoice } from "../stages/ReasonChoice";
import { useLedgerPanel } from "../state/ledgerPanel";
import { Button } from "../ui/Button";
import { Floating } from "../ui/Floating";
import { Notice } from "../ui/Notice";
import { Tick } from "../ui/Tick";
import { counted } from "../words/numbers";

type SetAsideProps = { table: Table; rows: number[]; variable: string | null; onDone: () => void };

/** Take the selected rows, or one value of each, out of the calculations, with a reason. */
export function SetAside({ table, rows, variable, onDone }: SetAsideProps) {
  const { asking, setAsking } = useLedgerPanel();
  const decide = useDecide(table);
  const [reason, setReason] = useState("");
  const [onlyValue, setOnlyValue] = useState(false);
  const subject = table.variables.find(({ symbol }) => symbol === variable);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    decide.mutate(
      { kind: "set-aside", rows, variable: onlyValue && subject ? subject.symbol : "", reason },
      {
        onSuccess: () => {
          setAsking(false);
          setReason("");
          onDone();
        },
      },
    );
  };
  const remedy = decide.error && "remedy" in decide.error ? String(decide.error.remedy) : "";
  return (
    <Floating
      label="Set aside"
      side="top"
      align="end"
      open={asking}
      onOpenChange={setAsking}
      className="w-80 p-3.5"
      trigger={<Button look="primary">Set aside</Button>}
    >
      <form onSubmit={submit} className="flex flex-col gap-3">
        <p className="font-serif text-lead">
          {rows.length === 1 ? "Why is this row set aside?" : `Why are these ${counted(rows.length, "row")} set aside?`}
        </p>
        <ReasonChoice reason={reason} onReason={setReason} />
        {subject && (
          <Tick checked={onlyValue} onChange={() => setOnlyValue(!onlyValue)}>
            only the value of {subject.label}; the rest of the row stays
          </Tick>
        )}
        {decide.error && <Notice problem={decide.error.message} remedy={remedy} />}
        <div className="flex items-center justify-between">
          <span className="text-muted-ink text-small">nothing is deleted; it can be put back</span>
          <Button type="submit" look="primary" disabled={decide.isPending || !reason.trim()}>
            Set aside
          </Button>
        </div>
      </form>
    </Floating>
  );
}
