import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Comparison, type Differences, differencesOf } from "../../api/compare";
import { figureOf } from "../../api/figures";
import type { Table, Variable } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { Choices } from "../../ui/Choices";
import { Notice } from "../../ui/Notice";
import { TakeTable } from "../../ui/TakeTable";
import { useSize } from "../../ui/useSize";
import { WordChoice } from "../../ui/WordChoice";
import { choicesOf } from "../../values";
import { pValue, significant } from "../../words/numbers";
import { LongWork } from "../LongWork";
import { KeepPlate } from "../plates/KeepPlate";
import { StageFigure } from "../StageFigure";
import type { Change } from "../useAddress";
import { differencesPicture } from "./pictures";
import { type CompareChoices, MEASURES } from "./useCompareChoices";

type DifferencesCardProps = {
  table: Table;
  variable: Variable;
  by: Variable;
  choices: CompareChoices;
  change: (changes: Change) => void;
  pair: Variable | undefined;
  reading: Comparison;
};

const SHOWN = { pairs: "pairs", tests: "tests" } as const;

/** How far groups lie apart, with limits: each pair a line, its numbers beside it. */
export function DifferencesCard({ table, variable, by, choices, change, pair, reading }: DifferencesCardProps) {
  const units = choices.units && table.unit_variable !== "";
  const [shown, setShown] = useState<keyof typeof SHOWN>("pairs");
  const labels = [...new Set(reading.groups.map(({ label }) => label))];
  const reference = labels.includes(choices.reference) ? choices.reference : "";
  const {
    data: result,
    error,
    isFetching,
    refetch,
  } = useQuery({
    ...differencesOf(table, variable.symbol, {
      by: by.symbol,
      measure: choices.measure,
      level: choices.level,
      ...(reference ? { reference } : {}),
      ...(units ? { units } : {}),
      ...(pair ? { pair: pair.symbol } : {}),
      ...(choices.together ? {} : { together: false }),
    }),
    placeholderData: keepPreviousData,
  });
  const remedy = error && "remedy" in error ? String(error.remedy) : "";
  const written = (value: number | null) => (value === null ? "none" : significant(value, 3));
  const p = (value: number | null | undefined) => (typeof value === "number" ? pValue(value).replace(/^= /, "") : "");
  const head = ["pair", MEASURES[choices.measure], "from", "to", "p", "p by ranks (Dunn, Holm)"];
  const body = (result?.pairs ?? []).map((each) => [
    `${each.first} − ${each.second}`,
    written(each.estimate),
    written(each.low),
    written(each.high),
    p(each.p_value),
    p(each.dunn_p),
  ]);
  return (
    <Card
      title="Differences"
      className="max-h-[270px] shrink-0"
      aside={
        <span className="flex flex-wrap items-baseline gap-3">
          <WordChoice
            label="Measure"
            className="min-h-6"
            value={choices.measure}
            options={choicesOf(MEASURES)}
            onChoose={(measure) => change({ measure })}
          />
          <WordChoice
            label="Reference"
            className="min-h-6"
            shown={reference ? `from ${reference}` : "all pairs"}
            value={reference}
            options={[
              { value: "", label: "all pairs" },
              ...labels.map((label) => ({ value: label, label: `from ${label}` })),
            ]}
            onChoose={(value) => change({ reference: value || null })}
          />
          {choices.measure === "mean" && !pair && (
            <WordChoice
              label="Limits"
              className="min-h-6"
              shown={choices.together ? "for all pairs together" : "each for itself"}
              value={choices.together ? "" : "each"}
              options={[
                { value: "", label: "for all pairs together", note: "Games and Howell" },
                { value: "each", label: "each for itself", note: "Welch" },
              ]}
              onChoose={(value) => change({ limits: value || null })}
            />
          )}
          <Choices label="Differences as" options={SHOWN} chosen={shown} onChoose={setShown} />
          <KeepPlate beside="differences" />
          <TakeTable name={`${variable.label} differences by ${by.label}`} table={() => ({ head, body })} />
        </span>
      }
      footer={
        result && (
          <span>
            {result.simultaneous
              ? `Limits hold for all pairs together at ${+(100 * result.level).toFixed(1)} % (Games and Howell), whether or not spreads are equal.`
              : `Each at ${+(100 * result.level).toFixed(1)} %, for itself${result.paired ? `, of the values that one ${result.paired} has in both` : ""}.`}{" "}
            {result.words.join(" ")}
          </span>
        )
      }
    >
      <LongWork view="differences" busy={isFetching} words="Resampling" />
      {error && (
        <Notice problem={error.message} remedy={remedy} className="m-3">
          <Button look="link" onClick={() => refetch()}>
            ask again
          </Button>
        </Notice>
      )}
      {result?.undefined.pairs && <p className="px-3.5 py-2 text-muted-ink">{result.undefined.pairs}</p>}
      {result && shown === "tests" && <Tests found={result} />}
      {result && shown === "pairs" && result.pairs.length > 0 && (
        <PairsPlot {...{ table, variable, by, pair, choices }} n={result.pairs.length} />
      )}
    </Card>
  );
}

type PairsPlotProps = Pick<DifferencesCardProps, "table" | "variable" | "by" | "pair" | "choices"> & { n: number };

/** Each pair with its limits, as its plate will show it. */
function PairsPlot({ table, variable, by, pair, choices, n }: PairsPlotProps) {
  const [room, size] = useSize();
  const { data: figure } = useQuery({
    ...figureOf(table, differencesPicture(table, variable, { by, pair }, choices), "differences figure"),
    placeholderData: keepPreviousData,
  });
  return (
    <div ref={room} className="relative min-h-0 flex-1 overflow-y-auto overflow-x-hidden">
      {size && figure && size.width > 80 && (
        <StageFigure
          figure={figure}
          size={{ width: size.width, height: 0 }}
          title={`Differences of ${n} pairs with their limits`}
        />
      )}
    </div>
  );
}

/** The tests of all groups together, each with its statistic, degrees of freedom, p value and size. */
function Tests({ found }: { found: Differences }) {
  const rows = [
    ["Welch's analysis of variance", "F", found.welch],
    ["Kruskal and Wallis, by ranks", "H", found.kruskal_wallis],
    ["Levene, of spreads about means", "F", found.levene],
    ["Brown and Forsythe, about medians", "F", found.brown_forsythe],
  ] as const;
  const cell = "border-line border-b px-3.5 py-1";
  return (
    <table className="figures w-full">
      <tbody>
        {rows.map(
          ([name, letter, test]) =>
            test && (
              <tr key={name}>
                <th className={`${cell} text-left font-normal`}>{name}</th>
                <td className={cell}>
                  {letter} {significant(test.statistic, 4)}
                </td>
                <td className={`${cell} text-muted-ink`}>
                  {test.df1}
                  {test.df2 === null ? "" : ` and ${significant(test.df2, 4)}`} degrees of freedom
                </td>
                <td className={cell}>p {pValue(test.p_value)}</td>
                <td className={cell}>
                  {test.effect === null ? "" : `${test.effect_name} ${significant(test.effect, 3)}`}
                </td>
              </tr>
            ),
        )}
        {found.sd_ratio !== null && (
          <tr>
            <th className={`${cell} text-left font-normal`}>Largest SD over smallest</th>
            <td className={cell} colSpan={4}>
              {significant(found.sd_ratio, 3)}
            </td>
          </tr>
        )}
      </tbody>
    </table>
  );
}
