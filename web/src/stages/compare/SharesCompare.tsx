import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { type ReactNode, type Ref, type SVGProps, useState } from "react";
import { type SharesReading, sharesOf } from "../../api/compare";
import type { Table, Variable } from "../../api/studies";
import { inkOn, orderedColour } from "../../plot/ramps";
import { linear, ticksOf } from "../../plot/scales";
import { seriesOf } from "../../plot/series";
import { Card } from "../../ui/Card";
import { Choices } from "../../ui/Choices";
import { LayerToggles } from "../../ui/LayerToggles";
import { NumbersTable } from "../../ui/NumbersTable";
import { TakeTable } from "../../ui/TakeTable";
import type { Size } from "../../ui/useSize";
import { WordChoice } from "../../ui/WordChoice";
import { titled } from "../../words/kinds";
import { counted, whole } from "../../words/numbers";
import { weightsWords } from "../../words/weights";
import { PictureCard, StageHead } from "../PictureCard";
import { SeveralChoice } from "../SeveralChoice";
import { ComparePicture } from "./ComparePicture";
import { cutWords } from "./compareLayout";
import { DrawingChoice } from "./DrawingChoice";
import { CentreWord, Groups, LevelWord, type SentenceProps } from "./GroupsSentence";
import { drawingOf } from "./results";
import { type CompareChoices, SHARE_FORMS } from "./useCompareChoices";

const percent = (share: number | null, digits = 1) => (share === null ? "none" : `${(100 * share).toFixed(digits)} %`);
const SHARE_MARKS = ["centre", "joined", "from zero"] as const;

/** How large a share of each group gave which answers. */
export function SharesCompare(props: SentenceProps & { aside: ReactNode }) {
  const { table, variable, by, choices, change } = props;
  const answers = choices.answers.filter((place) => place < variable.n_levels);
  const neutral = choices.form === "stacked" ? choices.neutral : null;
  const { data: found, error } = useQuery({
    ...sharesOf(table, variable.symbol, {
      by: by.symbol,
      level: choices.level,
      ...(answers.length > 0 ? { chosen: answers } : {}),
      ...(neutral === null ? {} : { neutral }),
    }),
    placeholderData: keepPreviousData,
  });
  const [marked, onMark] = useState<number | null>(null);
  const chosen = answers.length > 0 ? answers : (found?.chosen ?? []);
  const names = chosen.map((place) => found?.answers[place] ?? "").join(" or ");
  const reading = found && sharesDrawing(found, names);
  const caption = found ? captionOf(found, names, choices) : "";
  const stacked = choices.form === "stacked";
  return (
    <>
      <StageHead aside={props.aside}>
        Compare the <CentreWord {...props} /> of{" "}
        <SeveralChoice
          label="Answers"
          shown={names || "choose"}
          options={(found?.answers ?? []).map((label, place) => ({ value: String(place), label }))}
          chosen={chosen.map(String)}
          onChoose={(next) =>
            change({
              answers:
                next
                  .map(Number)
                  .sort((a, b) => a - b)
                  .join(" ") || null,
            })
          }
        />{" "}
        among <Groups {...props} />
        {!stacked && (
          <>
            , with the Wilson interval
            <LevelWord {...{ choices, change }} />
          </>
        )}
        {stacked && (
          <>
            , percents{" "}
            <WordChoice
              label="Parts begin"
              shown={
                found && found.neutral !== null ? `about the middle of ${found.answers[found.neutral]}` : "from zero"
              }
              value={choices.neutral === null ? "" : String(choices.neutral)}
              options={[
                { value: "", label: "from zero" },
                ...(found?.answers ?? []).map((label, place) => ({
                  value: String(place),
                  label: `about the middle of ${label}`,
                })),
              ]}
              onChoose={(value) => change({ neutral: value || null })}
            />
          </>
        )}
      </StageHead>
      <div className="screen-grid">
        <PictureCard
          title={`By ${by.label}`}
          caption={error ? "" : caption}
          file={`${table.name} ${variable.label} by ${by.label}`}
          error={error}
          cut={reading ? cutWords(reading, choices) : ""}
          onWhole={() => change({ floor: null, ceiling: null })}
          aside={
            <span className="flex flex-wrap items-center gap-3">
              {!stacked && (
                <LayerToggles
                  label="Marks"
                  layers={SHARE_MARKS}
                  shown={choices.marks}
                  onChange={(next) => change({ marks: next.join(",") })}
                />
              )}
              <Choices
                label="Shares as"
                options={SHARE_FORMS}
                chosen={choices.form}
                onChoose={(next) => change({ form: next === "shares" ? null : next })}
              />
              {reading && !stacked && (
                <DrawingChoice
                  {...{ reading, choices, change }}
                  variable={{ ...variable, true_zero: true }}
                  numbered={false}
                />
              )}
            </span>
          }
        >
          {found && reading
            ? (size, drawing) =>
                stacked ? (
                  <StackedShares {...{ found, size, drawing }} />
                ) : (
                  <ComparePicture
                    {...{ table, reading, size, choices, drawing, change, marked, onMark }}
                    numbered={false}
                  />
                )
            : null}
        </PictureCard>
        <div className="flex min-h-0 min-w-0 flex-col gap-3.5 overflow-y-auto">
          {found && !error && <ShareNumbers {...{ found, marked, onMark, table, variable }} />}
          {found && !error && (
            <Card title="Reading" className="shrink-0">
              <p className="px-3.5 py-2 font-serif text-lead">{found.words.join(" ")}</p>
              {found.without_group > 0 && (
                <p className="px-3.5 pb-2.5 text-muted-ink">
                  {counted(found.without_group, "answer")} of no group left out.
                </p>
              )}
            </Card>
          )}
        </div>
      </div>
    </>
  );
}

