import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { DIFFERENCE_SCALES } from "../../api/choices.gen";
import { figureOf } from "../../api/figures";
import { type Agreement, agreementOf } from "../../api/relate";
import { Card } from "../../ui/Card";
import { NumbersTable } from "../../ui/NumbersTable";
import { TakeTable } from "../../ui/TakeTable";
import { Typed } from "../../ui/Typed";
import { WordChoice } from "../../ui/WordChoice";
import { optionsOf } from "../../values";
import { counted, pNumber, significant } from "../../words/numbers";
import { PictureCard } from "../PictureCard";
import { PointsOverlay } from "../PointsOverlay";
import { StageFigure } from "../StageFigure";
import { agreementPicture } from "./pictures";
import type { ViewProps } from "./ScatterView";

/** By what two methods are compared, and which bias does no harm. */
export function AgreementWords({ choices, change, unit }: Pick<ViewProps, "choices" | "change"> & { unit: string }) {
  const ratios = choices.differences === "log";
  const limit =
    choices.margin === null ? "no margin" : `a margin of ${choices.margin}${ratios || !unit ? "" : ` ${unit}`}`;
  return (
    <>
      , by their{" "}
      <WordChoice
        label="Compared by"
        value={choices.differences}
        options={optionsOf(DIFFERENCE_SCALES)}
        onChoose={(differences) => change({ differences: differences === "as-is" ? null : differences, margin: null })}
      />
      , with{" "}
      <Typed
        label="A bias that does no harm"
        shown={limit}
        fields={{ [ratios ? "Factor above 1" : "At most"]: choices.margin }}
        onSet={([margin = 0]) => change({ margin: Math.abs(margin) || null })}
        onNone={choices.margin === null ? undefined : () => change({ margin: null })}
      />
    </>
  );
}

/** How far two methods of measuring the same lie apart, over what both measured. */
export function AgreementView({ table, variable, x, choices }: ViewProps) {
  const {
    data: figure,
    error,
    refetch,
  } = useQuery({
    ...figureOf(table, agreementPicture(table, { x, variable }, choices), "agreement figure"),
    placeholderData: keepPreviousData,
  });
  const { data: result } = useQuery({
    ...agreementOf(table, {
      x: x.symbol,
      y: variable.symbol,
      scale: choices.differences,
      level: choices.level,
      ...(choices.margin === null ? {} : { margin: choices.margin }),
    }),
    placeholderData: keepPreviousData,
  });
  return (
    <div className="screen-grid">
      <PictureCard
        help="agreement"
        title="Agreement"
        caption={figure && !error ? figure.caption : ""}
        file={`${table.name} agreement of ${variable.label} and ${x.label}`}
        error={error}
        onAgain={() => refetch()}
        aside={null}
      >
        {figure
          ? (size, drawing) => (
              <StageFigure {...{ figure, size, drawing }}>
                {(plan) => (
                  <PointsOverlay
                    {...{ table, plan }}
                    label="Differences over means: arrows walk the pairs, Enter selects, dragging selects many"
                    wordsOf={(spot) => [
                      `${plan.titles.across} ${significant(spot.across, 5)}`,
                      `${plan.titles.up} ${significant(spot.up, 4)}`,
                    ]}
                  />
                )}
              </StageFigure>
            )
          : null}
      </PictureCard>
      <div className="flex min-h-0 min-w-0 flex-col gap-3.5 overflow-y-auto">
        {result && !error && <AgreementNumbers reading={result} name={`${variable.label} and ${x.label}`} />}
      </div>
    </div>
  );
}

function AgreementNumbers({ reading, name }: { reading: Agreement; name: string }) {
  const { numbers, lost, words } = reading;
  const written = (value: number | null) => (value === null ? "none" : significant(value, 4));
  const ratios = numbers.scale === "log";
  const head = ["", "value", "from", "to"];
  const body = [
    [
      ratios ? "mean ratio" : "mean difference",
      written(numbers.bias),
      written(numbers.bias_low),
      written(numbers.bias_high),
    ],
    ["lower limit", written(numbers.low), written(numbers.low_from), written(numbers.low_to)],
    ["upper limit", written(numbers.high), written(numbers.high_from), written(numbers.high_to)],
    [ratios ? "SD of log ratios" : "SD of differences", written(numbers.sd), "", ""],
    ["slope over the mean", written(numbers.slope), "p", pNumber(numbers.slope_p)],
    ...(numbers.margin === null ? [] : [["bias within the margin", "", "p", pNumber(numbers.margin_p)]]),
  ];
  return (
    <>
      <Card
        help="agreement"
        title="Numbers"
        className="shrink-0"
        aside={<TakeTable name={`agreement of ${name}`} table={() => ({ head, body })} />}
      >
        <NumbersTable {...{ head, body }} strong="value" />
      </Card>
      <Card help="agreement" title="Reading" className="shrink-0">
        <p className="px-3.5 py-2 font-serif text-lead">{words.join(" ")}</p>
        {lost.length > 0 && (
          <p className="border-line border-t px-3.5 py-2 text-muted-ink text-small">
            {lost.map(({ why, n }) => `${counted(n, "row")} ${why}`).join("; ")}: no pair.
          </p>
        )}
      </Card>
    </>
  );
}
