import { useParams } from "react-router";
import { changeReport, type Report, useReport, useReportDeeds } from "../../api/reports";
import { Notice } from "../../ui/Notice";
import { FindingsCard } from "../plates/ChecksCard";
import { NameLine } from "../plates/EditingHead";
import { useEditing, useStepKeys } from "../plates/editing";
import { PagesCard } from "./PagesCard";
import { PartsCard } from "./PartsCard";
import { TakeAwayReport } from "./TakeAwayReport";
import { usePages } from "./usePages";

/** One report: its parts edited in place, and the pages that they come to. */
export function ReportStage() {
  const { reportId } = useParams();
  const { data: report, error } = useReport(reportId);
  if (error) return <Notice problem={error.message} remedy="Choose another at the left." className="m-4.5" />;
  if (!report) return null;
  return <Editing key={report.id} report={report} />;
}

function Editing({ report }: { report: Report }) {
  const { known, fetchAgain } = useReportDeeds(report.study);
  const editing = useEditing(report, { change: changeReport, known, fetchAgain });
  const pages = usePages(report);
  useStepKeys(editing);
  return (
    <div className="flex h-full min-h-0 flex-col overflow-y-auto px-4.5 pb-3.5">
      <NameLine what="report" editing={editing}>
        follows its data
      </NameLine>
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-3.5 max-[900px]:flex-none max-[900px]:grid-cols-[minmax(0,1fr)]">
        <PartsCard {...{ report, editing }} composed={pages.composed} />
        <div className="flex min-h-0 min-w-0 flex-col gap-3.5">
          <PagesCard
            {...{ report, pages }}
            waiting={editing.waiting}
            aside={
              <TakeAwayReport {...{ report }} composed={pages.composed} name={editing.name} waiting={editing.waiting} />
            }
          />
          {pages.composed && <FindingsCard findings={pages.composed.findings} />}
        </div>
      </div>
    </div>
  );
}