function sharesDrawing(found: SharesReading, names: string) {
  const scaled = (share: number | null) => (share === null ? null : 100 * share);
  const results = found.groups.map(({ label, found: own }, place) => ({
    label,
    second: "",
    place,
    second_place: 0,
    number: null,
    center: scaled(own.share),
    low: scaled(own.low),
    high: scaled(own.high),
    n: own.n,
    n_missing: own.n_missing,
  }));
  const subject = { label: `share of ${names}`, unit: "%" };
  return drawingOf(results, { subject, by: found.by, second: "", second_labels: [] });
}

function captionOf(found: SharesReading, names: string, { form, marks, level }: CompareChoices): string {
  const n = found.groups.reduce((sum, { found: own }) => sum + own.n, 0);
  const missing = found.groups.reduce((sum, { found: own }) => sum + own.n_missing, 0);
  const parts =
    form === "stacked"
      ? [
          `${titled(found.subject.label)} by ${found.by}: percents of the answers of each group${found.neutral === null ? "" : `, centred at ${found.answers[found.neutral]}`}.`,
        ]
      : [`${titled(`share of ${names}`)} in ${found.subject.label} by ${found.by}.`];
  if (form === "shares" && marks.includes("centre"))
    parts.push(`Bars: ${+(100 * level).toFixed(1)} % Wilson interval.`);
  parts.push(`n\u00a0=\u00a0${whole(n)} answers${missing > 0 ? `, ${whole(missing)} missing` : ""}.`);
  return parts.join(" ") + weightsWords(found.used.weighted_by);
}

type StackedProps = { found: SharesReading; size: Size; drawing: Ref<SVGSVGElement> };

