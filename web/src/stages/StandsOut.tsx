import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { glanceOf, type StandsOut } from "../api/glance";
import type { Table } from "../api/studies";
import { titled } from "../words/kinds";
import { whole } from "../words/numbers";

/** Where a finding is looked at more closely. */
function leadOf({ code, symbols: [one = "", other = ""] }: StandsOut): string {
  const variable = `variable=${encodeURIComponent(one)}`;
  if (code === "skew") return `rescale?${variable}`;
  if (code === "spreads") return `compare?${variable}&by=${encodeURIComponent(other)}&marks=box`;
  if (code === "far") return `screen?${variable}`;
  if (code === "peaks") return `spread?${variable}`;
  return "grid";
}

/** What stands out in a table: findings by rule, each with its evidence and a way to look closer. */
export function StandsOutList({ table, onLeave }: { table: Table; onLeave?: () => void }) {
  const { data, error } = useQuery(glanceOf(table));
  if (error) return <p className="text-muted-ink">{error.message}</p>;
  if (!data) return <p className="text-muted-ink">Looking at all variables…</p>;
  if (data.findings.length === 0)
    return <p>Nothing stands out: no impossible values, strong skewness, second peaks or unequal spreads.</p>;
  return (
    <>
      <ul className="flex flex-col gap-1">
        {data.findings.map((finding) => (
          <li key={finding.words}>
            <Link
              to={`/tables/${table.id}/${leadOf(finding)}`}
              onClick={onLeave}
              className="text-primary underline decoration-primary/40 underline-offset-3"
            >
              {titled(finding.words)}
            </Link>{" "}
            <span className="text-muted-ink text-small">{finding.evidence}</span>
          </li>
        ))}
      </ul>
      {data.sampled > 0 && (
        <p className="mt-1 text-muted-ink text-small">Told from {whole(data.sampled)} rows drawn at random.</p>
      )}
    </>
  );
}
