import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { EFFECTS, GROUP_TESTS, LIMITS } from "../../api/choices.gen";
import { type Comparison, type Differences, differencesOf } from "../../api/compare";
import { figureOf } from "../../api/figures";
import type { Table, Variable } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { Choices } from "../../ui/Choices";
import { Notice } from "../../ui/Notice";
import { SCROLLS } from "../../ui/scrolls";
import { TakeTable } from "../../ui/TakeTable";
import { useSize } from "../../ui/useSize";
import { WordChoice } from "../../ui/WordChoice";
import { choicesOf, keysOf, labelsOf } from "../../values";
import { fixed, percent, pNumber, significant } from "../../words/numbers";
import { LongWork } from "../LongWork";
import { KeepPlate } from "../plates/KeepPlate";
import { StageFigure } from "../StageFigure";
import { KeepTable } from "../tables/KeepTable";
import type { Change } from "../useAddress";
import { TrimWord } from "./GroupsSentence";
import { differencesPicture } from "./pictures";
import { type CompareChoices, measuresOf } from "./useCompareChoices";

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
      ...(choices.equal ? { spreads: "equal" as const } : {}),
      ...(choices.measure === "trimmed" ? { trim: choices.trim } : {}),
    }),
    placeholderData: keepPreviousData,
  });
  const remedy = error && "remedy" in error ? String(error.remedy) : "";
  const written = (value: number | null) => (value === null ? "none" : significant(value, 3));
  const head = ["pair", result?.label ?? "", "from", "to", "p", "p after Holm", "p by ranks (Dunn, Holm)"];
  const body = (result?.pairs ?? []).map((found) => [
    `${found.first} − ${found.second}`,
    written(found.estimate),
    written(found.low),
    written(found.high),
    pNumber(found.p_value, ""),
    pNumber(found.holm_p, ""),
    pNumber(found.dunn_p, ""),
  ]);
  return (
    <Card
      help="differences"
      title="Differences"
      className="max-h-[270px] shrink-0"
      aside={
        <span className="flex flex-wrap items-baseline gap-3">
          <MeasureWords {...{ choices, change, labels, reference }} paired={pair !== undefined} />
          <Choices label="Differences as" options={SHOWN} chosen={shown} onChoose={setShown} />
          <KeepPlate beside="differences" />
          <KeepTable
            name={`${variable.label} by ${by.label}, differences`}
            source={{
              kind: "group-differences",
              table: table.id,
              variable: variable.symbol,
              by: by.symbol,
              pair: pair?.symbol ?? "",
              measure: choices.measure,
              level: choices.level,
              together: choices.together,
              spreads: choices.equal ? "equal" : "unequal",
              trim: choices.trim,
              ...{ reference, units },
            }}
          />
          <TakeTable name={`${variable.label} differences by ${by.label}`} table={() => ({ head, body })} />
        </span>
      }
      footer={
        result && (
          <span>
            {`Limits at ${percent(result.level)}, ${result.limits in LIMITS ? LIMITS[result.limits as keyof typeof LIMITS].caption : "each for itself"}${result.paired ? `, of the values that one ${result.paired} has in both` : ""}.`}{" "}
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
      {result && shown === "tests" && <Tests result={result} />}
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
    <div ref={room} className="relative min-h-0 flex-1 overflow-y-auto overflow-x-hidden" {...SCROLLS}>
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
function Tests({ result }: { result: Differences }) {
  const cell = "whitespace-nowrap border-line border-b px-2.5 py-1 first:pl-3.5";
  const head = `${cell} text-left font-normal text-muted-ink`;
  const share = (value: number) => fixed(value, 3);
  const numbers = [
    ["Largest SD over smallest", result.sd_ratio],
    ["Greenhouse and Geisser’s epsilon", result.epsilon],
  ] as const;
  return (
    <div className="min-h-0 flex-1 overflow-auto">
      <table className="figures w-full">
        <thead>
          <tr>
            <th className={head}>test</th>
            <th className={head}>statistic</th>
            <th className={head}>
              <abbr title="degrees of freedom" className="no-underline">
                df
              </abbr>
            </th>
            <th className={head}>p</th>
            <th className={head}>size, {percent(result.level)} limits</th>
          </tr>
        </thead>
        <tbody>
          {result.tests.map(({ id, found }) => {
            const record = GROUP_TESTS[id as keyof typeof GROUP_TESTS];
            return (
              <tr key={id} title={record.help}>
                <th className={`${cell} text-left font-normal`}>{record.label}</th>
                <td className={cell}>
                  {record.letter} {significant(found.statistic, 4)}
                </td>
                <td className={cell}>
                  {significant(found.df1, 4)}
                  {found.df2 === null ? "" : ` and ${significant(found.df2, 4)}`}
                </td>
                <td className={cell}>{pNumber(found.p_value)}</td>
                <td className={cell}>
                  {found.effect !== null && `${found.effect_name} ${share(found.effect)}`}
                  {found.effect_low !== null &&
                    found.effect_high !== null &&
                    ` (${share(found.effect_low)} to ${share(found.effect_high)})`}
                </td>
              </tr>
            );
          })}
          {numbers.map(
            ([name, value]) =>
              value !== null && (
                <tr key={name}>
                  <th className={`${cell} text-left font-normal`}>{name}</th>
                  <td className={cell} colSpan={4}>
                    {significant(value, 3)}
                  </td>
                </tr>
              ),
          )}
        </tbody>
      </table>
    </div>
  );
}

type MeasureWordsProps = Pick<DifferencesCardProps, "choices" | "change"> & {
  labels: readonly string[];
  reference: string;
  paired: boolean;
};

/** What differences are measured by, from which group, and what their limits hold for. */
function MeasureWords({ choices, change, labels, reference, paired }: MeasureWordsProps) {
  const measures = measuresOf(paired);
  const means = EFFECTS[choices.measure].of_means && !paired;
  const limits = choicesOf(labelsOf(LIMITS)).filter(
    ({ value }) => !LIMITS[value].together || LIMITS[value].to_reference === (reference !== ""),
  );
  const chosen = limits.find(
    ({ value }) => LIMITS[value].together === choices.together && LIMITS[value].equal === choices.equal,
  );
  return (
    <>
      <WordChoice
        label="Measure"
        className="min-h-6"
        value={choices.measure}
        options={keysOf(measures)
          .filter((id) => !paired || id !== "cliffs-delta")
          .map((value) => ({ value, label: measures[value], note: EFFECTS[value].help }))}
        onChoose={(measure) => change({ measure })}
      />
      {choices.measure === "trimmed" && <TrimWord {...{ choices, change }} />}
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
      {means && chosen && (
        <WordChoice
          label="Limits"
          className="min-h-6"
          shown={`${choices.together ? "together" : "each for itself"}${choices.equal ? ", equal spreads" : ""}`}
          value={chosen.value}
          options={limits.map(({ value, label }) => ({ value, label, note: LIMITS[value].help }))}
          onChoose={(value) =>
            change({
              limits: LIMITS[value].together ? null : "each",
              spreads: LIMITS[value].equal ? "equal" : null,
            })
          }
        />
      )}
    </>
  );
}
