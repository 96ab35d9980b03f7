import type { How, Stem } from "../../../api/making";
import { type Table, useStudies, useTable } from "../../../api/studies";
import { Button } from "../../../ui/Button";
import { Field } from "../../../ui/Field";
import { Pick } from "../../../ui/Pick";
import { Tick } from "../../../ui/Tick";
import { withOrWithout } from "../../../values";
import { counted } from "../../../words/numbers";
import { Conditions } from "./Conditions";
import type { Draft } from "./draft";
import { SeveralVariables } from "./SeveralVariables";

type SettingsProps = {
  how: How;
  table: Table;
  stems: Stem[];
  draft: Draft;
  onChange: (changes: Partial<Draft>) => void;
};

const optionsOf = (table: Table | undefined) =>
  (table?.variables ?? []).map(({ symbol, label }) => ({ value: symbol, label }));

/** What a way of making needs to be told. */
export function Settings(props: SettingsProps) {
  const { how, table, draft, onChange } = props;
  switch (how) {
    case "longer":
      return <Longer {...props} />;
    case "wider":
      return (
        <>
          <SeveralVariables
            label="One row for each"
            table={table}
            chosen={draft.keys}
            onChoose={(keys) => onChange({ keys })}
          />
          <Pick
            label="One column for each level of"
            value={draft.mark}
            options={optionsOf(table)}
            onChoose={(mark) => onChange({ mark })}
          />
          <SeveralVariables
            label="Filled with"
            table={table}
            chosen={draft.values}
            onChoose={(values) => onChange({ values })}
          />
        </>
      );
    case "split":
      return (
        <>
          <Pick
            label="Variable"
            value={draft.variable}
            options={optionsOf(table)}
            onChoose={(variable) => onChange({ variable })}
          />
          <Field
            label="Split at"
            value={draft.at}
            maxLength={20}
            onChange={(event) => onChange({ at: event.target.value })}
          />
          <Field
            label="Names of the parts, separated by commas"
            value={draft.names}
            placeholder="as the variable is called, with a number"
            onChange={(event) => onChange({ names: event.target.value })}
          />
        </>
      );
    case "join":
      return (
        <>
          <SeveralVariables
            label="Joined, in the order chosen"
            table={table}
            chosen={draft.variables}
            onChoose={(variables) => onChange({ variables })}
          />
          <Field
            label="With this between them"
            value={draft.between}
            maxLength={20}
            onChange={(event) => onChange({ between: event.target.value })}
          />
          <Field label="Name" value={draft.name} onChange={(event) => onChange({ name: event.target.value })} />
        </>
      );
    case "stack":
      return <OtherTables {...props} />;
    case "look-up":
      return <LookUp {...props} />;
    default:
      return <Conditions table={table} draft={draft} onChange={onChange} />;
  }
}

const ORDINALS = ["first", "second", "third", "fourth"];
const ordinal = (i: number) => ORDINALS[i] ?? `${i + 1}th`;

function Longer({ table, stems, draft, onChange }: SettingsProps) {
  const members = draft.sets[0]?.symbols ?? [];
  const take = (symbols: string[]) => {
    const labels = symbols.map(
      (symbol) => table.variables.find((variable) => variable.symbol === symbol)?.label ?? symbol,
    );
    const marks = labels.map((label) => label.match(/(\d+(?:\.\d+)?)\D*$/)?.[1] ?? label);
    onChange({ sets: [{ name: draft.sets[0]?.name ?? "value", symbols }], marks });
  };
  return (
    <>
      {stems.length > 0 && (
        <p className="text-muted-ink">
          Found: {stems.map(({ label, marks }) => `${label} ${marks[0]} to ${marks.at(-1)}`).join("; ")}
        </p>
      )}
      {draft.sets.length > 1 ? (
        draft.sets.map(({ name }, i) => (
          <Field
            // biome-ignore lint/suspicious/noArrayIndexKey: a name is what is typed here
            key={i}
            label={`What the ${ordinal(i)} columns measure`}
            value={name}
            onChange={(event) =>
              onChange({ sets: draft.sets.map((set, j) => (i === j ? { ...set, name: event.target.value } : set)) })
            }
          />
        ))
      ) : (
        <>
          <SeveralVariables label="Repeated columns, in their order" table={table} chosen={members} onChoose={take} />
          <Field
            label="What they measure"
            value={draft.sets[0]?.name ?? ""}
            onChange={(event) => onChange({ sets: [{ name: event.target.value, symbols: members }] })}
          />
        </>
      )}
      <Field
        label="What tells them apart is called"
        value={draft.markName}
        onChange={(event) => onChange({ markName: event.target.value })}
      />
      <Field
        label="and is, in their order"
        value={draft.marks.join(", ")}
        onChange={(event) => onChange({ marks: event.target.value.split(",").map((mark) => mark.trim()) })}
      />
    </>
  );
}

function useOtherTables(table: Table) {
  const { data: studies = [] } = useStudies();
  const study = studies.find(({ id }) => id === table.study_id);
  return study?.tables.filter(({ id }) => id !== table.id) ?? [];
}

function OtherTables({ table, draft, onChange }: SettingsProps) {
  const others = useOtherTables(table);
  return (
    <fieldset className="flex flex-col gap-1">
      <legend className="mb-1 text-muted-ink text-small">Below it, the rows of</legend>
      {others.map(({ id, name, n_rows }) => (
        <Tick
          key={id}
          checked={draft.others.includes(id)}
          onChange={() =>
            onChange({
              others: withOrWithout(draft.others, id, !draft.others.includes(id)),
            })
          }
        >
          {name} <span className="figures text-muted-ink text-small">{counted(n_rows, "row")}</span>
        </Tick>
      ))}
      <p className="mt-1 text-muted-ink text-small">Variables are matched by their symbols.</p>
    </fieldset>
  );
}

const MOST_KEYS = 6;

function LookUp({ table, draft, onChange }: SettingsProps) {
  const others = useOtherTables(table);
  const { data: other } = useTable(draft.others[0]);
  return (
    <>
      <Pick
        label="Looked up in"
        value={draft.others[0] ?? ""}
        options={others.map(({ id, name }) => ({ value: id, label: name }))}
        onChoose={(id) => onChange({ others: [id], pairs: draft.pairs.map(([key]) => [key, ""]), values: [] })}
      />
      {draft.pairs.map(([key, otherKey], i) => {
        const set = (pair: [string, string]) =>
          onChange({ pairs: draft.pairs.map((before, j) => (i === j ? pair : before)) });
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: pairs have no name but their place
          <div key={i} className="flex flex-col gap-2">
            <Pick
              label={i === 0 ? "By" : "and by"}
              value={key}
              options={optionsOf(table)}
              onChoose={(next) => set([next, otherKey])}
            />
            {other && (
              <Pick
                label={`which in ${other.name} is`}
                value={otherKey}
                options={optionsOf(other)}
                onChoose={(next) => set([key, next])}
              />
            )}
          </div>
        );
      })}
      {other && (
        <>
          <p className="flex gap-3">
            {draft.pairs.length < MOST_KEYS && (
              <Button look="link" onClick={() => onChange({ pairs: [...draft.pairs, ["", ""]] })}>
                by one more
              </Button>
            )}
            {draft.pairs.length > 1 && (
              <Button look="link" onClick={() => onChange({ pairs: draft.pairs.slice(0, -1) })}>
                by one less
              </Button>
            )}
          </p>
          <SeveralVariables
            label="Brings"
            table={other}
            chosen={draft.values}
            onChoose={(values) => onChange({ values })}
          />
        </>
      )}
    </>
  );
}
