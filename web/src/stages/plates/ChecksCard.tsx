import type { Finding, PlateWords } from "../../api/plates";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { changed, type Edit } from "./editing";

type ChecksCardProps = { words: PlateWords | undefined; own: Finding[]; edit: Edit };
type Found = { code: string; holds: boolean; words: string; mend: string };

/** What is checked before a plate leaves, each finding with the button that mends it. */
export function ChecksCard({ words, own, edit }: ChecksCardProps) {
  const findings = [...(words?.findings ?? []), ...own];
  const mend = ({ changes, say }: Finding) =>
    edit((now) => {
      let next = now;
      for (const { path, value } of changes) next = changed(next, path as (string | number)[], value);
      if (say) {
        const text = `${next.caption.text ?? words?.caption ?? ""} ${say}`.trim();
        next = { ...next, caption: { text, written: words?.caption ?? "" } };
      }
      return next;
    });
  return <FindingsCard findings={findings} onMend={mend} />;
}

type FindingsCardProps<Finding extends Found> = {
  findings: Finding[];
  /** Mends what was found; without it, what would help is said. */
  onMend?: (finding: Finding) => void;
};

/** What was checked, what deserves a look first. */
export function FindingsCard<Finding extends Found>({ findings, onMend }: FindingsCardProps<Finding>) {
  const open = findings.filter(({ holds }) => !holds);
  const fine = findings.filter(({ holds }) => holds);
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
        {[...open, ...fine].map((finding, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: findings of one code differ by their place alone
          <li key={`${finding.code} ${i}`} data-code={finding.code} className="flex items-start gap-2.5 py-1">
            <Mark holds={finding.holds} />
            <span className={`min-w-0 flex-1 ${finding.holds ? "text-muted-ink" : ""}`}>
              {finding.words}
              {!onMend && ` ${finding.mend}`}
            </span>
            {onMend && finding.mend && (
              <Button look="word" className="text-small! shrink-0" onClick={() => onMend(finding)}>
                {finding.mend}
              </Button>
            )}
          </li>
        ))}
      </ul>
    </Card>
  );
}

function Mark({ holds }: { holds: boolean }) {
  return (
    <svg viewBox="0 0 12 12" className={`mt-[3px] size-3 shrink-0 ${holds ? "text-good" : "text-caution"}`}>
      <title>{holds ? "holds" : "to look at"}</title>
      {holds ? (
        <path
          d="M2 6.5l3 3 5-6.500"
          fill="none"
          stroke="currentColor"
          strokeWidth="2"
          strokeLinecap="round"
          strokeLinejoin="round"
        />
      ) : (
        <circle cx="6" cy="6" r="4.300" fill="none" stroke="currentColor" strokeWidth="2" strokeDasharray="3 2" />
      )}
    </svg>
  );
}
