import { Link } from "react-router";
import { usePlates } from "../api/plates";
import { useReports } from "../api/reports";
import { useTablePlates } from "../api/tablePlates";
import { whole } from "../words/numbers";
import type { Place } from "./usePlace";

/** The plates of the study by name, those that no longer show what they showed marked. */
export function PlateList({ place: { study, plateId } }: { place: Place }) {
  const { data: plates = [] } = usePlates(study?.id);
  const { data: tables = [] } = useTablePlates(study?.id);
  const { data: reports = [] } = useReports(study?.id);
  const listed = [
    ...plates.map((plate) => ({ ...plate, to: `/plates/${plate.id}`, said: plate.stages.join(", ") })),
    ...tables.map((plate) => ({ ...plate, to: `/table-plates/${plate.id}`, said: "table" })),
    ...reports.map(({ id, name }) => ({
      ...{ id, name, to: `/reports/${id}`, said: "report" },
      ...{ stale: false, frozen: false },
    })),
  ];
  return (
    <nav
      aria-label="Plates"
      className="flex min-h-0 flex-col border-line border-r bg-aside max-[760px]:max-h-44 max-[760px]:border-r-0 max-[760px]:border-b"
    >
      <div className="mx-3 mt-3 rounded-card border border-line bg-raised px-3 py-2">
        <p className="truncate font-serif text-lead">{study?.title}</p>
        <p className="text-muted-ink text-small">figures, tables and reports that leave</p>
      </div>
      <h2 className="flex justify-between px-4 pt-2.5 pb-1 text-lead text-muted-ink italic">
        <Link
          to={study ? `/studies/${study.id}/plates` : "/"}
          className="flex min-h-6 items-center hover:text-primary hover:underline"
        >
          Plates
        </Link>
        <span className="figures">{whole(listed.length)}</span>
      </h2>
      <ol className="min-h-0 flex-1 overflow-y-auto pb-3">
        {listed.map(({ id, name, to, said, stale, frozen }) => (
          <li key={id}>
            <Link
              to={to}
              aria-current={id === plateId ? "page" : undefined}
              className="mx-2 block rounded-lg px-2.5 py-1.5 hover:bg-raised/70 aria-[current=page]:bg-raised aria-[current=page]:shadow-[inset_3px_0_0_var(--accent)]"
            >
              <span className="line-clamp-2">{name}</span>
              <span className="flex gap-2 text-muted-ink text-small">
                {said}
                {stale && <span className="text-caution">has moved</span>}
                {frozen && <span>frozen</span>}
              </span>
            </Link>
          </li>
        ))}
      </ol>
    </nav>
  );
}
