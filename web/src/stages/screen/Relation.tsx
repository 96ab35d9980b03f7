import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { type Pulled, pullOf, type RelationReading, type RelationSettings, relationOf } from "../../api/screen";
import type { Table, Variable } from "../../api/studies";
import type { PanelPlan } from "../../figure/layout";
import { useSelectedRows } from "../../state/selection";
import { Card } from "../../ui/Card";
import { Notice } from "../../ui/Notice";
import { TakeTable } from "../../ui/TakeTable";
import { Wave } from "../../ui/Wave";
import { WordChoice } from "../../ui/WordChoice";
import { choicesOf, keysOf } from "../../values";
import { counted, fixed, percent, pNumber, pValue, significant, whole } from "../../words/numbers";
import { LongWork } from "../LongWork";
import type { Spot } from "../PointsOverlay";
import { KeepPlate } from "../plates/KeepPlate";
import { KeepTable } from "../tables/KeepTable";
import { InfluentialRows } from "./InfluentialRows";
import { relationPicture } from "./pictures";
import { ReportCard } from "./ReportCard";
import { RowsPicture } from "./RowsPicture";
import { SelectedCard } from "./SelectedCard";
import { DIAGNOSTICS, MEASURES, type ScreenChoices, type useScreenChoices } from "./useScreenChoices";

type RelationProps = {
  table: Table;
  variable: Variable;
  predictors: string[];
  choices: ScreenChoices;
  change: ReturnType<typeof useScreenChoices>["change"];
};

const MOST_PULLED = 5_000;

/** A fitted relation: the line with and without the selected rows, one diagnostic plot, and the rows that say most. */
export function Relation({ table, variable, predictors, choices, change }: RelationProps) {
  const settings: RelationSettings = {
    response: variable.symbol,
    predictors,
    ...(choices.product.length === 2 ? { product: choices.product } : {}),
  };
  const relation = useQuery({ ...relationOf(table, settings), placeholderData: keepPreviousData });
  const { data: result, error } = relation;
  const selected = useSelectedRows(table.id);
  const rows = useMemo(() => [...selected].sort((a, b) => a - b), [selected]);
  const { data: pulled } = useQuery({
    ...pullOf(table, settings, rows),
    enabled: rows.length > 0 && rows.length <= MOST_PULLED && !error,
    placeholderData: keepPreviousData,
  });
  const live = rows.length > 0 ? pulled : undefined;
  const remedy = error && "remedy" in error ? String(error.remedy) : "";
  if (error) return <Notice problem={error.message} remedy={remedy} className="m-3" />;
  if (!(result || table.is_long)) return <Wave moving className="mx-auto mt-40 w-24 text-primary" />;
  const isCategory = (symbol = "") => table.variables.find((each) => each.symbol === symbol)?.kind === "category";
  const coefficient = Math.min(choices.coefficient, (result?.coefficients.length ?? Number.POSITIVE_INFINITY) - 1);
  const chosen = { ...choices, coefficient };
  const line = (result?.coefficients.length ?? 2) === 2 && predictors.length === 1 && !isCategory(predictors[0]);
  const more = ({ row }: Spot) => {
    const known = result?.rows.find((other) => other.row === row);
    return known?.cooks == null
      ? []
      : [`Cook's distance ${significant(known.cooks, 2)}, leverage ${significant(known.leverage, 2)}`];
  };
  return (
    <div className="screen-grid">
      <div className="flex min-h-0 min-w-0 flex-col gap-3.5">
        <div className="grid min-h-[270px] flex-1 grid-cols-2 gap-3.5">
          <Card
            help="influence"
            title={line ? "The line" : "Observed against fitted"}
            className="min-h-0"
            aside={<KeepPlate beside="fit" />}
          >
            <RowsPicture
              {...{ table, more }}
              picture={relationPicture(table, variable, predictors, chosen, true)}
              view="fit"
            >
              {(plan) => <WithoutRows plan={plan} pulled={live} />}
            </RowsPicture>
          </Card>
          <Card
            help="influence"
            title="Diagnostic"
            className="min-h-0"
            aside={
              <span className="flex flex-wrap items-baseline gap-2">
                <KeepPlate />
                <WordChoice
                  label="Diagnostic plot"
                  value={choices.diagnostic}
                  options={choicesOf(DIAGNOSTICS)}
                  onChoose={(plot) => change({ plot })}
                />
                {result && (choices.diagnostic === "dfbetas" || choices.diagnostic === "partial") && (
                  <WordChoice
                    label="Coefficient"
                    shown={result.coefficients[coefficient]?.name ?? ""}
                    value={String(coefficient)}
                    options={result.coefficients
                      .map(({ name }, i) => ({ value: String(i), label: name }))
                      .slice(choices.diagnostic === "partial" ? 1 : 0)}
                    onChoose={(value) => change({ coefficient: value })}
                  />
                )}
                {choices.diagnostic === "order" && (
                  <WordChoice
                    label="Measure"
                    value={choices.measure}
                    options={choicesOf(MEASURES)}
                    onChoose={(measure) => change({ measure })}
                  />
                )}
              </span>
            }
          >
            <RowsPicture
              {...{ table, more }}
              picture={relationPicture(table, variable, predictors, chosen)}
              view="diagnostic"
            />
          </Card>
        </div>
        {result && <InfluentialRows {...{ table, settings }} reading={result} />}
      </div>
      <div className="flex min-h-0 min-w-0 flex-col gap-3.5 overflow-y-auto">
        <LongWork view="relation" busy={table.is_long && relation.isFetching} words="Looking at all rows" />
        {result && <CoefficientsCard table={table.id} {...{ settings }} reading={result} pulled={live} />}
        {rows.length > 0 && (
          <SelectedCard table={table} variable={variable} limits={null}>
            {() => null}
          </SelectedCard>
        )}
        {result && <ReadingCard reading={result} />}
        {result && <ReportCard key={result.report.join(" ")} said={result.report} />}
      </div>
    </div>
  );
}

