import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { leftOutOf, type RuleFound, type ScreenReading, type Statistic, screenOf } from "../../api/screen";
import type { Table, Variable } from "../../api/studies";
import { useSelectedRows, useSelection } from "../../state/selection";
import { Card } from "../../ui/Card";
import { Notice } from "../../ui/Notice";
import { type Size, useSize } from "../../ui/useSize";
import { Wave } from "../../ui/Wave";
import { WordChoice } from "../../ui/WordChoice";
import { nth } from "../../values";
import { named, titled } from "../../words/kinds";
import { counted, significant, whole } from "../../words/numbers";
import { type Guide, PointPlot } from "../PointPlot";
import { KeepPlate } from "../plates/KeepPlate";
import type { Limits } from "./DecisionForm";
import { ReportCard } from "./ReportCard";
import { RowsMatrix } from "./RowsMatrix";
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
  const { data: found, error } = useQuery({
    ...screenOf(table, variable.symbol, { ...choices.asked, ...(by ? { by: by.symbol } : {}) }),
    placeholderData: keepPreviousData,
  });
  const [room, size] = useSize();
  const remedy = error && "remedy" in error ? String(error.remedy) : "";
  const selected = useSelectedRows(table.id);
  const { without } = choices;
  const ready = size && size.width > 80 && size.height > 60;
  return (
    <div className="screen-grid">
      <div className="flex min-h-0 min-w-0 flex-col gap-3.5">
        <Card
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
              {!without && <KeepPlate />}
            </span>
          }
        >
          {error && <Notice problem={error.message} remedy={remedy} className="m-3" />}
          <div ref={room} className="relative min-h-0 flex-1">
            {ready && found && !without && <ValuesPlot table={table} reading={found} size={size} />}
            {ready && without && <LeftOutPlot {...{ table, variable, size }} statistic={without} />}
            {!found && !error && (
              <Wave moving className="absolute top-1/2 left-1/2 w-24 -translate-x-1/2 text-primary" />
            )}
          </div>
        </Card>
        {found && <RowsMatrix table={table} reading={found} />}
      </div>
      <div className="flex min-h-0 min-w-0 flex-col gap-3.5 overflow-y-auto">
        <SelectedCard table={table} variable={variable} limits={found ? limitsFor(found, selected) : null}>
          {(rows) => <WeighTable {...{ table, variable, by, rows }} />}
        </SelectedCard>
        {found && <ReadingCard reading={found} />}
        {found && <ReportCard key={found.report.join(" ")} said={found.report} />}
      </div>
    </div>
  );
}

/** The fence that holds for all rows at hand: that of all rows, or of their group. */
function limitsFor(reading: ScreenReading, selected: ReadonlySet<number>): Limits | null {
  const rule = reading.rules.find(({ limits_low: low }) => Number.isFinite(low[0])) ?? reading.rules[0];
  if (!rule) return null;
  const groups = new Set<number>();
  for (let i = 0; i < reading.positions.length; i++)
    if (selected.has(nth(reading.positions, i))) groups.add(nth(reading.groups, i));
  const [group] = groups;
  if (groups.size !== 1 || group === undefined) return null;
  const [low, high] = [rule.limits_low[group], rule.limits_high[group]];
  if (low === undefined || high === undefined || !Number.isFinite(low) || !Number.isFinite(high)) return null;
  return { low, high };
}

function ringsOf(reading: ScreenReading): Map<number, "beyond"> {
  return new Map(reading.rows.filter((row) => row.flagged.some(Boolean)).map((row) => [row.row, "beyond"]));
}

/** A number from 0 to 1 that is always the same for a row, so that marks keep their place. */
const scatter = (row: number) => ((row * 2_654_435_761) % 4_294_967_296) / 4_294_967_296;

const RULE_DASH = ["7 3", "2.5 2.5", "9 2 2 2", "1.5 3", "5 5", "12 3"];

