import { type FormEvent, useState } from "react";
import { useDescribe } from "../../api/ledger";
import type { Table, Variable } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Floating } from "../../ui/Floating";
import { Notice } from "../../ui/Notice";
import { isNumeric } from "../../words/kinds";

type DescribeVariableProps = { table: Table; variable: Variable };

/** What a variable is: label, unit, the bounds of what it can be, a note. A change is an entry of the ledger. */
export function DescribeVariable({ table, variable }: DescribeVariableProps) {
  const [open, setOpen] = useState(false);
  return (
    <Floating
      label={`Describe ${variable.label}`}
      open={open}
      onOpenChange={setOpen}
      align="end"
      className="w-80 p-3.5"
      trigger={
        <button
          type="button"
          className="text-primary underline decoration-primary/40 underline-offset-3 hover:decoration-primary"
        >
          describe
        </button>
      }
    >
      {open && <Description table={table} variable={variable} onDone={() => setOpen(false)} />}
    </Floating>
  );
}

const asText = (bound: number | null) => (bound === null ? "" : String(bound));
const asBound = (text: string) => (text.trim() === "" ? null : Number(text));

function Description({ table, variable, onDone }: DescribeVariableProps & { onDone: () => void }) {
  const describe = useDescribe(table);
  const [label, setLabel] = useState(variable.label);
  const [unit, setUnit] = useState(variable.unit);
  const [lower, setLower] = useState(asText(variable.lower));
  const [upper, setUpper] = useState(asText(variable.upper));
  const [note, setNote] = useState(variable.note);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const said = { label: label.trim(), unit: unit.trim(), lower: asBound(lower), upper: asBound(upper), note };
    const changes = Object.fromEntries(
      Object.entries(said).filter(([name, value]) => value !== variable[name as keyof typeof said]),
    );
    if (Object.keys(changes).length === 0) onDone();
    else describe.mutate({ variable: variable.symbol, changes }, { onSuccess: onDone });
  };
  const remedy = describe.error && "remedy" in describe.error ? String(describe.error.remedy) : "";
  return (
    <form onSubmit={submit} className="flex flex-col gap-2.5">
      <Field label="Label" required maxLength={200} value={label} onChange={(event) => setLabel(event.target.value)} />
      <Field label="Unit" maxLength={60} value={unit} onChange={(event) => setUnit(event.target.value)} />
      {isNumeric(variable) && (
        <div className="grid grid-cols-2 gap-2">
          <Field
            label="Cannot be below"
            type="number"
            step="any"
            value={lower}
            onChange={(event) => setLower(event.target.value)}
          />
          <Field
            label="Cannot be above"
            type="number"
            step="any"
            value={upper}
            onChange={(event) => setUpper(event.target.value)}
          />
        </div>
      )}
      <Field label="Note" maxLength={2000} value={note} onChange={(event) => setNote(event.target.value)} />
      {describe.error && <Notice problem={describe.error.message} remedy={remedy} />}
      <p className="text-muted-ink text-small">
        A density is turned back at a bound, so that it does not leak past it.
      </p>
      <Button type="submit" look="primary" className="self-end">
        Keep
      </Button>
    </form>
  );
}
