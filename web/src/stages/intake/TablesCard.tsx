import { useState } from "react";
import { Link } from "react-router";
import { type Preview, type Study, useLookAgain, useRemoveTable } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { Floating } from "../../ui/Floating";
import { Notice } from "../../ui/Notice";
import { Tick } from "../../ui/Tick";
import { counted } from "../../words/numbers";
import { Looking } from "./Looking";

/** The tables that stand in the study already. */
export function TablesCard({ study, onPreview }: { study: Study; onPreview: (result: Preview) => void }) {
  const remove = useRemoveTable();
  const again = useLookAgain();
  const [removing, setRemoving] = useState<string | null>(null);
  return (
    <Card
      title={`In ${study.title}`}
      className="self-start"
      aside={<span className="text-muted-ink text-small">{counted(study.tables.length, "table")}</span>}
    >
      <ul>
        {study.tables.map((table) => (
          <li key={table.id} className="border-line border-b px-3.5 py-2 last:border-0">
            <div className="flex items-baseline gap-3">
              <Link
                to={`/tables/${table.id}/spread`}
                className="min-w-0 flex-1 truncate font-serif text-lead text-primary hover:underline"
              >
                {table.name}
              </Link>
              <span className="figures shrink-0 text-muted-ink text-small">{counted(table.n_rows, "row")}</span>
            </div>
            <p className="truncate text-muted-ink text-small" title={table.source}>
              {table.source}
            </p>
            <p className="flex flex-wrap items-baseline gap-x-2 text-small">
              <Link to={`/tables/${table.id}/grid`} className="text-primary hover:underline">
                rows
              </Link>
              <Link to={`/tables/${table.id}/variables`} className="text-primary hover:underline">
                variables
              </Link>
              <Link to={`/tables/${table.id}/rearrange`} className="text-primary hover:underline">
                rearrange
              </Link>
              {table.has_file && (
                <Button
                  look="link"
                  className="min-h-0! border-0! p-0! text-small! no-underline! hover:underline!"
                  disabled={again.isPending}
                  onClick={() => again.mutate(table.id, { onSuccess: onPreview })}
                  aria-label={`${table.name}: read again`}
                >
                  read again
                </Button>
              )}
              <TakeTable table={table} />
              <Button
                look="link"
                className="min-h-0! border-0! p-0! text-small! no-underline! hover:underline!"
                onClick={() => setRemoving(table.id)}
                aria-label={`Remove ${table.name}`}
              >
                remove
              </Button>
            </p>
            {removing === table.id && (
              <div className="mt-1.5 flex items-center gap-2">
                <span>Remove it {table.has_file && "with its file, "}for good?</span>
                <Button onClick={() => remove.mutate(table.id, { onSettled: () => setRemoving(null) })}>Remove</Button>
                <Button look="link" onClick={() => setRemoving(null)}>
                  cancel
                </Button>
              </div>
            )}
          </li>
        ))}
        {study.tables.length === 0 && (
          <li className="px-3.5 py-3 text-muted-ink">None yet. The first one you store stands here.</li>
        )}
      </ul>
      {again.job && (
        <div className="m-3.5">
          <Looking job={again.job} />
        </div>
      )}
      {again.error && <Notice problem={again.error.message} className="m-3.5" />}
      {remove.error && <Notice problem={remove.error.message} className="m-3.5" />}
    </Card>
  );
}

const FORMS = [
  ["csv", "CSV"],
  ["tsv", "TSV"],
  ["xlsx", "Workbook .xlsx"],
  ["ods", "Workbook .ods"],
  ["parquet", "Parquet"],
  ["json", "JSON records"],
  ["package", "Data Package"],
] as const;

/** The table as it stands, as a file in an open format. */
function TakeTable({ table: { id, name, forms } }: { table: Study["tables"][number] }) {
  const [marked, setMarked] = useState(false);
  return (
    <Floating
      label={`Download ${name}`}
      align="end"
      className="w-56 p-1.5"
      trigger={
        <Button
          look="link"
          className="min-h-0! border-0! p-0! text-small! no-underline! hover:underline!"
          aria-label={`Download ${name}`}
        >
          download
        </Button>
      }
    >
      <Tick
        className="border-line border-b px-2 pb-1.5"
        checked={marked}
        onChange={() => setMarked(!marked)}
        label="every value, set-aside rows marked"
      />
      {FORMS.filter(([form]) => forms.includes(form)).map(([form, words]) => (
        <a
          key={form}
          href={`/api/tables/${id}/file?form=${form}${marked ? "&marked=true" : ""}`}
          download
          className="block min-h-7 rounded-md px-2 py-1 hover:bg-accent-tint"
        >
          {words}
        </a>
      ))}
    </Floating>
  );
}
