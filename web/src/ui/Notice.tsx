import type { ReactNode } from "react";

type NoticeProps = { problem: string; remedy?: string; children?: ReactNode; className?: string };

/** What happened, and what to do, where the reader is looking. */
export function Notice({ problem, remedy, children, className = "" }: NoticeProps) {
  return (
    <div
      role="alert"
      className={`flex gap-2.5 rounded-lg border border-caution/40 bg-caution-tint px-3 py-2 text-ink ${className}`}
    >
      <svg aria-hidden="true" viewBox="0 0 16 16" className="mt-0.5 size-4 shrink-0 text-caution">
        <circle cx="8" cy="8" r="6.5" fill="none" stroke="currentColor" strokeWidth="1.5" strokeDasharray="3 2" />
        <path d="M8 4.5v4M8 11v.5" stroke="currentColor" strokeWidth="1.800" strokeLinecap="round" />
      </svg>
      <div>
        <p>{problem}</p>
        {remedy && <p className="text-muted-ink">{remedy}</p>}
        {children}
      </div>
    </div>
  );
}
