import { type FormEvent, useState } from "react";
import { useSearchParams } from "react-router";
import { useDerive } from "../../api/ledger";
import type { ValueCounts } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Floating } from "../../ui/Floating";
import { Notice } from "../../ui/Notice";
import { counted, whole } from "../../words/numbers";

type RecodeChoiceProps = { table: Table; variable: Variable; counts: ValueCounts };

/** Levels renamed and merged into a new variable: a new label for each, and one for all others. */
export function RecodeChoice({ table, variable, counts }: RecodeChoiceProps) {
  const derive = useDerive(table);
  const [query] = useSearchParams();
  const instead = table.variables.find(({ symbol }) => symbol === query.get("recode"));
  const recipe = (instead?.recipe ?? {}) as { labels?: Record<string, string>; others?: string | null };
  const [labels, setLabels] = useState<Record<string, string>>(recipe.labels ?? {});
  const [others, setOthers] = useState(recipe.others ?? "");
  const [name, setName] = useState(instead?.typed_label ?? `${variable.typed_label}, renamed`);
  const [open, setOpen] = useState(instead !== undefined);
  const levels = counts.rows.map(({ value, count }) => ({ level: String(value), count }));
  const given = Object.fromEntries(Object.entries(labels).filter(([, label]) => label.trim() !== ""));
  const left = levels.filter(({ level }) => !(level in given));
  const unmatched = others.trim() === "" ? left.reduce((sum, { count }) => sum + count, 0) : 0;
  const make = (event: FormEvent) => {
    event.preventDefault();
    if (!name.trim() || (Object.keys(given).length === 0 && !others.trim())) return;
    const trimmed = Object.fromEntries(Object.entries(given).map(([level, label]) => [level, label.trim()]));
    derive.mutate({
      of: variable.symbol,
      instead: instead?.symbol ?? "",
      label: name.trim(),
      way: { how: "recode", labels: trimmed, others: others.trim() || null },
    });
  };
  const error = derive.error;
  const remedy = error && "remedy" in error ? String(error.remedy) : "";
  return (
    <Floating
      label="Rename or merge levels"
      open={open}
      onOpenChange={setOpen}
      side="top"
      className="w-96 p-3.5"
      trigger={
        <Button look="word" className="text-small!">
          rename or merge levels
        </Button>
      }
    >
      <form onSubmit={make} className="flex flex-col gap-2">
        <p className="text-muted-ink text-small">Levels that are given one label become one.</p>
        {levels.map(({ level, count }) => (
          <div key={level} className="grid grid-cols-[1fr_3rem_1fr] items-center gap-2">
            <span className="truncate" title={level}>
              {level}
            </span>
            <span className="figures text-right text-muted-ink text-small">{whole(count)}</span>
            <input
              aria-label={`New label of ${level}`}
              maxLength={200}
              value={labels[level] ?? ""}
              onChange={(event) => setLabels((now) => ({ ...now, [level]: event.target.value }))}
              className="min-h-7 rounded-lg border border-line-strong/60 bg-surface px-2"
            />
          </div>
        ))}
        <Field
          label="All others"
          maxLength={200}
          placeholder="no label: they count as missing"
          value={others}
          onChange={(event) => setOthers(event.target.value)}
        />
        {unmatched > 0 && Object.keys(given).length > 0 && (
          <p className="text-caution">
            {counted(left.length, "level")} without a label: {counted(unmatched, "row")} would count as missing.
          </p>
        )}
        <span className="flex items-end gap-2">
          <Field
            label={instead ? "Its name" : "Name of the new variable"}
            required
            maxLength={200}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
          <Button type="submit" look="primary">
            {instead ? "Change it" : "Make"}
          </Button>
        </span>
        {derive.isSuccess && (
          <p role="status">
            “{name}” stands among the variables, and follows {variable.label}.
          </p>
        )}
        {error && <Notice problem={error.message} remedy={remedy} />}
      </form>
    </Floating>
  );
}
