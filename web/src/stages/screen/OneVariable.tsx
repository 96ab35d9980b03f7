import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { type RuleFound, type ScreenReading, screenOf } from "../../api/screen";
import type { Table, Variable } from "../../api/studies";
import { seriesOf } from "../../plot/series";
import { useSelectedRows } from "../../state/selection";
import { Card } from "../../ui/Card";
import { WordChoice } from "../../ui/WordChoice";
import { named, titled } from "../../words/kinds";
import { counted, pNumber, significant, whole } from "../../words/numbers";
import type { Spot } from "../PointsOverlay";
import { KeepPlate } from "../plates/KeepPlate";
import type { Limits } from "./DecisionForm";
import { rulesPicture } from "./pictures";
import { ReportCard } from "./ReportCard";
import { RowsMatrix } from "./RowsMatrix";
import { RowsPicture } from "./RowsPicture";
import { SelectedCard } from "./SelectedCard";
import { RULES, type ScreenChoices, STATISTICS, type useScreenChoices } from "./useScreenChoices";
import { WeighTable } from "./WeighCard";

type OneVariableProps = {
  table: Table;
  variable: Variable;
  by: Variable | undefined;
  choices: ScreenChoices;
  change: ReturnType<typeof useScreenChoices>["change"];
};

/** One variable: its values with the limits of each rule, the rows named, and what would change without them. */
export function OneVariable({ table, variable, by, choices, change }: OneVariableProps) {
  const { data: result } = useQuery({
    ...screenOf(table, variable.symbol, { ...choices.settings, ...(by ? { by: by.symbol } : {}) }),
    placeholderData: keepPreviousData,
  });
  const selected = useSelectedRows(table.id);
  const { without } = choices;
  return (
    <div className="screen-grid">
      <div className="flex min-h-0 min-w-0 flex-col gap-3.5">
        <Card
          help="rules"
          title={without ? `${titled(STATISTICS[without])} without each row` : "Values and limits"}
          className="min-h-[230px] flex-1"
          aside={
            <span className="flex items-baseline gap-3">
              <WordChoice
                label="Picture"
                shown={without ? `the ${STATISTICS[without]} without each row` : "the values"}
                value={without ?? ""}
                options={[
                  { value: "", label: "the values", note: "with the limits of each rule" },
                  ...Object.entries(STATISTICS).map(([value, words]) => ({
                    value,
                    label: `the ${words} without each row`,
                    note: "which row carries it",
                  })),
                ]}
                onChoose={(value) => change({ without: value || null })}
              />
              <KeepPlate />
            </span>
          }
        >
          <RowsPicture
            {...{ table }}
            picture={rulesPicture(table, variable, by, choices)}
            view="screen figure"
            label={
              without
                ? `The ${STATISTICS[without]} without each row`
                : `${titled(named(variable))} with the limits of the rules`
            }
            {...(without ? {} : { wordsOf: (spot: Spot) => ruleWords(result, spot) })}
          />
        </Card>
        {result && <RowsMatrix table={table} reading={result} />}
      </div>
      <div className="flex min-h-0 min-w-0 flex-col gap-3.5 overflow-y-auto">
        <SelectedCard table={table} variable={variable} limits={result ? limitsFor(result, selected) : null}>
          {(rows) => <WeighTable {...{ table, variable, by, rows }} />}
        </SelectedCard>
        {result && <ReadingCard reading={result} />}
        {result && <ReportCard key={result.report.join(" ")} said={result.report} />}
      </div>
    </div>
  );
}

/** The fence that holds for all selected rows: that of all rows, or of their group. */
function limitsFor(reading: ScreenReading, selected: ReadonlySet<number>): Limits | null {
  const rule = reading.rules.find(({ limits_low: low }) => Number.isFinite(low[0])) ?? reading.rules[0];
  if (!rule) return null;
  // Without groups all rows share the limits; within groups, rows that are named know theirs.
  const groups = new Set<number>();
  for (const row of selected) {
    const group = reading.rows.find((other) => other.row === row)?.group;
    groups.add(reading.within ? reading.group_labels.indexOf(group ?? "") : 0);
  }
  const [group] = groups;
  if (groups.size !== 1 || group === undefined || group < 0) return null;
  const [low, high] = [rule.limits_low[group], rule.limits_high[group]];
  if (low === undefined || high === undefined || !Number.isFinite(low) || !Number.isFinite(high)) return null;
  return { low, high };
}

/** What is said of a row: its value, and which rules name it. */
function ruleWords(reading: ScreenReading | undefined, { row, across }: Spot): string[] {
  const result = reading?.rows.find((other) => other.row === row);
  const unit = reading?.subject.unit ? ` ${reading.subject.unit}` : "";
  const naming = result
    ? (reading?.rules ?? []).filter((_, k) => result.flagged[k]).map(({ rule }) => RULES[rule])
    : [];
  return [
    `${significant(across, 6)}${unit}${result?.group ? `, ${result.group}` : ""}`,
    ...(naming.length > 0 ? [`flagged by ${naming.join(", ")}`] : []),
  ];
}

function ReadingCard({ reading }: { reading: ScreenReading }) {
  return (
    <Card help="rules" title="Reading" className="shrink-0">
      <p className="px-3.5 py-2 font-serif text-lead">{reading.words.join(" ")}</p>
      {reading.n_flagged > 0 && (
        <p className="px-3.5 pb-2 text-muted-ink">
          {reading.n_undecided === 0 ? "All are decided." : `${counted(reading.n_undecided, "row")} undecided.`}
        </p>
      )}
      <dl className="border-line border-t py-1">
        {reading.rules.map((rule, k) => (
          <RuleWords key={rule.rule} rule={rule} place={k} />
        ))}
      </dl>
    </Card>
  );
}

function RuleWords({ rule, place }: { rule: RuleFound; place: number }) {
  const limits =
    rule.low !== null && rule.high !== null
      ? `${significant(rule.low, 4)} to ${significant(rule.high, 4)}`
      : rule.p_value !== null
        ? `p ${pNumber(rule.p_value)}`
        : "";
  return (
    <div className="px-3.5 py-1.5">
      <dt className="flex items-center gap-2">
        {rule.low !== null && (
          <svg aria-hidden="true" width={22} height={8}>
            <path d="M0 4H22" className={`stroke-[1.6] ${seriesOf(place).stroke}`} />
          </svg>
        )}
        <span className="font-semibold">{RULES[rule.rule]}</span>
        <span className="figures ml-auto text-muted-ink text-small">{limits}</span>
        <span className="figures">{whole(rule.n_flagged)}</span>
      </dt>
      <dd className="text-muted-ink text-small">
        {[rule.why, rule.assumes, ...rule.cautions].filter(Boolean).join(" ")}
      </dd>
    </div>
  );
}
