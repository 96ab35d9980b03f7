import { useRef, useState } from "react";
import { Link, useParams } from "react-router";
import { type Furnishings, type PlateLine, useFurnishings, usePlateDeeds, usePlates } from "../../api/plates";
import { type ReportLine, useReports } from "../../api/reports";
import { type Study, useStudies } from "../../api/studies";
import { type TablePlateLine, useTablePlates } from "../../api/tablePlates";
import { Button } from "../../ui/Button";
import { handOver } from "../../ui/handOver";
import { Notice } from "../../ui/Notice";
import { withOrWithout } from "../../values";
import { counted, inWords } from "../../words/numbers";
import { ReportShelf } from "../reports/ReportShelf";
import { useBeginReport } from "../reports/useBeginReport";
import { StudyWord } from "../StudyWord";
import { TableShelf } from "../tables/TableShelf";
import { CardDeeds } from "./CardDeeds";
import { CompareTwo } from "./CompareTwo";
import { fileName } from "./files";
import { Progress } from "./Progress";
import { setZip } from "./setFiles";
import { Thumb } from "./Thumb";

/** All plates of a study: small pictures in their order, which data each stands on, and whether these have moved. */
export function GalleryStage() {
  const { studyId } = useParams();
  const { data: plates, error } = usePlates(studyId);
  const { data: furnishings } = useFurnishings();
  const { data: studies } = useStudies();
  const { data: tables } = useTablePlates(studyId);
  const { data: reports } = useReports(studyId);
  if (error) return <Notice problem={error.message} remedy="Go back to your studies." className="m-4.5" />;
  const study = studies?.find(({ id }) => id === studyId);
  if (!plates || !tables || !reports || !furnishings || !study) return null;
  return <Gallery key={studyId} {...{ plates, tables, reports, furnishings, study }} />;
}

type GalleryProps = {
  plates: PlateLine[];
  tables: TablePlateLine[];
  reports: ReportLine[];
  furnishings: Furnishings;
  study: Study;
};

function Gallery({ plates, tables, reports, furnishings, study }: GalleryProps) {
  const {
    title,
    tables: [first],
  } = study;
  const [chosen, setChosen] = useState<string[]>([]);
  const [comparing, setComparing] = useState(false);
  const [going, setGoing] = useState<{ done: number; of: number } | null>(null);
  const [trouble, setTrouble] = useState("");
  const stopped = useRef(false);
  const report = useBeginReport(study, plates, tables);
  const moved = [...plates, ...tables].filter(({ stale }) => stale).length;
  const sets = [...new Set(plates.map(({ group }) => group).filter(Boolean))];
  const picked = plates.filter(({ id }) => chosen.includes(id));
  const [one, two] = picked;
  const take = async (name: string, own: PlateLine[]) => {
    stopped.current = false;
    setTrouble("");
    setGoing({ done: 0, of: own.length });
    try {
      const made = await setZip(name, own, furnishings, 300, (done) => {
        setGoing({ done, of: own.length });
        return !stopped.current;
      });
      if (made) handOver(made, `${fileName(name)}.zip`);
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : "The set could not be written.");
    } finally {
      setGoing(null);
    }
  };
  if (plates.length === 0 && tables.length === 0 && reports.length === 0)
    return (
      <div className="m-auto max-w-104 p-8 text-center">
        <svg aria-hidden="true" viewBox="0 0 120 70" className="mx-auto mb-4 w-40 text-line-strong/50">
          <rect x="20" y="6" width="80" height="58" rx="3" fill="none" stroke="currentColor" strokeWidth="1.500" />
          <path
            d="M34 14V52H92M44 46V38M58 46V26M72 46V32M86 46V22"
            fill="none"
            stroke="currentColor"
            strokeWidth="1.500"
          />
        </svg>
        <h1 className="mb-2 text-head">
          <StudyWord study={study} to="plates" /> has no plate yet
        </h1>
        <p className="font-serif text-lead text-muted-ink">
          Look at a picture in any stage and press P, or “keep as plate” under it: it then stands here with its caption,
          and follows its data. Tables of numbers come by “keep as table”.
        </p>
        <Link
          to={first ? `/tables/${first.id}/spread` : `/studies/${study.id}/intake`}
          className="mt-3 inline-block text-primary underline decoration-primary/40 underline-offset-3"
        >
          {first ? "To its first table" : "Bring in its first table"}
        </Link>
      </div>
    );
  return (
    <div className="flex h-full min-h-0 flex-col overflow-y-auto px-4.5 pb-6">
      <div className="flex min-h-[56px] flex-wrap items-center justify-between gap-x-6 gap-y-1 py-2">
        <h1 className="text-head leading-tight">
          {inWords([
            ...(plates.length > 0 ? [counted(plates.length, "plate")] : []),
            ...(tables.length > 0 ? [counted(tables.length, "table")] : []),
            ...(reports.length > 0 ? [counted(reports.length, "report")] : []),
          ])}{" "}
          of <StudyWord study={study} to="plates" />
          {moved > 0 && <span className="text-caution">, {moved === 1 ? "one has" : `${moved} have`} moved</span>}
        </h1>
        <span className="flex flex-wrap items-center gap-2">
          {picked.length === 2 && (
            <Button onClick={() => setComparing((now) => !now)} aria-pressed={comparing}>
              {comparing ? "Back to all" : "Compare the two"}
            </Button>
          )}
          {going ? (
            <Progress
              share={going.done / Math.max(going.of, 1)}
              words={`${going.done} of ${going.of}`}
              onStop={() => {
                stopped.current = true;
              }}
            />
          ) : (
            <>
              <Link
                to={`/studies/${study.id}/record`}
                className="text-primary underline decoration-primary/40 underline-offset-3"
              >
                methods paragraph
              </Link>
              <Button disabled={report.isPending} onClick={() => report.begin(picked)}>
                {picked.length > 0 ? `New report of the ${picked.length}` : "New report"}
              </Button>
              {picked.length > 0 && (
                <Button onClick={() => take(`${title} plates`, picked)}>Download the {picked.length}</Button>
              )}
              {plates.length > 0 && (
                <Button look="primary" onClick={() => take(`${title} plates`, plates)}>
                  Download all…
                </Button>
              )}
            </>
          )}
        </span>
      </div>
      {trouble && <Notice problem={trouble} className="mb-3" />}
      {comparing && one && two ? (
        <CompareTwo {...{ one, two, furnishings }} />
      ) : (
        ["", ...sets].map((group) => (
          <section key={group} aria-label={group || "Plates"}>
            {group && (
              <h2 className="flex items-baseline gap-3 border-line border-t pt-3 pb-2 text-lead">
                <span className="min-w-0 truncate">{group}</span>
                <span className="text-muted-ink text-small">
                  {counted(plates.filter((plate) => plate.group === group).length, "plate")}
                </span>
                {!going && (
                  <Button
                    look="link"
                    className="text-small!"
                    onClick={() =>
                      take(
                        group,
                        plates.filter((plate) => plate.group === group),
                      )
                    }
                  >
                    download the set
                  </Button>
                )}
              </h2>
            )}
            <ol className="grid grid-cols-[repeat(auto-fill,minmax(236px,1fr))] gap-3.5 pb-3.5">
              {plates
                .filter((plate) => plate.group === group)
                .map((plate) => (
                  <PlateCard
                    key={plate.id}
                    {...{ plate, furnishings, plates }}
                    study={study.id}
                    chosen={chosen.includes(plate.id)}
                    onChoose={(on) => setChosen((now) => withOrWithout(now, plate.id, on))}
                  />
                ))}
            </ol>
          </section>
        ))
      )}
      {!comparing && reports.length > 0 && <ReportShelf reports={reports} study={study.id} />}
      {!comparing && tables.length > 0 && <TableShelf tables={tables} study={study.id} />}
    </div>
  );
}

