import { type FormEvent, type ReactNode, useState } from "react";
import { type Changes, useDescribe, useLosses, useTakeAway } from "../../../api/ledger";
import type { Table, Variable } from "../../../api/studies";
import { Button } from "../../../ui/Button";
import { Field } from "../../../ui/Field";
import { Notice } from "../../../ui/Notice";
import { Pick } from "../../../ui/Pick";
import { choicesOf } from "../../../values";
import { isNumeric, KIND_WORDS } from "../../../words/kinds";
import { counted } from "../../../words/numbers";
import { among } from "../../useAddress";
import { LevelsForm } from "./LevelsForm";

type VariableFormProps = { table: Table; variables: Variable[]; start?: Changes; onDone: () => void };

const KINDS = choicesOf(KIND_WORDS);
const BELOW = {
  missing: "count as missing",
  limit: "stand at the limit",
  half: "stand at half the limit",
} as const;
const YES_NO = [
  { value: "true", label: "zero means none" },
  { value: "false", label: "zero is a convention" },
];

/** What one variable is, or many at once: only what is touched changes. A change is an entry of the ledger. */
export function VariableForm({ table, variables, start = {}, onDone }: VariableFormProps) {
  const describe = useDescribe(table);
  const takeAway = useTakeAway(table);
  const [draft, setDraft] = useState<Changes>(start);
  const [first] = variables;
  const alone = variables.length === 1;
  const touched = Object.keys(draft).length > 0;
  const shaping = ["kind", "missing_codes", "detection_limit", "below_limit"].some((name) => name in draft);
  const { data: losses, error: refusal } = useLosses(table, first?.symbol ?? "", draft, alone && shaping);
  if (!first) return null;
  const say = (changes: Changes) => setDraft((now) => ({ ...now, ...changes }));
  /** What all of them have in common, or nothing. */
  const common = (of: (variable: Variable) => unknown) =>
    variables.every((variable) => of(variable) === of(first)) ? of(first) : null;
  const text = (name: keyof Changes, of: (variable: Variable) => unknown) => {
    const value = name in draft ? draft[name] : common(of);
    return value === null || value === undefined ? "" : String(value);
  };
  const number = (name: "lower" | "upper" | "detection_limit" | "spec_lower" | "spec_upper" | "target") => ({
    inputMode: "decimal" as const,
    type: "number",
    step: "any",
    value: text(name, (variable) => variable[name]),
    onChange: ({ target }: { target: { value: string } }) =>
      say({ [name]: target.value.trim() === "" ? null : Number(target.value) }),
  });
  const kind =
    among(
      text("kind", (variable) => variable.kind),
      KIND_WORDS,
    ) ?? "";
  const numeric = kind === "continuous" || kind === "count" || (kind === "ordered" && variables.every(isNumeric));
  const codes = text("missing_codes", (variable) => variable.missing_codes.join(", "));
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (touched)
      describe.mutate(
        { variables: variables.map(({ symbol }) => symbol), changes: draft },
        {
          onSuccess: () => {
            setDraft({});
            onDone();
          },
        },
      );
    else onDone();
  };
  const error = describe.error ?? takeAway.error ?? refusal;
  const remedy = error && "remedy" in error ? String(error.remedy) : "";
  return (
    <form onSubmit={submit} className="flex flex-col gap-3">
      {alone && (
        <Field
          label="Label"
          required
          maxLength={200}
          value={text("label", (variable) => variable.typed_label)}
          onChange={(event) => say({ label: event.target.value })}
        />
      )}
      <Row>
        <Field
          label="Unit, powers as m^{-3}"
          maxLength={60}
          value={text("unit", (variable) => variable.typed_unit)}
          onChange={(event) => say({ unit: event.target.value.trim() })}
        />
        <Pick label="Kind" value={kind} options={KINDS} onChoose={(value) => say({ kind: value })} />
      </Row>
      <Field
        label="Missing-value codes besides blank, separated by commas"
        value={Array.isArray(draft.missing_codes) ? draft.missing_codes.join(",") : codes}
        onChange={(event) => say({ missing_codes: event.target.value.split(",").map((code) => code.trimStart()) })}
      />
      {losses?.map((words) => (
        <p key={words} className="rounded-lg bg-caution-tint px-2.5 py-1.5 text-ink">
          {words}
        </p>
      ))}
      {numeric && (
        <>
          <Row>
            <Field label="Cannot be below" {...number("lower")} />
            <Field label="Cannot be above" {...number("upper")} />
            <Field
              label="Decimals"
              type="number"
              min={0}
              max={12}
              value={text("decimals", (variable) => variable.decimals)}
              onChange={(event) => say({ decimals: event.target.value === "" ? null : Number(event.target.value) })}
            />
          </Row>
          <Pick
            label="Zero"
            value={text("true_zero", (variable) => variable.true_zero)}
            options={YES_NO}
            onChoose={(value) => say({ true_zero: value === "true" })}
          />
          <Row>
            <Field label="Detection limit" {...number("detection_limit")} />
            <Pick
              label="Values below it"
              value={
                among(
                  text("below_limit", (variable) => variable.below_limit),
                  BELOW,
                ) ?? ""
              }
              options={choicesOf(BELOW)}
              onChoose={(value) => say({ below_limit: value })}
            />
          </Row>
          <Row>
            <Field label="Specified from" {...number("spec_lower")} />
            <Field label="Target" {...number("target")} />
            <Field label="Specified to" {...number("spec_upper")} />
          </Row>
        </>
      )}
      {alone && (kind === "category" || kind === "ordered") && first.levels.length > 0 && !("kind" in draft) && (
        <LevelsForm variable={first} ordered={kind === "ordered"} draft={draft} onSay={say} />
      )}
      {alone && (
        <Field
          label="Note"
          maxLength={2000}
          value={text("note", (variable) => variable.note)}
          onChange={(event) => say({ note: event.target.value })}
        />
      )}
      {error && <Notice problem={error.message} remedy={remedy} />}
      <div className="flex items-center justify-end gap-2">
        {alone && first.follows_from.length > 0 && (
          <Button look="link" className="mr-auto" onClick={() => takeAway.mutate(first.symbol, { onSuccess: onDone })}>
            remove this variable
          </Button>
        )}
        {touched && (
          <Button look="link" onClick={() => setDraft({})}>
            as it was
          </Button>
        )}
        <Button type="submit" look="primary" disabled={!touched || describe.isPending}>
          {alone ? "Save" : `Save for ${counted(variables.length, "variable")}`}
        </Button>
      </div>
    </form>
  );
}

function Row({ children }: { children: ReactNode }) {
  return <div className="flex items-end gap-2 [&>*]:min-w-0 [&>*]:flex-1">{children}</div>;
}
