import type { NormalityReading, Spread } from "../../api/readings";
import { listHere, usePreferences } from "../../state/preferences";
import { Card } from "../../ui/Card";
import { SCROLLS } from "../../ui/scrolls";
import { TakeTable } from "../../ui/TakeTable";
import { fixed, pNumber, significant } from "../../words/numbers";
import { StatisticsChoice } from "../spread/StatisticsChoice";
import { lineOf, listedOf, SHAPIRO_NAMES, USUAL } from "../spread/statistics";

type ChangesProps = {
  before: Spread;
  after: Spread;
  normalBefore: NormalityReading | undefined;
  normalAfter: NormalityReading | undefined;
};
type ChangeCardProps = Omit<ChangesProps, "before" | "after"> & Record<"before" | "after", Spread | undefined>;

/** A change to so many decimals; what rounds to nothing is none. */
const difference = (by: number, digits: number) =>
  Math.abs(by) < 0.5 * 10 ** -digits ? "0" : `${by > 0 ? "+" : ""}${fixed(by, digits)}`;

/** Each statistic on both scales; while they are on their way, the place where they will stand. */
export function ChangeCard({ before, after, ...normal }: ChangeCardProps) {
  if (before && after) return <Changes {...{ before, after }} {...normal} />;
  return (
    <Card title="What changes" className={HELD}>
      {null}
    </Card>
  );
}

const HELD = "min-h-[264px] shrink";

/** Each statistic on both scales, with the change of those that have no unit. */
function Changes({ before, after, normalBefore, normalAfter }: ChangesProps) {
  const chosen = usePreferences((state) => listHere(state).statistics) ?? USUAL;
  const listed = listedOf(chosen, []).filter(({ id }) => !id.startsWith("geometric"));
  const change = (a: number | null | undefined, b: number | null | undefined, digits = 2) =>
    typeof a === "number" && typeof b === "number" ? difference(b - a, digits) : "";
  const w = (reading: NormalityReading | undefined) => {
    const test = reading?.check.shapiro_wilk;
    return test && test.statistic !== null && test.p_value !== null
      ? [fixed(test.statistic, 3), pNumber(test.p_value)]
      : ["none", "none"];
  };
  const r = (reading: NormalityReading | undefined) => reading?.check.qq_correlation ?? null;
  const lines = [
    {
      name: "Q-Q correlation",
      cells: [normalBefore, normalAfter].map((normal) => {
        const correlation = r(normal);
        return correlation === null ? "none" : fixed(correlation, 3);
      }),
      change: change(r(normalBefore), r(normalAfter), 3),
    },
    ...SHAPIRO_NAMES.map((name, i) => ({
      name,
      cells: [w(normalBefore)[i] ?? "", w(normalAfter)[i] ?? ""],
      change: "",
    })),
    ...listed.map((statistic) => ({
      name: statistic.label,
      cells: [lineOf(statistic, before).figures, lineOf(statistic, after).figures],
      change:
        statistic.id === "skewness" || statistic.id === "kurtosis"
          ? change(before.summary[statistic.id], after.summary[statistic.id])
          : "",
    })),
  ];
  const head = ["", before.subject.unit || "before", after.subject.unit || "after", "change"];
  const { back } = after;
  const cell = "border-line border-b px-2 py-1 text-right";
  return (
    <Card
      title="What changes"
      className={HELD}
      aside={
        <span className="flex gap-2">
          <TakeTable
            name={`${before.subject.label} rescaled`}
            table={() => ({ head, body: lines.map(({ name, cells, change: by }) => [name, ...cells, by]) })}
          />
          <StatisticsChoice chosen={chosen} />
        </span>
      }
    >
      <div className="min-h-0 overflow-auto" {...SCROLLS}>
        {back && back.mean !== null && (
          <p className="border-line border-b px-3 py-2 font-serif text-lead">
            {back.name} {significant(back.mean, 4)}
            {back.low !== null && back.high !== null && `, ${significant(back.low, 4)} to ${significant(back.high, 4)}`}
            {back.unit && ` ${back.unit}`}: the mean of this scale and its {100 * after.summary.level} % interval,
            back-transformed.
          </p>
        )}
        <table className="figures w-full">
          <thead className="sticky top-0 bg-raised text-muted-ink text-small">
            <tr>
              {head.map((words, i) => (
                <th
                  // biome-ignore lint/suspicious/noArrayIndexKey: four places
                  key={i}
                  className={`${cell} font-normal`}
                >
                  {words}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {lines.map(({ name, cells, change: by }) => (
              <tr key={name} className="hover:bg-surface">
                <th className={`${cell} whitespace-nowrap text-left! font-normal`}>{name}</th>
                <td className={cell}>{cells[0]}</td>
                <td className={`${cell} font-semibold`}>{cells[1]}</td>
                <td className={`${cell} text-muted-ink`}>{by}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </Card>
  );
}