type PlateCardProps = {
  plate: PlateLine;
  plates: PlateLine[];
  furnishings: Furnishings;
  study: string;
  chosen: boolean;
  onChoose: (on: boolean) => void;
};

const DRAGGED = "application/x-heron-plate";

function PlateCard({ plate, plates, furnishings, study, chosen, onChoose }: PlateCardProps) {
  const deeds = usePlateDeeds(study);
  const [over, setOver] = useState(false);
  const own = plates.filter(({ group }) => group === plate.group);
  const revisions = [...new Set(Object.values(plate.revisions))].sort((a, b) => a - b);
  return (
    <li
      draggable
      onDragStart={(event) => event.dataTransfer.setData(DRAGGED, plate.id)}
      onDragOver={(event) => {
        if (!event.dataTransfer.types.includes(DRAGGED)) return;
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        setOver(false);
        const id = event.dataTransfer.getData(DRAGGED);
        if (id && id !== plate.id) deeds.place.mutate({ id, before: plate.id });
      }}
      className={`flex flex-col rounded-card border bg-raised ${over ? "border-accent" : chosen ? "border-primary" : "border-line"}`}
    >
      <div className="relative rounded-t-card bg-surface p-3">
        <Thumb plate={plate} furnishings={furnishings} width={232} height={180} />
        <Link to={`/plates/${plate.id}`} className="absolute inset-0" aria-label={`Open ${plate.name}`} />
      </div>
      <div className="flex flex-1 flex-col gap-1 border-line border-t px-3 py-2">
        <div className="flex items-start gap-2">
          <Link
            to={`/plates/${plate.id}`}
            data-name={plate.name}
            className="line-clamp-2 min-w-0 flex-1 font-serif text-lead leading-snug hover:text-primary"
          >
            {plate.name}
          </Link>
          <label className="flex size-6 shrink-0 items-center justify-center" title="choose">
            <input
              type="checkbox"
              className="accent-[var(--accent)]"
              checked={chosen}
              onChange={(event) => onChoose(event.target.checked)}
              aria-label={`Choose ${plate.name}`}
            />
          </label>
        </div>
        <p className="flex flex-wrap gap-x-2 text-muted-ink text-small">
          <span>
            {plate.stages.join(", ")},{" "}
            {revisions.length === 1 ? `revision ${revisions[0]}` : `revisions ${revisions.join(", ")}`}
          </span>
          {plate.stale && <span className="font-semibold text-caution">its data have moved</span>}
          {plate.frozen && <span className="font-semibold">frozen</span>}
        </p>
        <CardDeeds kept={plate} all={own} deeds={deeds} />
      </div>
    </li>
  );
}
