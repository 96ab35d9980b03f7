import type { ReactNode } from "react";
import { pageAddress, type Report } from "../../api/reports";
import { Card } from "../../ui/Card";
import { Notice } from "../../ui/Notice";
import { SCROLLS } from "../../ui/scrolls";
import { counted } from "../../words/numbers";
import { Progress } from "../plates/Progress";
import type { usePages } from "./usePages";

type PagesCardProps = {
  report: Report;
  pages: ReturnType<typeof usePages>;
  /** Whether what was edited is still on its way. */
  waiting: boolean;
  aside: ReactNode;
};

/** The pages of a report as they leave: those made last, until newer ones are there. */
export function PagesCard({ report, pages: { pages, current, share, trouble, stop }, waiting, aside }: PagesCardProps) {
  const n = pages?.n ?? 0;
  return (
    <Card
      help="reports"
      title="Pages"
      className="min-h-[320px] flex-1"
      aside={aside}
      footer={
        share !== null ? (
          <div className="w-full">
            <Progress share={share} words={`${Math.round(share * 100)} %`} onStop={stop} />
          </div>
        ) : (
          <span role="status">{n === 0 ? "" : `${counted(n, "page")}${current && !waiting ? "" : ", as before"}`}</span>
        )
      }
    >
      {trouble && <Notice problem={trouble} className="m-3" />}
      <ol aria-label="Pages" className="min-h-0 flex-1 overflow-y-auto bg-surface p-4" {...SCROLLS}>
        {Array.from({ length: n }, (_, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a page is its place
          <li key={i} className="mb-4 last:mb-0">
            <img
              src={pageAddress(report.id, i + 1, pages?.key ?? "")}
              alt={`Page ${i + 1} of ${n}`}
              loading="lazy"
              className={`w-full border border-line bg-white shadow-sm ${report.document.paper === "letter" ? "aspect-[215.9/279.4]" : "aspect-[210/297]"}`}
            />
          </li>
        ))}
      </ol>
    </Card>
  );
}
