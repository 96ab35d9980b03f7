import { type FormEvent, useState } from "react";
import type { GridView } from "../../../api/grid";
import type { Variable } from "../../../api/studies";
import { Button } from "../../../ui/Button";
import { Field } from "../../../ui/Field";
import { Floating } from "../../../ui/Floating";
import { about, isNumeric } from "../../../words/kinds";
import { whole } from "../../../words/numbers";
import type { Changes } from "./Grid";

type ColumnHeadProps = { variable: Variable; view: GridView; onChange: (changes: Changes) => void };

const NO_CONDITION: Changes = { where: null, low: null, high: null, level: null, missing: null };

/** A variable above its column: press its name to sort, or set which of its values are shown. */
export function ColumnHead({ variable, view, onChange }: ColumnHeadProps) {
  const sorted = view.sort === variable.symbol;
  const arrow = sorted ? (view.descending ? " \u2193" : " \u2191") : "";
  const nextSort = (): Changes => {
    if (!sorted) return { sort: variable.symbol, descending: null };
    return view.descending ? { sort: null, descending: null } : { descending: "true" };
  };
  const conditioned = view.variable === variable.symbol;
  return (
    <>
      <button
        type="button"
        tabIndex={-1}
        className="block max-w-full truncate font-semibold hover:text-accent"
        onClick={() => onChange(nextSort())}
        title={`Sort by ${variable.label}`}
      >
        {variable.label}
        {arrow}
      </button>
      <span className="block truncate text-muted-ink text-small">{about(variable)}</span>
      <span className="flex items-center justify-between text-small">
        <MissingBar variable={variable} />
        <Condition variable={variable} view={view} conditioned={conditioned} onChange={onChange} />
      </span>
    </>
  );
}

function MissingBar({ variable }: { variable: Variable }) {
  return variable.n_missing > 0 ? (
    <span className="text-caution">{whole(variable.n_missing)} missing</span>
  ) : (
    <span className="text-muted-ink">complete</span>
  );
}

function Condition({ variable, view, conditioned, onChange }: ColumnHeadProps & { conditioned: boolean }) {
  const [open, setOpen] = useState(false);
  const [low, setLow] = useState(conditioned && view.low !== undefined ? String(view.low) : "");
  const [high, setHigh] = useState(conditioned && view.high !== undefined ? String(view.high) : "");
  const set = (changes: Changes) => {
    setOpen(false);
    onChange({ ...NO_CONDITION, ...changes });
  };
  const range = (event: FormEvent) => {
    event.preventDefault();
    if (low || high) set({ where: variable.symbol, low: low || null, high: high || null });
  };
  return (
    <Floating
      label={`Rows shown by ${variable.label}`}
      open={open}
      onOpenChange={setOpen}
      className="w-60 p-3"
      trigger={
        <button
          type="button"
          tabIndex={-1}
          aria-label={`Choose rows by ${variable.label}`}
          className={conditioned ? "dotted-word" : "text-primary hover:underline"}
        >
          {conditioned ? "some" : "all"}
        </button>
      }
    >
      <div className="flex flex-col gap-2.5">
        {conditioned && <Button onClick={() => set({})}>All rows again</Button>}
        {variable.n_missing > 0 && (
          <Button onClick={() => set({ where: variable.symbol, missing: "true" })}>
            Only rows where it is missing
          </Button>
        )}
        {isNumeric(variable) && (
          <form onSubmit={range} className="flex items-end gap-2">
            <Field label="From" inputMode="decimal" value={low} onChange={(event) => setLow(event.target.value)} />
            <Field label="To" inputMode="decimal" value={high} onChange={(event) => setHigh(event.target.value)} />
            <Button type="submit">Set</Button>
          </form>
        )}
        {variable.kind === "category" && (
          <div className="flex max-h-56 flex-col overflow-y-auto">
            {variable.levels.map((level) => (
              <button
                key={level}
                type="button"
                className="rounded px-2 py-1 text-left hover:bg-accent-tint"
                onClick={() => set({ where: variable.symbol, level })}
              >
                {level}
              </button>
            ))}
          </div>
        )}
      </div>
    </Floating>
  );
}
