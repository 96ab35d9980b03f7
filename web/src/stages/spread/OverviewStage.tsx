import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { type Overview, overviewOf, type Spread } from "../../api/readings";
import { SmallShape } from "../../plot/SmallShape";
import { listHere, usePreferences } from "../../state/preferences";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { Notice } from "../../ui/Notice";
import { SCROLLS } from "../../ui/scrolls";
import { TakeTable } from "../../ui/TakeTable";
import { Wave } from "../../ui/Wave";
import { named } from "../../words/kinds";
import { counted, fixed, pNumber, whole } from "../../words/numbers";
import { StandsOutList } from "../StandsOut";
import { useTableHere } from "../TableRoute";
import { KeepTable } from "../tables/KeepTable";
import { linesOf } from "../tables/linesOf";
import { StatisticsChoice } from "./StatisticsChoice";
import { lineOf, listedOf, type Statistic, USUAL } from "./statistics";

type Numbers = Overview["variables"][number];

/** What stands in a cell; beside what is back-transformed, its unit. */
function figuresOf(statistic: Statistic, numbers: Numbers): string {
  const { figures, aside } = lineOf(statistic, numbers as unknown as Spread);
  if (!statistic.id.startsWith("back")) return figures;
  return numbers.back ? `${figures} ${aside}`.trim() : "";
}

const departure = ({ qq_correlation: r }: Numbers) => (r === null ? -1 : 1 - r);

/** How are all variables distributed? Their numbers side by side, and how far each departs from normal. */
export function OverviewStage() {
  const table = useTableHere();
  const useQueryResult = useQuery(overviewOf(table, 7));
  const chosen = usePreferences((state) => listHere(state).statistics) ?? USUAL;
  const [byDeparture, setByDeparture] = useState(false);
  const [across, setAcross] = useState(false);
  const variables = [...(useQueryResult.data?.variables ?? [])];
  const listed = listedOf(chosen, variables);
  if (byDeparture) variables.sort((a, b) => departure(b) - departure(a));
  const names = ["n", "missing", "Q-Q correlation", "test", "p, adjusted", ...listed.map(({ label }) => label)];
  const columns = variables.map((variable) => [
    whole(variable.used.n),
    variable.used.missing > 0 ? whole(variable.used.missing) : "",
    variable.qq_correlation === null ? "none" : fixed(variable.qq_correlation, 3),
    variable.statistic === null
      ? "none"
      : `${variable.test === "Shapiro-Wilk" ? "W" : "A²"} ${fixed(variable.statistic, 3)}`,
    pNumber(variable.holm),
    ...listed.map((statistic) => figuresOf(statistic, variable)),
  ]);
  const labels = variables.map(({ subject }) => named(subject));
  const cells = across ? names.map((_, i) => columns.map((column) => column[i] ?? "")) : columns;
  const [head, rows] = across ? [labels, names] : [names, labels];
  const shapeOf = (symbol: string) => table.variables.find((variable) => variable.symbol === symbol);
  const variableHead = ({ subject }: Numbers) => {
    const variable = shapeOf(subject.symbol);
    return (
      <Link
        to={`/tables/${table.id}/spread?variable=${encodeURIComponent(subject.symbol)}`}
        className="flex items-center gap-2 text-primary hover:underline"
      >
        {variable && <SmallShape heights={variable.shape} bars={variable.kind !== "continuous"} />}
        <span className="truncate font-semibold">{named(subject)}</span>
      </Link>
    );
  };
  const cell = "whitespace-nowrap border-line border-b px-2.5 py-1 text-right";
  return (
    <div className="flex h-full min-h-0 flex-col px-4.5 pb-3.5">
      <div className="flex min-h-[56px] flex-wrap items-center py-2">
        <h1 className="text-head">
          Spread of <span className="text-accent">all numeric variables</span> in{" "}
          <span className="text-accent">{table.name}</span>
        </h1>
      </div>
      {useQueryResult.error && <Notice problem={useQueryResult.error.message} className="mb-3" />}
      <Card title="What stands out here" className="mb-3.5 shrink-0">
        <div className="max-h-52 overflow-y-auto px-3.5 py-2.5" {...SCROLLS}>
          <StandsOutList table={table} />
        </div>
      </Card>
      <Card
        title={counted(variables.length, "variable")}
        className="min-h-0"
        aside={
          <span className="flex gap-3">
            <Button look="word" className="text-small!" onClick={() => setByDeparture(!byDeparture)}>
              {byDeparture ? "in the table's order" : "least normal first"}
            </Button>
            <Button look="word" className="text-small!" onClick={() => setAcross(!across)}>
              {across ? "variables down" : "variables across"}
            </Button>
            <TakeTable
              name={`${table.name} all variables`}
              table={() => ({ head: ["", ...head], body: rows.map((name, i) => [name, ...(cells[i] ?? [])]) })}
            />
            <KeepTable
              name={`Variables of ${table.name}`}
              source={{
                kind: "summary",
                table: table.id,
                variables: variables.map(({ subject }) => subject.symbol),
                lines: linesOf(chosen),
              }}
            />
            <StatisticsChoice chosen={chosen} />
          </span>
        }
        footer={
          useQueryResult.data && (
            <span>
              Decimals: those of the data plus one. p values by Shapiro-Wilk to 5,000 values, else Anderson-Darling,
              adjusted for {counted(useQueryResult.data.n_judged, "variable")} after Holm: how often chance alone would
              make any of them so small. How far a variable departs is said by its skewness and Q-Q correlation.
            </span>
          )
        }
      >
        {useQueryResult.isPending && <Wave moving className="mx-auto my-10 w-24 text-primary" />}
        <div className="min-h-0 overflow-auto">
          <table className="figures w-max min-w-full">
            <thead className="sticky top-0 z-10 bg-raised text-muted-ink text-small">
              <tr>
                <th className="sticky left-0 border-line border-b bg-raised px-3.5 py-1 text-left font-normal">
                  {across ? "statistic" : "variable"}
                </th>
                {across
                  ? variables.map((variable) => (
                      <th key={variable.subject.symbol} className={`${cell} font-normal`}>
                        {variableHead(variable)}
                      </th>
                    ))
                  : names.map((name) => (
                      <th key={name} className={`${cell} font-normal`}>
                        {name}
                      </th>
                    ))}
              </tr>
            </thead>
            <tbody>
              {rows.map((name, i) => (
                <tr key={across ? name : variables[i]?.subject.symbol} className="hover:bg-surface">
                  <th className="sticky left-0 max-w-60 border-line border-b bg-raised px-3.5 py-1 text-left font-semibold">
                    {across ? name : variables[i] && variableHead(variables[i])}
                  </th>
                  {(cells[i] ?? []).map((text, k) => (
                    // biome-ignore lint/suspicious/noArrayIndexKey: the cells are places of the table
                    <td key={k} className={cell}>
                      {text}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
        {useQueryResult.data && variables.length === 0 && (
          <p className="px-3.5 py-6 font-serif text-lead text-muted-ink">
            No variable of this table is a number. Change a kind under its variables, if it should be.
          </p>
        )}
      </Card>
    </div>
  );
}
