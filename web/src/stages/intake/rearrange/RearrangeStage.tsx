import { useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { type How, type TableRecipe, useMadePreview, useMake, useStems } from "../../../api/making";
import type { Table } from "../../../api/studies";
import { Button } from "../../../ui/Button";
import { Card } from "../../../ui/Card";
import { Notice } from "../../../ui/Notice";
import { WordChoice } from "../../../ui/WordChoice";
import { titled } from "../../../words/kinds";
import { useTableHere } from "../../TableRoute";
import { type Draft, HOWS, recipeOf, startOf } from "./draft";
import { MadeRows } from "./MadeRows";
import { Settings } from "./Settings";

/** A table made of others: its result is shown before it is made, and it follows its sources. */
export function RearrangeStage() {
  const table = useTableHere();
  const { data: stems } = useStems(table);
  return stems ? <Rearrange key={table.revision} table={table} stems={stems} /> : null;
}

function Rearrange({ table, stems }: { table: Table; stems: NonNullable<ReturnType<typeof useStems>["data"]> }) {
  const [query, setQuery] = useSearchParams();
  const how = (HOWS.find(({ value }) => value === query.get("how"))?.value ??
    (stems.length > 0 ? "longer" : "part")) as How;
  const [draft, setDraft] = useState<Draft>(() => startOf(table, stems));
  const recipe = recipeOf(table, how, draft);
  const change = (changes: Partial<Draft>) => setDraft((now) => ({ ...now, ...changes }));
  return (
    <div className="flex h-full min-h-0 flex-col px-4.5 pb-3.5">
      <div className="flex min-h-[56px] flex-wrap items-center py-2">
        <h1 className="text-head">
          From <span className="text-accent">{table.name}</span> make a table with{" "}
          <WordChoice
            label="What is made"
            shown={HOWS.find(({ value }) => value === how)?.label ?? ""}
            value={how}
            options={HOWS}
            onChoose={(value) => setQuery({ how: value })}
          />
        </h1>
      </div>
      <div className="grid min-h-0 flex-1 grid-cols-[318px_minmax(0,1fr)] gap-3.5">
        <Card title="How" className="min-h-0 self-start">
          <div className="flex min-h-0 flex-col gap-3 overflow-y-auto p-3.5">
            <Settings how={how} table={table} stems={stems} draft={draft} onChange={change} />
          </div>
        </Card>
        <Result key={how} table={table} recipe={recipe} />
      </div>
    </div>
  );
}

function Result({ table, recipe }: { table: Table; recipe: TableRecipe | null }) {
  const { data: shown, error } = useMadePreview(table.study_id, recipe);
  const make = useMake(table.study_id);
  const navigate = useNavigate();
  const [name, setName] = useState<string | null>(null);
  if (!recipe)
    return (
      <p className="m-auto max-w-96 text-center font-serif text-lead text-muted-ink">
        Say at the left what is to be made; its first rows stand here before anything is stored.
      </p>
    );
  if (error)
    return (
      <Notice problem={error.message} remedy={"remedy" in error ? String(error.remedy) : ""} className="self-start" />
    );
  if (!shown) return null;
  const title = name ?? titled(shown.name);
  return (
    <MadeRows
      table={table}
      shown={shown}
      aside={
        <form
          className="flex flex-wrap items-center gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            make.mutate({ ...recipe, name: title }, { onSuccess: ({ id }) => navigate(`/tables/${id}/spread`) });
          }}
        >
          {make.error && <span className="text-caution">{make.error.message}</span>}
          <input
            aria-label="Name of the table"
            required
            maxLength={200}
            value={title}
            onChange={(event) => setName(event.target.value)}
            className="min-h-6 w-52 rounded-lg border border-line-strong/60 bg-surface px-2"
          />
          <Button type="submit" look="primary" disabled={make.isPending}>
            Make the table
          </Button>
        </form>
      }
    />
  );
}
