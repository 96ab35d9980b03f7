import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Cross, classesOf, crossOf } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import { Card } from "../../ui/Card";
import { Choices } from "../../ui/Choices";
import { Notice } from "../../ui/Notice";
import { TakeTable } from "../../ui/TakeTable";
import { Tick } from "../../ui/Tick";
import { isNumeric, missingWords } from "../../words/kinds";
import { counted, fixed, whole } from "../../words/numbers";
import { AssociationCard } from "../AssociationCard";
import { KeepPlate } from "../plates/KeepPlate";
import { KeepTable } from "../tables/KeepTable";
import { ClassesChoice } from "./ClassesChoice";
import type { useSpreadChoices } from "./useSpreadChoices";

const SHARES = { counts: "rows", expected: "expected", row: "% across", column: "% down", all: "% of all" } as const;
type Share = keyof typeof SHARES;
const SHARE_WORDS: Record<Share, string> = {
  counts: "each cell: rows",
  expected: "each cell: rows expected of variables that have nothing to do with each other",
  row: "each cell: percent of its line",
  column: "each cell: percent of its column",
  all: "each cell: percent of all rows counted",
};

type CrossTableProps = {
  table: Table;
  result: Cross;
  variable: Variable;
  by: Variable;
  missing: boolean;
  onMissing: () => void;
};
type CrossSpreadProps = ReturnType<typeof useSpreadChoices> & { table: Table; variable: Variable; by: Variable };

/** Levels or classes of a variable within the levels of another, over the whole width. */
export function CrossSpread({ table, variable, by, choices, change }: CrossSpreadProps) {
  const [missing, setMissing] = useState(false);
  const { data: classes } = useQuery({
    ...classesOf(table, variable.symbol, choices.classes),
    enabled: isNumeric(variable),
  });
  const { data: result, error } = useQuery({
    ...crossOf(table, variable.symbol, { by: by.symbol, missing, ...(isNumeric(variable) ? choices.classes : {}) }),
    placeholderData: keepPreviousData,
  });
  const remedy = error && "remedy" in error ? String(error.remedy) : "";
  return (
    <div className="col-span-full flex min-h-0 flex-wrap items-start gap-3.5">
      <Card
        help="frequencies"
        title={`Rows by ${variable.label} and ${by.label}`}
        className="max-h-full flex-1"
        aside={<KeepPlate />}
        footer={classes && <ClassesChoice {...{ table, variable, classes, choices }} onChange={change} />}
      >
        {error && <Notice problem={error.message} remedy={remedy} className="m-3.5" />}
        {result && !error && (
          <CrossTable {...{ table, result, variable, by, missing }} onMissing={() => setMissing(!missing)} />
        )}
      </Card>
      {result && !error && (
        <AssociationCard
          result={result}
          words={result.words}
          name={`${variable.label} by ${by.label}`}
          className="w-[318px]"
        />
      )}
    </div>
  );
}

/** A line for each level or class, a column for each level of the other. */
function CrossTable({ table, result, variable, by, missing, onMissing }: CrossTableProps) {
  const [share, setShare] = useState<Share>("counts");
  const { columns, rows, totals, n } = result.table;
  type Line = (typeof rows)[number];
  const values = (line: Line) =>
    ({
      counts: line.counts,
      expected: line.expected,
      row: line.row_percents,
      column: line.column_percents,
      all: line.percents,
    })[share];
  const write = (value: number | null) => {
    if (value === null) return "";
    return share === "counts" ? whole(value) : fixed(value, 1);
  };
  const sum = (line: Line) => {
    if (share === "counts" || share === "expected") return whole(line.total);
    if (share === "row") return line.total > 0 ? "100" : "";
    return write(line.total_percent);
  };
  const cells = (line: Line) => [...values(line).map(write), sum(line)];
  const head = [variable.label, ...columns, "all"];
  const lines = [...rows, totals];
  const nMissing = result.used.missing + result.without_level;
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="flex flex-wrap items-center gap-x-5 gap-y-1 border-line border-b px-3.5 py-1.5 text-small">
        <Choices label="What a cell says" options={SHARES} chosen={share} onChoose={setShare} />
        {nMissing > 0 && <Tick checked={missing} onChange={onMissing} label="with missing values" />}
        <span className="text-muted-ink">
          {SHARE_WORDS[share]}; {counted(n, "row")} counted
        </span>
        <span className="ml-auto flex gap-2">
          {!isNumeric(variable) && (
            <KeepTable
              name={`${variable.label} by ${by.label}`}
              source={{
                kind: "frequencies",
                table: table.id,
                variable: variable.symbol,
                by: by.symbol,
                percents: share === "row" ? "rows" : share === "all" ? "all" : "columns",
              }}
            />
          )}
          <TakeTable
            name={`${variable.label} by ${by.label}`}
            table={() => ({ head, body: lines.map((line) => [line.label, ...cells(line)]) })}
          />
        </span>
      </div>
      <div className="min-h-0 flex-1 overflow-auto">
        <table className="figures min-w-full">
          <thead className="sticky top-0 z-10 bg-raised text-muted-ink text-small">
            <tr>
              {head.map((words, i) => (
                <th
                  // biome-ignore lint/suspicious/noArrayIndexKey: two levels may have one name
                  key={i}
                  title={words}
                  className={`max-w-44 truncate border-line border-b px-3.5 py-1 font-normal ${i === 0 ? "sticky left-0 bg-raised text-left" : "text-right"}`}
                >
                  {words}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {lines.map((line, place) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: a line is its place
              <tr key={place} className={line === totals ? "font-semibold" : "hover:bg-surface"}>
                <th className="sticky left-0 max-w-72 truncate border-line border-b bg-raised px-3.5 py-1 text-left font-normal">
                  {line.label}
                </th>
                {cells(line).map((text, i) => (
                  <td
                    // biome-ignore lint/suspicious/noArrayIndexKey: a cell is its place
                    key={i}
                    className="border-line border-b px-3.5 py-1 text-right"
                  >
                    {text}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="border-line border-t px-3.5 py-1.5 text-muted-ink text-small">
        {[
          result.used.missing > 0 &&
            `${counted(result.used.missing, "row")} missing in ${variable.label} (${missingWords(result.used.missing_counts)})`,
          result.without_level > 0 && `${counted(result.without_level, "row")} without ${by.label}`,
          result.outside > 0 && `${counted(result.outside, "row")} outside what is shown`,
        ]
          .filter(Boolean)
          .join("; ") || "Every row is counted."}
      </p>
    </div>
  );
}