/** One body a group, cut into its answers; each part wide enough says its percent. */
function StackedShares({ found, size, drawing }: StackedProps) {
  const longest = Math.max(...found.groups.map(({ label }) => label.length), 4);
  const left = Math.min(40 + 6.6 * longest, 200);
  const drawn = found.groups.filter(({ found: own }) => own.n > 0);
  const ends = drawn.flatMap(({ edges }) => [edges[0] ?? 0, edges.at(-1) ?? 0]);
  const x = linear(
    found.neutral === null ? [0, 1] : [Math.min(...ends, -0.1), Math.max(...ends, 0.1)],
    left,
    size.width - 24,
  );
  const rowsOfLegend = found.answers.reduce(
    ({ at, row, places }, label) => {
      const width = 24 + label.length * 6.6;
      const wraps = at + width > size.width - 20 && at > left;
      const place = { x: wraps ? left : at, row: wraps ? row + 1 : row };
      places.push(place);
      return { at: place.x + width, row: place.row, places };
    },
    { at: left, row: 0, places: [] as { x: number; row: number }[] },
  );
  const top = 18 + (rowsOfLegend.row + 1) * 18;
  const step = Math.min(Math.max((size.height - top - 56) / Math.max(drawn.length, 1), 22), 84);
  const bottom = top + step * drawn.length;
  const body = Math.min(step * 0.72, 50);
  const ordered = found.subject.kind === "ordered";
  const inkOf = (place: number) =>
    ordered
      ? { style: { fill: inkOn(orderedColour(place, found.answers.length, found.neutral)) } }
      : { className: "fill-ink" };
  return (
    <svg
      ref={drawing}
      role="img"
      aria-label={`${found.subject.label} by ${found.by}, stacked percents`}
      width={size.width}
      height={Math.max(bottom + 52, size.height - 2)}
      className="figures block text-small"
    >
      {found.answers.map((label, place) => {
        const at = rowsOfLegend.places[place];
        return (
          at && (
            <g key={label} transform={`translate(${at.x},${14 + 18 * at.row})`}>
              <Part
                width={12}
                height={10}
                y={-5}
                {...{ ordered, place }}
                n={found.answers.length}
                neutral={found.neutral}
              />
              <text x={17} dy="0.33em" className="fill-ink">
                {label}
              </text>
            </g>
          )
        );
      })}
      {found.neutral !== null && <path d={`M${x(0)} ${top - 4}V${bottom + 4}`} className="stroke-ink" />}
      {drawn.map(({ label, edges, found: own }, i) => {
        const y = top + step * (i + 0.5);
        return (
          <g key={label} data-row={label}>
            <text x={left - 9} y={y - 3} textAnchor="end" className="fill-ink">
              {label}
            </text>
            <text x={left - 9} y={y + 11} textAnchor="end" className="fill-muted-ink">
              n {whole(own.n)}
            </text>
            {found.answers.map((answer, place) => {
              const [from, to] = [x(edges[place] ?? 0), x(edges[place + 1] ?? 0)];
              const share = (edges[place + 1] ?? 0) - (edges[place] ?? 0);
              return (
                to > from && (
                  <g key={answer}>
                    <Part
                      x={from}
                      y={y - body / 2}
                      width={to - from}
                      height={body}
                      {...{ ordered, place }}
                      n={found.answers.length}
                      neutral={found.neutral}
                    />
                    {to - from > 34 && (
                      <text x={(from + to) / 2} y={y} dy="0.33em" textAnchor="middle" {...inkOf(place)}>
                        {percent(share, 0)}
                      </text>
                    )}
                  </g>
                )
              );
            })}
          </g>
        );
      })}
      <path d={`M${left} ${bottom}H${size.width - 24}`} className="stroke-chart-axis" />
      {ticksOf(x, 8).map(({ at, value }) => (
        <g key={value} transform={`translate(${at},${bottom})`}>
          <path d="M0 0v5" className="stroke-chart-axis" />
          <text y={18} textAnchor="middle" className="fill-muted-ink">
            {Math.abs(Math.round(100 * value))} %
          </text>
        </g>
      ))}
      <text x={(left + size.width - 24) / 2} y={bottom + 38} textAnchor="middle" className="fill-ink text-body">
        {found.neutral === null
          ? `Percent of answers`
          : `Percent of answers, before and after the middle of ${found.answers[found.neutral]}`}
      </text>
    </svg>
  );
}

type PartProps = SVGProps<SVGRectElement> & { ordered: boolean; place: number; n: number; neutral: number | null };

/** One answer's part: of a ramp where answers have an order, else of the series. */
function Part({ ordered, place, n, neutral, ...room }: PartProps) {
  return ordered ? (
    <rect {...room} style={{ fill: orderedColour(place, n, neutral) }} className="stroke-raised" />
  ) : (
    <rect {...room} className={`${seriesOf(place).fill} ${seriesOf(place).stroke}`} />
  );
}

type ShareNumbersProps = {
  found: SharesReading;
  marked: number | null;
  onMark: (group: number | null) => void;
  table: Table;
  variable: Variable;
};

function ShareNumbers({ found, marked, onMark, table, variable }: ShareNumbersProps) {
  const head = [found.by, "n", "chosen", "share", "from", "to", ...found.answers.map((label) => `n ${label}`)];
  const body = found.groups.map(({ label, found: own }) => [
    label,
    whole(own.n),
    whole(own.chosen),
    percent(own.share),
    percent(own.low),
    percent(own.high),
    ...own.counts.map((count) => whole(count)),
  ]);
  return (
    <Card
      title="Numbers"
      className="max-h-[60%] min-h-[140px] shrink-0"
      aside={<TakeTable name={`${table.name} ${variable.label} shares`} table={() => ({ head, body })} />}
    >
      <NumbersTable {...{ head, body, marked, onMark }} strong="share" />
    </Card>
  );
}
