import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { shownOf, type TablePlateLine, useTablePlateDeeds } from "../../api/tablePlates";
import { CardDeeds } from "../plates/CardDeeds";
import { LaidTable } from "./LaidTable";

/** The tables of numbers of a study, below its plates. */
export function TableShelf({ tables, study }: { tables: TablePlateLine[]; study: string }) {
  return (
    <section aria-label="Tables">
      <h2 className="border-line border-t pt-3 pb-2 text-lead">Tables</h2>
      <ol className="grid grid-cols-[repeat(auto-fill,minmax(236px,1fr))] gap-3.5 pb-3.5">
        {tables.map((plate) => (
          <TableCard key={plate.id} {...{ plate, tables, study }} />
        ))}
      </ol>
    </section>
  );
}

type TableCardProps = { plate: TablePlateLine; tables: TablePlateLine[]; study: string };

function TableCard({ plate, tables, study }: TableCardProps) {
  const deeds = useTablePlateDeeds(study);
  const { data: shown, error } = useQuery(shownOf(plate, plate.document));
  const revisions = Object.values(plate.revisions);
  return (
    <li className="flex flex-col rounded-card border border-line bg-raised">
      <div className="relative h-[204px] overflow-hidden rounded-t-card bg-surface p-3">
        <div aria-hidden="true" className="w-[600px] origin-top-left scale-[0.42]" inert>
          {shown && <LaidTable laid={shown.laid} />}
          {error && <p>{error.message}</p>}
        </div>
        <Link to={`/table-plates/${plate.id}`} className="absolute inset-0" aria-label={`Open ${plate.name}`} />
      </div>
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
        <CardDeeds kept={plate} all={tables} deeds={deeds} />
      </div>
    </li>
  );
}
