import { type FormEvent, useState } from "react";
import { useCorrect, useDecide, useDerive } from "../../api/ledger";
import type { Table, Variable } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Choices } from "../../ui/Choices";
import { Field } from "../../ui/Field";
import { Notice } from "../../ui/Notice";
import { counted, significant } from "../../words/numbers";
import { ReasonChoice } from "../ReasonChoice";

export type Limits = { low: number | null; high: number | null };
const DEEDS = {
  keep: "keep",
  row: "set the row aside",
  value: "set the value aside",
  correct: "correct the value",
  pull: "pull in to the fence",
} as const;
type Deed = keyof typeof DEEDS;

type DecisionFormProps = {
  table: Table;
  /** The variable whose values are decided on; undefined where whole rows are. */
  variable: Variable | undefined;
  rows: number[];
  /** To where values can be pulled in; null where no single fence holds for all rows. */
  limits: Limits | null;
  onDone: () => void;
};

/** What becomes of the selected rows, with the reason; it stands in the Ledger and can be taken back in one step. */
export function DecisionForm({ table, variable, rows, limits, onDone }: DecisionFormProps) {
  const decide = useDecide(table);
  const correct = useCorrect(table);
  const derive = useDerive(table);
  const [deed, setDeed] = useState<Deed>("keep");
  const [reason, setReason] = useState("");
  const [text, setText] = useState("");
  const [label, setLabel] = useState(variable ? `${variable.typed_label}, pulled in` : "");
  const own = variable !== undefined && variable.follows_from.length === 0;
  const open = Object.fromEntries(
    Object.entries(DEEDS).filter(
      ([name]) =>
        name === "keep" ||
        name === "row" ||
        (name === "value" && variable !== undefined) ||
        (name === "correct" && own && rows.length === 1) ||
        (name === "pull" && variable !== undefined && limits !== null),
    ),
  ) as Record<Deed, string>;
  const chosen = deed in open ? deed : "keep";
  const symbol = variable?.symbol ?? "";
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const done = { onSuccess: onDone };
    if (chosen === "correct")
      correct.mutate({ cells: [{ variable: symbol, row: rows[0] ?? 0, text: text.trim() }], reason }, done);
    else if (chosen === "pull" && limits)
      derive.mutate(
        {
          of: symbol,
          label: label.trim(),
          unit: variable?.unit ?? "",
          reason,
          way: { how: "pulled-in", ...limits, rows },
        },
        done,
      );
    else
      decide.mutate(
        {
          kind: chosen === "keep" ? "keep" : "set-aside",
          rows,
          variable: chosen === "row" ? "" : symbol,
          reason,
        },
        done,
      );
  };
  const error = decide.error ?? correct.error ?? derive.error;
  const remedy = error && "remedy" in error ? String(error.remedy) : "";
  const waiting = decide.isPending || correct.isPending || derive.isPending;
  return (
    <form onSubmit={submit} className="flex flex-col gap-2.5 px-3.5 py-2.5">
      <Choices label="What is decided" options={open} chosen={chosen} onChoose={setDeed} />
      {chosen === "correct" && (
        <Field label="The right value" required value={text} onChange={(event) => setText(event.target.value)} />
      )}
      {chosen === "pull" && limits && (
        <>
          <p className="text-muted-ink">
            A new variable in which {rows.length === 1 ? "this value is" : "these values are"} set to{" "}
            {[limits.low, limits.high].flatMap((limit) => (limit === null ? [] : [significant(limit, 5)])).join(" or ")}
            , whichever {rows.length === 1 ? "it lies" : "each lies"} beyond; {variable?.label} stays as it is.
          </p>
          <Field
            label="Name of the new variable"
            required
            maxLength={200}
            value={label}
            onChange={(event) => setLabel(event.target.value)}
          />
        </>
      )}
      <ReasonChoice
        reason={reason}
        onReason={setReason}
        label={chosen === "keep" ? "Note (may be left out)" : "Reason"}
        required={chosen !== "keep"}
      />
      {error && <Notice problem={error.message} remedy={remedy} />}
      <Button
        type="submit"
        look="primary"
        className="self-end"
        disabled={waiting || (chosen !== "keep" && !reason.trim())}
      >
        Decide on {counted(rows.length, "row")}
      </Button>
    </form>
  );
}
