import type { Shown } from "../../api/tablePlates";
import { Card } from "../../ui/Card";
import { Mark } from "../plates/ChecksCard";

/** What is checked before a table leaves. */
export function TableChecks({ findings }: { findings: Shown["findings"] }) {
  const open = findings.filter(({ holds }) => !holds);
  return (
    <Card
      title="Checks"
      className="shrink-0"
      aside={
        <span className="text-muted-ink text-small">
          {open.length === 0 ? "no problems found" : `${open.length} to look at`}
        </span>
      }
    >
      <ul aria-label="Checks" className="max-h-52 overflow-y-auto px-3.5 py-2">
        {[...open, ...findings.filter(({ holds }) => holds)].map(({ code, holds, words, mend }) => (
          <li key={code} data-code={code} className="flex items-start gap-2.5 py-1">
            <Mark holds={holds} />
            <span className={holds ? "text-muted-ink" : ""}>
              {words} {mend}
            </span>
          </li>
        ))}
      </ul>
    </Card>
  );
}
