import { useState } from "react";
import { Link } from "react-router";
import { type Study, useRemoveTable } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { Notice } from "../../ui/Notice";
import { counted } from "../../words/numbers";

/** The tables that stand in the study already. */
export function TablesCard({ study }: { study: Study }) {
  const remove = useRemoveTable();
  const [asked, setAsked] = useState<string | null>(null);
  return (
    <Card
      title={`In ${study.title}`}
      className="self-start"
      aside={<span className="text-muted-ink text-small">{counted(study.tables.length, "table")}</span>}
    >
      <ul>
        {study.tables.map((table) => (
          <li key={table.id} className="border-line border-b px-3.5 py-2 last:border-0">
            <div className="flex items-baseline justify-between gap-3">
              <Link
                to={`/tables/${table.id}/spread`}
                className="truncate font-serif text-lead text-primary hover:underline"
              >
                {table.name}
              </Link>
              <Button
                look="link"
                className="text-small!"
                onClick={() => setAsked(table.id)}
                aria-label={`Remove ${table.name}`}
              >
                remove
              </Button>
            </div>
            <p className="figures text-muted-ink text-small">
              {counted(table.n_rows, "row")} · {table.source}
            </p>
            {asked === table.id && (
              <div className="mt-1.5 flex items-center gap-2">
                <span>Remove it with its file, for good?</span>
                <Button onClick={() => remove.mutate(table.id, { onSettled: () => setAsked(null) })}>Remove</Button>
                <Button look="link" onClick={() => setAsked(null)}>
                  keep
                </Button>
              </div>
            )}
          </li>
        ))}
        {study.tables.length === 0 && (
          <li className="px-3.5 py-3 text-muted-ink">None yet. The first one you store stands here.</li>
        )}
      </ul>
      {remove.error && <Notice problem={remove.error.message} className="m-3.5" />}
    </Card>
  );
}
