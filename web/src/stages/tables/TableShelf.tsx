import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { shownOf, type TablePlateLine, useTablePlateDeeds } from "../../api/tablePlates";
import { Button } from "../../ui/Button";
import { LaidTable } from "./LaidTable";

/** The tables of numbers of a study, below its plates. */
export function TableShelf({ tables, study }: { tables: TablePlateLine[]; study: string }) {
  return (
    <section aria-label="Tables">
      <h2 className="border-line border-t pt-3 pb-2 text-lead">Tables</h2>
      <ol className="grid grid-cols-[repeat(auto-fill,minmax(236px,1fr))] gap-3.5 pb-3.5">
        {tables.map((plate, i) => (
          <TableCard
            key={plate.id}
            {...{ plate, study }}
            before={tables[i - 1]}
            after={tables[i + 2] ?? null}
            last={i === tables.length - 1}
          />
        ))}
      </ol>
    </section>
  );
}

type TableCardProps = {
  plate: TablePlateLine;
  study: string;
  before: TablePlateLine | undefined;
  /** The one that it stands before once it has moved forward; null for the end. */
  after: TablePlateLine | null;
  last: boolean;
};

function TableCard({ plate, study, before, after, last }: TableCardProps) {
  const deeds = useTablePlateDeeds(study);
  const [asking, setAsking] = useState(false);
  const { data: shown, error } = useQuery(shownOf(plate, plate.document));
  const revisions = Object.values(plate.revisions);
  return (
    <li className="flex flex-col rounded-card border border-line bg-raised">
      <Link
        to={`/table-plates/${plate.id}`}
        className="block h-[204px] overflow-hidden rounded-t-card bg-surface p-3"
        aria-label={`Open ${plate.name}`}
      >
        <div aria-hidden="true" className="w-[600px] origin-top-left scale-[0.42]" inert>
          {shown && <LaidTable laid={shown.laid} />}
          {error && <p>{error.message}</p>}
        </div>
      </Link>
      <div className="flex flex-1 flex-col gap-1 border-line border-t px-3 py-2">
        <Link
          to={`/table-plates/${plate.id}`}
          data-name={plate.name}
          className="line-clamp-2 font-serif text-lead leading-snug hover:text-primary"
        >
          {plate.name}
        </Link>
        <p className="flex flex-wrap gap-x-2 text-muted-ink text-small">
          <span>revision {revisions.join(", ")}</span>
          {plate.stale && <span className="font-semibold text-caution">its data have moved</span>}
          {plate.frozen && <span className="font-semibold">frozen</span>}
        </p>
        <div className="mt-auto flex flex-wrap items-center gap-x-2.5">
          <Button look="link" className="text-small!" onClick={() => deeds.duplicate.mutate(plate.id)}>
            duplicate
          </Button>
          {before && (
            <Button
              look="link"
              className="text-small!"
              aria-label={`Move back: ${plate.name}`}
              onClick={() => deeds.place.mutate({ id: plate.id, before: before.id })}
            >
              move back
            </Button>
          )}
          {!last && (
            <Button
              look="link"
              className="text-small!"
              aria-label={`Move forward: ${plate.name}`}
              onClick={() => deeds.place.mutate({ id: plate.id, before: after?.id ?? null })}
            >
              move forward
            </Button>
          )}
          {asking ? (
            <Button
              className="border-danger/50! text-danger! text-small!"
              onClick={() => deeds.takeAway.mutate(plate.id)}
              onBlur={() => setAsking(false)}
              autoFocus
            >
              Delete for good
            </Button>
          ) : (
            <Button look="link" className="text-small!" onClick={() => setAsking(true)}>
              delete
            </Button>
          )}
        </div>
      </div>
    </li>
  );
}
