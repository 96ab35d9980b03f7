import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { pageAddress, pagesOf, type ReportLine, useReportDeeds } from "../../api/reports";
import { counted } from "../../words/numbers";
import { CardDeeds } from "../plates/CardDeeds";

type ReportShelfProps = { reports: ReportLine[]; study: string };

/** The reports of a study, above what they are made of. */
export function ReportShelf({ reports, study }: ReportShelfProps) {
  return (
    <section aria-label="Reports">
      <h2 className="border-line border-t pt-3 pb-2 text-lead">Reports</h2>
      <ol className="grid grid-cols-[repeat(auto-fill,minmax(236px,1fr))] gap-3.5 pb-3.5">
        {reports.map((report) => (
          <ReportCard key={report.id} {...{ report, reports, study }} />
        ))}
      </ol>
    </section>
  );
}

function ReportCard({ report, reports, study }: ReportShelfProps & { report: ReportLine }) {
  const deeds = useReportDeeds(study);
  const { data: pages } = useQuery(pagesOf(report.id));
  const of = (kind: string) => report.document.parts?.filter((part) => part.kind === kind).length ?? 0;
  return (
    <li className="flex flex-col rounded-card border border-line bg-raised">
      <Link
        to={`/reports/${report.id}`}
        className="block h-[204px] overflow-hidden rounded-t-card bg-surface px-8 pt-3"
        aria-label={`Open ${report.name}`}
      >
        {pages && pages.n > 0 && (
          <img src={pageAddress(report.id, 1, pages.key)} alt="" className="w-full border border-line bg-white" />
        )}
      </Link>
      <div className="flex flex-1 flex-col gap-1 border-line border-t px-3 py-2">
        <Link
          to={`/reports/${report.id}`}
          data-name={report.name}
          className="line-clamp-2 font-serif text-lead leading-snug hover:text-primary"
        >
          {report.name}
        </Link>
        <p className="text-muted-ink text-small">
          {counted(of("figure"), "figure")}, {counted(of("table"), "table")}
          {pages && pages.n > 0 && `, ${counted(pages.n, "page")}`}
        </p>
        <CardDeeds kept={report} all={reports} deeds={deeds} />
      </div>
    </li>
  );
}
