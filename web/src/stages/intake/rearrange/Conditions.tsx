import type { Condition } from "../../../api/making";
import type { Table, Variable } from "../../../api/studies";
import { Button } from "../../../ui/Button";
import { Field } from "../../../ui/Field";
import { Pick } from "../../../ui/Pick";
import { Tick } from "../../../ui/Tick";
import { choicesOf, withOrWithout } from "../../../values";
import { isNumeric } from "../../../words/kinds";
import type { Draft } from "./draft";
import { SeveralVariables } from "./SeveralVariables";

type ConditionsProps = { table: Table; draft: Draft; onChange: (changes: Partial<Draft>) => void };

const TESTS: Record<Condition["test"], string> = {
  between: "lies from, to",
  levels: "is one of",
  known: "has a value",
  missing: "has no value",
};

/** Which rows are kept, and which variables. */
export function Conditions({ table, draft, onChange }: ConditionsProps) {
  const { conditions } = draft;
  const variableOf = (symbol: string) => table.variables.find((variable) => variable.symbol === symbol);
  const startFor = (variable: Variable): Condition => ({
    variable: variable.symbol,
    test: isNumeric(variable) ? "between" : "levels",
    low: null,
    high: null,
    levels: [],
  });
  const set = (place: number, changes: Partial<Condition>) =>
    onChange({
      conditions: conditions.map((condition, i) => (i === place ? { ...condition, ...changes } : condition)),
    });
  const [first] = table.variables;
  return (
    <>
      {conditions.map((condition, place) => {
        const variable = variableOf(condition.variable);
        const number = (name: "low" | "high", label: string) => (
          <Field
            label={label}
            type="number"
            step="any"
            value={condition[name] ?? ""}
            onChange={(event) => set(place, { [name]: event.target.value === "" ? null : Number(event.target.value) })}
          />
        );
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: a condition is its place in the list
          <fieldset key={place} className="flex flex-col gap-2 border-line border-b pb-3">
            <legend className="sr-only">Condition {place + 1}</legend>
            <div className="flex items-end gap-2 [&>*:first-child]:flex-1">
              <Pick
                label={place === 0 ? "Rows where" : "and where"}
                value={condition.variable}
                options={table.variables.map(({ symbol, label }) => ({ value: symbol, label }))}
                onChoose={(symbol) => {
                  const chosen = variableOf(symbol);
                  if (chosen) set(place, startFor(chosen));
                }}
              />
              <Button look="link" onClick={() => onChange({ conditions: conditions.filter((_, i) => i !== place) })}>
                drop
              </Button>
            </div>
            <Pick
              label="its value"
              value={condition.test}
              options={choicesOf(TESTS).filter(({ value }) => value !== "between" || (variable && isNumeric(variable)))}
              onChoose={(test) => set(place, { test })}
            />
            {condition.test === "between" && (
              <div className="flex gap-2">
                {number("low", "from")}
                {number("high", "to")}
              </div>
            )}
            {condition.test === "levels" && (
              <div className="flex max-h-36 flex-col overflow-y-auto rounded-lg border border-line bg-surface py-1">
                {variable?.levels.map((level) => (
                  <Tick
                    key={level}
                    className="px-2"
                    checked={condition.levels?.includes(level) ?? false}
                    onChange={() => {
                      const held = condition.levels ?? [];
                      set(place, {
                        levels: withOrWithout(held, level, !held.includes(level)),
                      });
                    }}
                  >
                    {level}
                  </Tick>
                ))}
              </div>
            )}
          </fieldset>
        );
      })}
      <Button
        className="self-start"
        onClick={() => first && onChange({ conditions: [...conditions, startFor(first)] })}
      >
        {conditions.length === 0 ? "Only rows that meet a condition" : "And another condition"}
      </Button>
      <SeveralVariables
        label="Variables kept; none ticked keeps all"
        table={table}
        chosen={draft.kept}
        onChoose={(kept) => onChange({ kept })}
      />
    </>
  );
}