function ReadingCard({ reading: result }: { reading: RelationReading }) {
  return (
    <Card help="influence" title="Reading" className="shrink-0">
      <p className="px-3.5 py-2 font-serif text-lead">{result.words.join(" ")}</p>
      <p className="border-line border-t px-3.5 py-2 text-muted-ink text-small">
        {counted(result.n, "complete row")}
        {result.n_missing > 0 && `, ${whole(result.n_missing)} left out since a value is missing or set aside`}.
        Curvature p {result.curvature_p === null ? "none" : pValue(result.curvature_p)} (a squared fitted value added);
        changing spread p {result.fanning_p === null ? "none" : pValue(result.fanning_p)} (Breusch and Pagan, in
        Koenker&apos;s form).
      </p>
    </Card>
  );
}

/** The line without the selected rows, where there is one. */
function WithoutRows({ plan: { across, up }, pulled }: { plan: PanelPlan; pulled: Pulled | undefined }) {
  const [a, c] = pulled?.line_x ?? [];
  const [b, d] = pulled?.line_y_without ?? [];
  if (a == null || b == null || c == null || d == null) return null;
  return (
    <path
      aria-label="the line without the selected rows"
      d={`M${across.place(a)} ${up.place(b)}L${across.place(c)} ${up.place(d)}`}
      strokeDasharray="6 3"
      className="stroke-[1.8] stroke-accent"
    />
  );
}

type Told = RelationReading["coefficients"][number];
const between = (low: number | null, high: number | null) =>
  low === null || high === null ? "none" : `${significant(low, 3)} to ${significant(high, 3)}`;

/** What can stand beside a coefficient. */
const BESIDE = {
  limits: "limits",
  p: "p",
  robust: "robust limits",
  robust_p: "robust p",
  partial: "partial r",
  inflation: "inflation",
} as const;
type Beside = keyof typeof BESIDE;
const BESIDE_NOTES: Record<Beside, string> = {
  limits: "Student’s t",
  p: "of a coefficient of 0",
  robust: "HC3: they hold where spreads differ along the fit",
  robust_p: "by the same standard errors",
  partial: "correlation with the response, given the other predictors",
  inflation: "how many times its variance is what it would be without the other predictors",
};

