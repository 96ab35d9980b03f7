import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { LISTED } from "../../api/choices.gen";
import { type Weighed, weighOf } from "../../api/screen";
import type { Table, Variable } from "../../api/studies";
import { TakeTable } from "../../ui/TakeTable";
import { keysOf } from "../../values";
import { titled } from "../../words/kinds";
import { counted, decimalsFor, fixed, pNumber, significant } from "../../words/numbers";
import { SHAPIRO_NAMES } from "../spread/statistics";

type Change = Weighed["changes"][number];
const NAMES: Record<string, string> = {
  ...Object.assign({}, ...keysOf(LISTED).map((id) => (LISTED[id].back ? {} : LISTED[id].numbers))),
  shapiro_w: SHAPIRO_NAMES[0],
  shapiro_p: SHAPIRO_NAMES[1],
};
const WITHOUT_UNIT = ["skewness", "kurtosis", "shapiro_w", "shapiro_p"];

function written(change: Change, value: number | null, decimals: number): string {
  if (value === null) return "none";
  if (change.name === "shapiro_p") return pNumber(value);
  return fixed(value, WITHOUT_UNIT.includes(change.name) ? 3 : decimals);
}

type WeighCardProps = { table: Table; variable: Variable; by: Variable | undefined; rows: number[] };

/** Each result with the selected rows and without them, before anything is decided. */
export function WeighTable({ table, variable, by, rows }: WeighCardProps) {
  const { data: result } = useQuery({
    ...weighOf(table, variable.symbol, by?.symbol ?? "", rows),
    placeholderData: keepPreviousData,
  });
  // Its room is kept until it is there, so that the form below lies still under the hand.
  if (!result) return <div className="h-[306px]" />;
  const decimals = decimalsFor(variable.decimals, result.changes.find(({ name }) => name === "sd")?.with_all ?? null);
  const lines = result.changes
    .filter(({ name, with_all: a }) => name !== "geometric_mean" || a !== null)
    .map((change) => ({
      name:
        change.name === "difference"
          ? `${change.group} − ${result.first_group}`
          : titled(NAMES[change.name] ?? change.name),
      cells: [written(change, change.with_all, decimals), written(change, change.without, decimals)],
      moved: change.in_ses === null ? "" : `${change.in_ses > 0 ? "+" : ""}${significant(change.in_ses, 2)} SE`,
    }));
  const cell = "border-line border-b px-2 py-[3px] text-right";
  return (
    <div>
      <p className="flex items-baseline justify-between px-3.5 py-1.5 text-muted-ink text-small">
        <span>with all, and without {result.rows === 1 ? "this value" : `these ${counted(result.rows, "value")}`}</span>
        <TakeTable
          name={`${variable.label} without rows`}
          table={() => ({
            head: ["", "with all", "without", "moved by"],
            body: lines.map(({ name, cells, moved }) => [name, ...cells, moved]),
          })}
        />
      </p>
      <table aria-label="Results with and without" className="figures w-full">
        <tbody>
          {lines.map(({ name, cells, moved }) => (
            <tr key={name} className="hover:bg-surface">
              <th className={`${cell} text-left! font-normal`}>{name}</th>
              <td className={cell}>{cells[0]}</td>
              <td className={`${cell} font-semibold`}>{cells[1]}</td>
              <td className={`${cell} text-muted-ink text-small`}>{moved}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
