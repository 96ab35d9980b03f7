import { useState } from "react";
import type { GroupSpread, Split, Spread } from "../../api/readings";
import { listHere, usePreferences } from "../../state/preferences";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { TakeTable } from "../../ui/TakeTable";
import { fixed, pNumber, whole } from "../../words/numbers";
import { KeepTable } from "../tables/KeepTable";
import { linesOf } from "../tables/linesOf";
import { StatisticsChoice } from "./StatisticsChoice";
import { lineOf, listedOf, percentLines, SHAPIRO_NAMES, USUAL } from "./statistics";

const FEW = 4;

/** The chosen statistics for each level; levels down or across, and copied as a real table. */
export function NumbersByGroup({ table, by, split }: { table: string; by: string; split: Split }) {
  const chosen = usePreferences((state) => listHere(state).statistics) ?? USUAL;
  const percents = usePreferences((state) => listHere(state).percents);
  const [across, setAcross] = useState(split.groups.length <= FEW);
  const listed = listedOf(chosen, split.groups);
  const columns = split.groups.map((group) => {
    const spread = { summary: group.summary, subject: split.subject, back: group.back } as Spread;
    const points = percentLines({ ...spread, percent_points: group.percent_points }, percents);
    return [
      whole(group.n),
      ...listed.map((statistic) => lineOf(statistic, spread).figures),
      ...points.map(({ figures }) => figures),
      ...shapiroWords(group),
    ];
  });
  const shares = percents.slice(0, split.groups[0]?.percent_points.length ?? 0).map((share) => `${share} % point`);
  const first = { ...split.groups[0], subject: split.subject } as unknown as Spread;
  const labels = listed.map((statistic) =>
    statistic.id.startsWith("back") ? lineOf(statistic, first).label : statistic.label,
  );
  const names = ["n", ...labels, ...shares, ...SHAPIRO_NAMES];
  const levels = split.groups.map(({ label }) => label);
  const [head, rows, cells] = across
    ? [levels, names, names.map((_, i) => columns.map((column) => column[i] ?? ""))]
    : [names, levels, columns];
  return (
    <Card
      help="reading"
      title={`Numbers by ${split.by}`}
      className="min-h-[190px] shrink"
      aside={
        <span className="flex gap-2">
          <Button look="word" className="text-small!" onClick={() => setAcross(!across)}>
            {across ? "levels down" : "levels across"}
          </Button>
          <TakeTable
            name={`${split.subject.label} by ${split.by}`}
            table={() => ({ head: [split.by, ...head], body: rows.map((name, i) => [name, ...(cells[i] ?? [])]) })}
          />
          <KeepTable
            name={`${split.subject.label} by ${split.by}`}
            source={{
              kind: "summary",
              table,
              variables: [split.subject.symbol],
              by,
              lines: linesOf(chosen),
              total: false,
              turned: !across,
            }}
          />
          <StatisticsChoice chosen={chosen} />
        </span>
      }
    >
      <div className="min-h-0 overflow-auto">
        <table className="figures w-max min-w-full text-right">
          <thead className="sticky top-0 z-10 bg-raised text-muted-ink text-small">
            <tr>
              <th className="sticky left-0 border-line border-b bg-raised px-3 py-1 text-left font-normal">
                {split.by}
              </th>
              {head.map((name) => (
                <th key={name} className="whitespace-nowrap border-line border-b px-2.5 py-1 font-normal">
                  {name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((name, i) => (
              <tr key={name} className="hover:bg-surface">
                <th className="sticky left-0 max-w-32 truncate border-line border-b bg-raised px-3 py-1 text-left font-semibold">
                  {name}
                </th>
                {(cells[i] ?? []).map((text, k) => (
                  <td key={head[k]} className="whitespace-nowrap border-line border-b px-2.5 py-1">
                    {text}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </Card>
  );
}

function shapiroWords({ shapiro_w: w, shapiro_p: p }: GroupSpread): [string, string] {
  return w === null || p === null ? ["none", "none"] : [fixed(w, 3), pNumber(p)];
}