function besideOf(coefficient: Told, inflation: RelationReading["inflation"], beside: Beside) {
  const times = inflation.find(({ name }) => coefficient.name === name || coefficient.name.startsWith(`${name} `));
  return {
    limits: between(coefficient.low, coefficient.high),
    p: pNumber(coefficient.p_value, ""),
    robust: between(coefficient.robust_low, coefficient.robust_high),
    robust_p: pNumber(coefficient.robust_p, ""),
    partial: coefficient.partial_r === null ? "" : fixed(coefficient.partial_r, 2),
    inflation: times ? significant(times.times, 3) : "",
  }[beside];
}

type CoefficientsProps = {
  table: string;
  settings: RelationSettings;
  reading: RelationReading;
  pulled: Pulled | undefined;
};

/** Coefficients with their limits; beside them, those without the selected rows. */
function CoefficientsCard({ table, settings, reading, pulled }: CoefficientsProps) {
  const [beside, setBeside] = useState<Beside>("limits");
  const result = pulled?.pulled;
  const none = result?.undefined.without;
  const lines = reading.coefficients.map((coefficient, i) => ({
    name: coefficient.name,
    cells: [
      significant(coefficient.value, 4),
      besideOf(coefficient, reading.inflation, beside),
      result?.without ? significant(result.without[i] ?? 0, 4) : "",
    ],
  }));
  const summary = [
    { name: "residual SD", cells: [significant(reading.sigma, 4), "", share(result?.without_sigma, 4)] },
    {
      name: "R squared",
      cells: [
        reading.r_squared === null ? "none" : fixed(reading.r_squared, 3),
        reading.adjusted_r_squared === null ? "" : `adjusted ${fixed(reading.adjusted_r_squared, 3)}`,
        share(result?.without_r_squared, 3),
      ],
    },
  ];
  const offered = keysOf(BESIDE).filter((id) => id !== "inflation" || reading.inflation.length > 0);
  const all = reading.coefficients.map((coefficient) => [
    coefficient.name,
    significant(coefficient.value, 6),
    significant(coefficient.se, 4),
    ...offered.map((id) => besideOf(coefficient, reading.inflation, id)),
  ]);
  const cell = "border-line border-b px-2 py-1 text-right";
  const head = ["", "with all", BESIDE[beside], result ? "without" : ""];
  return (
    <Card
      help="influence"
      title="Coefficients"
      className="shrink-0"
      aside={
        <span className="flex items-baseline gap-3">
          <WordChoice
            label={`Beside each coefficient, at ${percent(reading.level)}`}
            value={beside}
            options={offered.map((value) => ({ value, label: BESIDE[value], note: BESIDE_NOTES[value] }))}
            onChoose={setBeside}
          />
          <KeepTable
            name={`${reading.response.label}, coefficients`}
            source={{ kind: "regression", table, ...settings, robust: beside.startsWith("robust") }}
          />
          <TakeTable
            name={`${reading.response.label} coefficients`}
            table={() => ({
              head: ["", "value", "standard error", ...offered.map((id) => BESIDE[id])],
              body: [...all, ...summary.map(({ name, cells }) => [name, ...cells])],
            })}
          />
        </span>
      }
    >
      <div className="relative max-h-72 overflow-auto">
        <table className="figures w-full">
          <thead className="sticky top-0 bg-raised text-muted-ink text-small">
            <tr>
              {head.map((words, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: four places
                <th key={i} className={`${cell} font-normal`}>
                  {words}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {[...lines, ...summary].map(({ name, cells }) => (
              <tr key={name} className="hover:bg-surface">
                <th className={`${cell} max-w-28 truncate text-left! font-normal`} title={name}>
                  {name}
                </th>
                <td className={`${cell} font-semibold`}>{cells[0]}</td>
                <td className={`${cell} text-muted-ink text-small`}>{cells[1]}</td>
                <td className={`${cell} font-semibold text-accent`}>{cells[2]}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {result && (
        <p className="px-3.5 py-2 text-muted-ink">
          {none ??
            `Without ${counted(pulled?.without_rows ?? 0, "row")}: ${whole(result.n_without)} of ${whole(result.n)}.`}
        </p>
      )}
      {Object.entries(reading.undefined).map(([name, why]) => (
        <p key={name} className="px-3.5 py-1.5 text-muted-ink">
          {why}
        </p>
      ))}
    </Card>
  );
}

const share = (value: number | null | undefined, digits: number) =>
  typeof value === "number" ? significant(value, digits) : "";