function ValuesPlot({ table, reading, size }: { table: Table; reading: ScreenReading; size: Size }) {
  const select = useSelection((state) => state.select);
  const selected = useSelectedRows(table.id);
  const { values, positions, groups, rules, subject } = reading;
  const lanes = reading.within ? reading.group_labels : [""];
  const ys = useMemo(
    () => Float64Array.from(groups, (group, i) => group + (scatter(nth(positions, i)) - 0.5) * 0.56),
    [groups, positions],
  );
  const rings = useMemo(() => ringsOf(reading), [reading]);
  const byRow = useMemo(() => new Map(reading.rows.map((row) => [row.row, row])), [reading]);
  const drawn = rules.filter(({ limits_low: low }) => Array.from(low).some(Number.isFinite));
  const reach = useMemo(
    () => ({ x: drawn.flatMap(({ limits_low: a, limits_high: b }) => [...a, ...b]).filter(within(values)) }),
    [drawn, values],
  );
  const unit = subject.unit ? ` ${subject.unit}` : "";
  return (
    <PointPlot
      label={`${titled(named(subject))} with the limits of the rules`}
      size={size}
      xs={values}
      ys={ys}
      rows={positions}
      xTitle={titled(named(subject))}
      yTitle=""
      lanes={lanes}
      reach={reach}
      selected={selected}
      ringed={rings}
      words={(i) => {
        const row = byRow.get(nth(positions, i));
        const named = row ? rules.filter((_, k) => row.flagged[k]).map(({ rule }) => RULES[rule]) : [];
        return [
          `row ${whole(nth(positions, i))}`,
          `${significant(nth(values, i), 6)}${unit}${reading.within ? `, ${lanes[nth(groups, i)]}` : ""}`,
          ...(named.length > 0 ? [`named by ${named.join(", ")}`] : []),
        ];
      }}
      onSelect={(rows, words, add) => select(table.id, rows, words, add)}
    >
      {(x, y) =>
        drawn.map((rule, k) => (
          <g key={rule.rule}>
            {lanes.map((lane, i) =>
              [rule.limits_low[i], rule.limits_high[i]].map((limit, side) =>
                limit !== undefined &&
                Number.isFinite(limit) &&
                x(limit) >= (x.range()[0] ?? 0) - 1 &&
                x(limit) <= (x.range()[1] ?? 0) + 1 ? (
                  <path
                    // biome-ignore lint/suspicious/noArrayIndexKey: low and high
                    key={`${lane}${side}`}
                    d={`M${x(limit)} ${y(i - 0.44)}V${y(i + 0.44)}`}
                    strokeDasharray={RULE_DASH[k]}
                    className="stroke-[1.3] stroke-series-velvet"
                  />
                ) : null,
              ),
            )}
          </g>
        ))
      }
    </PointPlot>
  );
}

/** Limits that lie not too far beyond the values, so that they can share an axis with them. */
function within(values: ArrayLike<number>) {
  let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (let i = 0; i < values.length; i++) {
    low = Math.min(low, nth(values, i));
    high = Math.max(high, nth(values, i));
  }
  const air = (high - low) * 0.2;
  return (limit: number) => Number.isFinite(limit) && limit > low - air && limit < high + air;
}

type LeftOutPlotProps = { table: Table; variable: Variable; statistic: Statistic; size: Size };

function LeftOutPlot({ table, variable, statistic, size }: LeftOutPlotProps) {
  const { data: found, error } = useQuery(leftOutOf(table, variable.symbol, statistic));
  const select = useSelection((state) => state.select);
  const selected = useSelectedRows(table.id);
  const rings = useMemo(() => new Map(found?.furthest ? [[found.furthest, "beyond" as const]] : []), [found]);
  if (error) return <Notice problem={error.message} remedy="Choose another statistic." className="m-3" />;
  if (!found) return null;
  if (found.whole === null)
    return <p className="p-6 text-center font-serif text-lead text-muted-ink">{found.undefined.values}</p>;
  const guides: Guide[] = [{ on: "y", value: found.whole, words: `with all rows ${significant(found.whole, 5)}` }];
  return (
    <PointPlot
      label={`The ${STATISTICS[statistic]} without each row`}
      size={size}
      xs={found.positions}
      ys={found.values}
      rows={found.positions}
      xTitle="Row left out"
      yTitle={titled(STATISTICS[statistic])}
      guides={guides}
      reach={{ y: [found.whole] }}
      selected={selected}
      ringed={rings}
      words={(i) => [
        `without row ${whole(nth(found.positions, i))}`,
        `${STATISTICS[statistic]} ${significant(nth(found.values, i), 5)}`,
      ]}
      onSelect={(rows, words, add) => select(table.id, rows, words, add)}
    />
  );
}

function ReadingCard({ reading }: { reading: ScreenReading }) {
  return (
    <Card title="Reading" className="shrink-0">
      <p className="px-3.5 py-2 font-serif text-lead">{reading.words.join(" ")}</p>
      {reading.n_flagged > 0 && (
        <p className="px-3.5 pb-2 text-muted-ink">
          {reading.n_undecided === 0 ? "All are decided." : `${counted(reading.n_undecided, "row")} undecided.`}
        </p>
      )}
      <dl className="border-line border-t py-1">
        {reading.rules.map((rule, k) => (
          <RuleWords key={rule.rule} rule={rule} dash={RULE_DASH[k] ?? ""} />
        ))}
      </dl>
    </Card>
  );
}

function RuleWords({ rule, dash }: { rule: RuleFound; dash: string }) {
  const limits =
    rule.low !== null && rule.high !== null
      ? `${significant(rule.low, 4)} to ${significant(rule.high, 4)}`
      : rule.p_value !== null
        ? `p ${rule.p_value < 0.001 ? "< 0.001" : rule.p_value.toFixed(3)}`
        : "";
  return (
    <div className="px-3.5 py-1.5">
      <dt className="flex items-center gap-2">
        {rule.low !== null && (
          <svg aria-hidden="true" width={22} height={8}>
            <path d="M0 4H22" strokeDasharray={dash} className="stroke-[1.4] stroke-series-velvet" />
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
