import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Fits, predictionOf } from "../../api/relate";
import type { Table, Variable } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { Field } from "../../ui/Field";
import { NumbersTable } from "../../ui/NumbersTable";
import { WordChoice } from "../../ui/WordChoice";
import { choicesOf } from "../../values";
import { named } from "../../words/kinds";
import { counted, fixed, pNumber, readNumber, significant, whole } from "../../words/numbers";
import { raisedParts } from "../../words/raised";
import type { ViewProps } from "./ScatterView";
import { ScreenLink } from "./ScreenLink";
import { type RelateChoices, SCALES } from "./useRelateChoices";

type LineCardProps = ViewProps & { pair: { x: string; y: string }; fits: Fits; grouped: boolean };

/** The lines in numbers: equation, coefficients with limits, R squared on both scales, and what it says of one x. */
export function LineCard({ table, pair, choices, change, fits, grouped, variable, x }: LineCardProps) {
  const text = fits.groups
    .filter(({ fit }) => fit)
    .map(({ label, carried_back: back, equation }) => `${label ? `${label}: ` : ""}${back || equation}`)
    .join("\n");
  const options = choicesOf(SCALES);
  const head = ["", "value", "from", "to"];
  const limits = (name: string, value: number, low: number, high: number) => [
    name,
    significant(value, 5),
    significant(low, 4),
    significant(high, 4),
  ];
  return (
    <Card
      help="pairs"
      title="Lines"
      className="shrink-0"
      aside={
        text && (
          <span className="flex items-center gap-3">
            {!grouped && <ScreenLink {...{ table, pair, choices }} />}
            <Button look="word" className="text-small!" onClick={() => navigator.clipboard.writeText(text)}>
              copy the equation
            </Button>
          </span>
        )
      }
    >
      <p className="px-3.5 pt-2">
        Linear with {variable.label}{" "}
        <WordChoice
          label="Scale of y"
          shown={SCALES[choices.scales[1]]}
          value={choices.scales[1]}
          options={options}
          onChoose={(ys) => change({ ys: ys === "as-is" ? null : ys })}
        />{" "}
        and {x.label}{" "}
        <WordChoice
          label="Scale of x"
          shown={SCALES[choices.scales[0]]}
          value={choices.scales[0]}
          options={options}
          onChoose={(xs) => change({ xs: xs === "as-is" ? null : xs })}
        />
      </p>
      {fits.groups.map(({ label, fit, equation, carried_back: back, median, smooth, why }) => {
        const rows = [
          ...(fit
            ? [
                limits("slope", fit.slope, fit.slope_low, fit.slope_high),
                ...(fit.slope_robust_low !== null && fit.slope_robust_high !== null
                  ? [limits("its robust limits (HC3)", fit.slope, fit.slope_robust_low, fit.slope_robust_high)]
                  : []),
                limits("intercept", fit.intercept, fit.intercept_low, fit.intercept_high),
                ["residual SD", significant(fit.sigma, 4), "", ""],
                [
                  back ? "R² on the transformed scale" : "R²",
                  fit.r_squared === null ? "none" : fixed(fit.r_squared, 3),
                  "",
                  "",
                ],
                ...(back
                  ? [
                      [
                        "R² on the original scale",
                        fit.original_r_squared === null ? "none" : fixed(fit.original_r_squared, 3),
                        "",
                        "",
                      ],
                    ]
                  : []),
              ]
            : []),
          ...(median
            ? [
                limits("Theil-Sen slope", median.slope, median.low, median.high),
                ["its intercept", significant(median.intercept, 5), "", ""],
              ]
            : []),
        ];
        return (
          <section
            key={label}
            aria-label={label ? `Line of ${label}` : "Line"}
            className="border-line border-b pb-1 last:border-b-0"
          >
            {label && <h3 className="px-3.5 pt-2 font-semibold">{label}</h3>}
            {fit && (
              <p className="px-3.5 py-1.5">
                {back && (
                  <span className="block font-semibold">
                    <Raised text={back} />
                  </span>
                )}
                <span className={back ? "text-muted-ink" : "font-semibold"}>
                  <Raised text={equation} />
                </span>
                <span className="text-muted-ink"> (n {whole(fit.n_pairs)})</span>
              </p>
            )}
            {why && <p className="px-3.5 py-1.5 text-muted-ink">{why}</p>}
            {rows.length > 0 && <NumbersTable {...{ head }} body={rows} />}
            {smooth && (
              <p className="px-3.5 py-1 text-muted-ink text-small">
                Lowess over {Math.round(100 * smooth.span)} % of {counted(smooth.n_used, "pair")}
                {smooth.n_used < smooth.n_pairs && `, a seeded sample of ${whole(smooth.n_pairs)}`}.
              </p>
            )}
          </section>
        );
      })}
      <p className="px-3.5 py-2 font-serif text-lead">{fits.words.join(" ")}</p>
      {fits.slopes && fits.slopes.pairs.length > 0 && (
        <NumbersTable
          head={["slopes", "difference", "from", "to", "p"]}
          body={fits.slopes.pairs.map((pair) => [
            `${pair.first} − ${pair.second}`,
            significant(pair.difference, 3),
            significant(pair.low, 3),
            significant(pair.high, 3),
            pNumber(pair.p_value),
          ])}
        />
      )}
      {!grouped && fits.groups[0]?.fit && <Predict {...{ table, pair, choices, variable, x }} />}
    </Card>
  );
}

type PredictProps = {
  table: Table;
  pair: { x: string; y: string };
  choices: RelateChoices;
  variable: Variable;
  x: Variable;
};

/** An x is typed, the line answers with limits. */
function Predict({ table, pair, choices, variable, x }: PredictProps) {
  const [typed, setTyped] = useState("");
  const value = readNumber(typed);
  const { data: result, error } = useQuery({
    ...predictionOf(table, { ...pair, value: value ?? 0, x_scale: choices.scales[0], y_scale: choices.scales[1] }),
    enabled: value !== null,
  });
  const unit = variable.unit ? ` ${variable.unit}` : "";
  const write = (number: number | null) => (number === null ? "none" : significant(number, 4));
  // Limits of reciprocals on both sides of 0 go on without end on the side of the curve.
  const between = (low: number | null, high: number | null) =>
    low === null && high === null
      ? "between no limits"
      : low === null
        ? `below ${write(high)}`
        : high === null
          ? `above ${write(low)}`
          : `from ${write(low)} to ${write(high)}`;
  return (
    <div className="border-line border-t px-3.5 py-2">
      <Field
        label={`What does the line say of ${named(x)}`}
        inputMode="decimal"
        className="w-28!"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
      />
      {value !== null && error && <p className="pt-1">{error.message}</p>}
      {value !== null && result && (
        <output className="block pt-1">
          {variable.label} {write(result.y)}
          {unit}; the line lies {between(result.low, result.high)}, one more value{" "}
          {between(result.one_low, result.one_high)}
          {unit}, at 95 %.
          {result.mean !== null && ` The mean is about ${write(result.mean)}${unit}.`}
          {result.outside && (
            <span className="mt-1 block rounded-lg bg-caution-tint px-2 py-1">
              That lies outside of the {x.label} that was seen: nothing here says how it goes on.
            </span>
          )}
        </output>
      )}
    </div>
  );
}

function Raised({ text }: { text: string }) {
  return raisedParts(text).map(({ words, raised }) => (raised ? <sup key={words}>{words}</sup> : words));
}
