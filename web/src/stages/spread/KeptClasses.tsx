import { type FormEvent, useState } from "react";
import { type ClassStructure, useClassStructures, useKeepClasses, useRemoveClasses } from "../../api/classStructures";
import { useDerive } from "../../api/ledger";
import type { Classes } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Notice } from "../../ui/Notice";
import type { Change } from "../useAddress";
import { interval } from "./classWords";
import { setsNoClasses } from "./useSpreadChoices";

type KeptClassesProps = { table: Table; variable: Variable; classes: Classes; onChange: (changes: Change) => void };

/** Classes with a name, for other variables of the study too; and classes kept as a variable of their own. */
export function KeptClasses({ table, variable, classes, onChange }: KeptClassesProps) {
  const { data: kept = [] } = useClassStructures(table.study_id);
  const keep = useKeepClasses(table.study_id);
  const remove = useRemoveClasses(table.study_id);
  const derive = useDerive(table);
  const [name, setName] = useState("");
  const [label, setLabel] = useState(`${variable.typed_label}, in classes`);
  const { boundaries, closed } = classes;
  const names = classes.counts.map((_, i) => interval(classes, i));
  const use = (structure: ClassStructure) =>
    onChange({
      ...setsNoClasses,
      boundaries: structure.boundaries.join(" "),
      closed: structure.closed === "left" ? null : structure.closed,
    });
  const keepUnder = (event: FormEvent) => {
    event.preventDefault();
    if (name.trim()) keep.mutate({ name: name.trim(), boundaries, closed }, { onSuccess: () => setName("") });
  };
  const keepAsVariable = (event: FormEvent) => {
    event.preventDefault();
    if (label.trim())
      derive.mutate({
        of: variable.symbol,
        label: label.trim(),
        way: { how: "classes", boundaries, closed, ...(classes.rule === "integers" ? { names } : {}) },
      });
  };
  const error = keep.error ?? derive.error ?? remove.error;
  const remedy = error && "remedy" in error ? String(error.remedy) : "";
  return (
    <fieldset className="mt-3">
      <legend className="mb-1 font-serif text-lead">Saved classes</legend>
      {kept.map((structure) => (
        <p key={structure.id} className="flex items-center gap-2">
          <Button look="link" className="truncate" onClick={() => use(structure)}>
            {structure.name}
          </Button>
          <span className="ml-auto text-muted-ink text-small">{structure.boundaries.length - 1} classes</span>
          <Button look="link" aria-label={`Remove ${structure.name}`} onClick={() => remove.mutate(structure.id)}>
            remove
          </Button>
        </p>
      ))}
      <form onSubmit={keepUnder} className="flex items-end gap-2">
        <Field
          label="These classes under a name"
          maxLength={100}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <Button type="submit">Save</Button>
      </form>
      <form onSubmit={keepAsVariable} className="mt-2 flex items-end gap-2">
        <Field
          label="As a new ordered variable"
          maxLength={200}
          value={label}
          onChange={(event) => setLabel(event.target.value)}
        />
        <Button type="submit">Make</Button>
      </form>
      {derive.isSuccess && (
        <p role="status" className="mt-1.5 text-small">
          “{label}” stands among the variables, and follows {variable.label}.
        </p>
      )}
      {error && <Notice problem={error.message} remedy={remedy} className="mt-2" />}
    </fieldset>
  );
}
