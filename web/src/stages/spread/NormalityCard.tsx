import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link } from "react-router";
import { FAMILIES, NORMALITY_TESTS, QUANTILE_PLOTS } from "../../api/choices.gen";
import { figureOf, type Picture } from "../../api/figures";
import { type Against, againstOf, type NormalityReading, normalityOf } from "../../api/readings";
import type { Table } from "../../api/studies";
import { useSeenPlots } from "../../state/seenPlots";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { Floating } from "../../ui/Floating";
import { useSize } from "../../ui/useSize";
import { WordChoice } from "../../ui/WordChoice";
import { choicesOf, keysOf, labelsOf, optionsOf } from "../../values";
import { titled } from "../../words/kinds";
import { fixed, pValue, significant, whole } from "../../words/numbers";
import { PointsOverlay } from "../PointsOverlay";
import { KeepPlate } from "../plates/KeepPlate";
import { StageFigure } from "../StageFigure";
import type { Change } from "../useAddress";
import { unitOf } from "./classWords";
import { AS_LOGS, onLogs, quantilesPicture } from "./pictures";
import { useSteady } from "./useFollowing";
import type { SpreadChoices } from "./useSpreadChoices";

type NormalityCardProps = {
  table: Table;
  symbol: string;
  reading: NormalityReading;
  /** Within whose levels values are distances from the mean. */
  by: string;
  choices: Pick<SpreadChoices, "family" | "plot" | "axis" | "view">;
  change: (changes: Change, replace?: boolean) => void;
};

type Plot = SpreadChoices["plot"];
const PLOT_WORDS: Record<Plot, string> = labelsOf(QUANTILE_PLOTS);

/** Whether a normal model is defensible: the verdict in careful words, and the plot against it or another one. */
export function NormalityCard({ table, symbol, reading, by, choices, change }: NormalityCardProps) {
  const [verdict = "", ...rest] = reading.check.words;
  const logs = onLogs(choices);
  const family = reading.within ? "normal" : choices.family;
  const plot = reading.within && choices.plot === "shares" ? "quantiles" : choices.plot;
  const look = useSeenPlots((state) => state.look);
  useEffect(() => look(table.id, symbol), [look, table.id, symbol]);
  const fit = useQuery({ ...againstOf(table, symbol, family), enabled: family !== "normal" });
  return (
    <Card
      help="normality"
      title={
        reading.within
          ? `Residuals${logs ? " of the logs" : ""} within ${reading.within}`
          : logs
            ? "Are the logs normal?"
            : "Is a normal model defensible?"
      }
      className="min-h-[404px] flex-1 shrink-0"
      aside={
        <span className="flex items-center gap-2">
          <AllTests reading={reading} />
        </span>
      }
    >
      <div className="px-3.5 pt-2 pb-1">
        <p className="font-serif text-lead leading-snug">{verdict}</p>
        {rest.map((said) => (
          <p key={said} className="text-muted-ink text-small">
            {said}
          </p>
        ))}
      </div>
      <div className="flex flex-wrap items-center justify-between gap-x-2 border-line border-t px-3.5 pt-1 text-muted-ink text-small">
        <p>
          <WordChoice
            label="Plot"
            value={plot}
            options={choicesOf(PLOT_WORDS).filter(({ value }) => value !== "shares" || !reading.within)}
            onChoose={(value) => change({ plot: value === "quantiles" ? null : value }, true)}
            className="min-h-6"
          />{" "}
          against{" "}
          {reading.within ? (
            "normal"
          ) : (
            <WordChoice
              label="Distribution"
              value={family}
              options={optionsOf(FAMILIES)}
              onChoose={(value) => change({ family: value === "normal" ? null : value }, true)}
              className="min-h-6"
            />
          )}
          {family !== "normal" && fit.data && <FitWords fit={fit.data} />}
        </p>
        <span className="flex gap-2">
          {!reading.within && !logs && (
            <Link
              to={`/tables/${table.id}/line-up?variable=${encodeURIComponent(symbol)}`}
              className="dotted-word inline-flex min-h-6 items-center px-0.5 text-small"
            >
              line-up
            </Link>
          )}
          <KeepPlate beside="quantiles" />
        </span>
      </div>
      <QuantilesPicture
        table={table}
        subject={reading.subject}
        picture={quantilesPicture(table, symbol, by, { family, plot }, logs)}
      />
    </Card>
  );
}

/** Whether a normal model is defensible, asked together with the plot that will stand below the answer. */
export function useNormality(
  table: Table,
  symbol: string,
  by: string,
  choices: NormalityCardProps["choices"],
  enabled: boolean,
) {
  const logs = onLogs(choices);
  useQuery({ ...figureOf(table, quantilesPicture(table, symbol, by, choices, logs), "quantiles"), enabled });
  const steady = useSteady({ ...normalityOf(table, symbol, by || undefined, logs ? AS_LOGS : undefined), enabled });
  // The answer of the other axis speaks of something else: logs are a variable of their own.
  return steady.data && (steady.data.subject.symbol !== symbol) === logs ? steady.data : undefined;
}

type QuantilesPictureProps = { table: Table; subject: NormalityReading["subject"]; picture: Picture };

/** Values against a distribution, point by point. */
export function QuantilesPicture({ table, subject, picture }: QuantilesPictureProps) {
  const [room, size] = useSize();
  const { data: figure, error } = useSteady(figureOf(table, picture, "quantiles"));
  if (error) return <p className="px-3.5 pb-3 text-muted-ink">{error.message}</p>;
  const plot = (picture.source.kind === "quantiles" && picture.source.plot) || "quantiles";
  const shares = plot === "shares";
  const n = Number(figure?.scenes[0]?.facts.n[0]?.[1] ?? 0);
  return (
    <div ref={room} className="relative min-h-[190px] flex-1 overflow-hidden rounded-b-card">
      {figure && size && size.width > 80 && size.height > 80 && (
        <StageFigure {...{ figure, size }}>
          {(plan) => (
            <PointsOverlay
              {...{ table, plan }}
              begin="last"
              label={`${titled(PLOT_WORDS[plot])} of ${plan.titles.up} against ${plan.titles.across.toLowerCase()}, ${whole(n)} values: arrows walk the points, Enter selects the row`}
              wordsOf={({ across, up }) => [
                shares ? `share below ${significant(up)}` : `${significant(up, 6)}${unitOf(subject.unit)}`,
                `${shares ? "expected" : plan.titles.across.toLowerCase().replace(/s$/, "")} ${significant(across)}`,
              ]}
            />
          )}
        </StageFigure>
      )}
    </div>
  );
}

/** What was fitted, and how near it comes. */
function FitWords({ fit }: { fit: Against }) {
  const parameters = Object.entries(fit.parameters).map(([name, value]) => `${name} ${significant(value)}`);
  return (
    <>
      : {parameters.join(", ")}; correlation {fixed(fit.correlation, 3)}
      {fit.no_band && `. ${fit.no_band}`}
    </>
  );
}

function AllTests({ reading }: { reading: NormalityReading }) {
  const { check } = reading;
  return (
    <Floating
      label="All tests of normality"
      align="end"
      className="w-[26rem] p-3.5"
      trigger={
        <Button look="word" className="text-small!">
          all tests
        </Button>
      }
    >
      <dl className="figures">
        {keysOf(NORMALITY_TESTS).map((id) => {
          const { label, letter, help } = NORMALITY_TESTS[id];
          const { statistic, p_value, reason } = check[id];
          return (
            <div key={id} className="mb-2">
              <dt className="flex justify-between gap-3 font-semibold">
                {label}
                {statistic !== null && p_value !== null && (
                  <span>
                    {letter} = {significant(statistic)}, p {pValue(p_value)}
                  </span>
                )}
              </dt>
              <dd className="text-muted-ink text-small">{reason ?? help}</dd>
            </div>
          );
        })}
      </dl>
      {!reading.qq_reason && (
        <p className="border-line border-t pt-2 text-muted-ink text-small">
          Q-Q plot: positions (i − 3/8)/(n + 1/4) after Blom; line through mean and SD. Dark band: where{" "}
          {100 * reading.level} % of normal samples lie at each point;{" "}
          {reading.simultaneous_reason || `pale band: where ${100 * reading.level} % of them lie altogether.`}
        </p>
      )}
    </Floating>
  );
}
