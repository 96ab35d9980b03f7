import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { Link } from "react-router";
import { GROUP_MARKS } from "../../api/choices.gen";
import { type Comparison, comparedOf, readGroupRows } from "../../api/compare";
import { cutOf, figureOf } from "../../api/figures";
import type { Table, Variable } from "../../api/studies";
import { useSelection } from "../../state/selection";
import { Card } from "../../ui/Card";
import { LayerToggles } from "../../ui/LayerToggles";
import { named, titled } from "../../words/kinds";
import { counted, fixed, significant, whole } from "../../words/numbers";
import { GroupsOverlay, type GroupWords } from "../GroupsOverlay";
import { LongWork } from "../LongWork";
import { PictureCard, StageHead } from "../PictureCard";
import { StageFigure } from "../StageFigure";
import { canSplit } from "../spread/Sentence";
import { KeepTable } from "../tables/KeepTable";
import type { Change } from "../useAddress";
import { useRenaming } from "../useRenaming";
import { useSketch } from "../useSketch";
import { DifferencesCard } from "./DifferencesCard";
import { DrawingChoice } from "./DrawingChoice";
import { GroupNumbers } from "./GroupNumbers";
import { GroupsSentence } from "./GroupsSentence";
import { levelOrder, movedLevel } from "./levelOrder";
import { groupsPicture, groupTable } from "./pictures";
import { type CompareChoices, isOfCentre, MARKS } from "./useCompareChoices";

type GroupsCompareProps = {
  table: Table;
  variable: Variable;
  by: Variable;
  second: Variable | undefined;
  pair: Variable | undefined;
  choices: CompareChoices;
  change: (changes: Change) => void;
  aside: ReactNode;
};

/** The rows of groups: their centres with bars, and how they differ. */
export function GroupsCompare(props: GroupsCompareProps) {
  const { table, variable, by, second, pair, choices, change } = props;
  const units = choices.units && table.unit_variable !== "";
  const [low_percent, high_percent] = choices.percents;
  const picture = groupsPicture(table, variable, { by, second, pair }, choices);
  const renaming = useRenaming(table, by);
  const drawn = useQuery({ ...figureOf(table, picture, "compare"), placeholderData: keepPreviousData });
  const { figure, sketched } = useSketch(table, picture, drawn);
  const { error } = drawn;
  // The picture is worked first; its numbers are then there already.
  const { data: result } = useQuery({
    ...comparedOf(table, variable.symbol, {
      by: by.symbol,
      centre: choices.centre,
      bars: choices.bars,
      level: choices.level,
      ...(choices.bars === "percentiles" ? { low_percent, high_percent } : {}),
      ...(choices.centre === "trimmed-mean" ? { trim: choices.trim } : {}),
      ...(second ? { second: second.symbol } : {}),
      ...(pair ? { pair: pair.symbol } : {}),
      ...(units ? { units } : {}),
      ...(choices.line === "none" ? {} : { line: choices.line }),
      ...(choices.log ? { log: true } : {}),
    }),
    placeholderData: keepPreviousData,
    enabled: drawn.isSuccess && !drawn.isPlaceholderData,
  });
  const [marked, onMark] = useState<number | null>(null);
  const select = useSelection((state) => state.select);
  const numbered = result?.groups.every(({ number }) => number !== null) ?? false;
  const marks = MARKS.filter((mark) => choices.withValues || isOfCentre(mark)).filter(
    (mark) => mark !== "from zero" || (variable.true_zero && !choices.log),
  );
  const groups = result?.groups ?? [];
  const places = new Map(groups.map(({ place, label }) => [place, { place, label }]));
  const levels = levelOrder([...places.values()], figure?.scenes[0], groups);
  const choose = async (group: number, label: string, add: boolean) =>
    select(table.id, await readGroupRows(table, variable.symbol, by.symbol, second?.symbol ?? "", group), label, add);
  const title = titled(named(variable));
  return (
    <>
      <StageHead aside={props.aside}>
        <GroupsSentence {...props} />
      </StageHead>
      <div className="screen-grid">
        <div className="flex min-h-0 min-w-0 flex-col gap-3.5">
          <PictureCard
            help="groups"
            title={second ? `By ${by.label} and ${second.label}` : `By ${by.label}`}
            caption={figure && !error ? figure.caption : ""}
            file={`${table.name} ${variable.label} by ${by.label}`}
            error={error}
            onAgain={() => drawn.refetch()}
            above={
              <LongWork
                view="compare"
                busy={drawn.isFetching}
                words={table.is_long ? "Looking at all rows" : "Resampling"}
              />
            }
            cut={figure ? cutOf(figure) : ""}
            onWhole={() => change({ floor: null, ceiling: null })}
            aside={
              <span className="flex flex-wrap items-center gap-3">
                <LayerToggles
                  label="Marks"
                  words={GROUP_MARKS}
                  layers={marks}
                  shown={choices.marks}
                  onChange={(next) => change({ marks: next.join(",") })}
                />
                {result && (
                  <DrawingChoice
                    {...{ levels, variable, choices, change, numbered }}
                    seconds={result.second_labels.length}
                  />
                )}
              </span>
            }
          >
            {figure
              ? (size, drawing) => (
                  <StageFigure {...{ figure, size, drawing, title }}>
                    {(plan) =>
                      !sketched && (
                        <GroupsOverlay
                          {...{ table, plan, marked, onMark, renaming }}
                          label={`${title} by ${by.label}: arrows walk the groups, Enter selects their rows`}
                          unit={variable.unit}
                          wordsOf={(group, label) => wordsOf(result, group, label)}
                          onChoose={choose}
                          onMove={(from, to) => change({ order: "hand", hand: movedLevel(levels, choices, from, to) })}
                        />
                      )
                    }
                  </StageFigure>
                )
              : null}
          </PictureCard>
          {result && !error && !second && (
            <DifferencesCard {...{ table, variable, by, choices, change, pair }} reading={result} />
          )}
        </div>
        <div className="flex min-h-0 min-w-0 flex-col gap-3.5 overflow-y-auto">
          {result && !error && (
            <GroupNumbers
              reading={result}
              decimals={variable.decimals}
              {...{ marked, onMark }}
              keep={
                <KeepTable
                  name={`${title} by ${by.label}`}
                  source={groupTable(table, variable, { by, second }, choices)}
                />
              }
            />
          )}
          {result && !error && <ReadingCard {...props} reading={result} />}
        </div>
      </div>
    </>
  );
}

/** A group as it is read off: its n, its centre and the ends of its bar. */
function wordsOf(result: Comparison | undefined, group: number, name: string): GroupWords | null {
  const centred = result?.groups[group]?.centred;
  if (!result || !centred) return null;
  const { centre, low, high, n, n_missing } = centred;
  const unit = result.subject.unit ? ` ${result.subject.unit}` : "";
  const limits =
    low === null || high === null
      ? (centred.undefined.low ?? "no bar")
      : `${significant(low, 4)} to ${significant(high, 4)}${unit}`;
  return {
    name,
    words: [
      name,
      `n ${whole(n)}${n_missing > 0 ? `, ${whole(n_missing)} missing` : ""}`,
      centre === null ? (centred.undefined.centre ?? "none") : `${significant(centre, 4)}${unit}`,
      limits,
    ],
    ends: [centre, low, high],
  };
}

/** How much rows of one unit resemble each other, and how many independent ones they amount to. */
function Resemblance({ reading: { components, repeated } }: { reading: Comparison }) {
  if (!components) return null;
  const { intraclass, low, high, n, n_effective } = components;
  if (intraclass === null || low === null || high === null || n_effective === null) return null;
  return (
    <>
      Those of one {repeated} correlate by {fixed(intraclass, 2)} ({fixed(low, 2)} to {fixed(high, 2)}): {whole(n)} rows
      tell about as much as {whole(Math.round(n_effective))} independent ones.{" "}
    </>
  );
}

function ReadingCard({ table, variable, by, reading, change }: GroupsCompareProps & { reading: Comparison }) {
  const within = canSplit(by) ? `&by=${by.symbol}` : "";
  const link = "inline-flex min-h-6 items-center text-primary underline decoration-primary/40 underline-offset-3";
  return (
    <Card help="groups" title="Reading" className="shrink-0">
      <p className="px-3.5 py-2 font-serif text-lead">{reading.words.join(" ")}</p>
      {reading.fits_badly && (
        <p className="px-3.5 pb-2.5">
          <button
            type="button"
            className={link}
            onClick={() => change({ centre: "median", bars: null, marks: "points,centre", measure: null })}
          >
            show the median and the points
          </button>
        </p>
      )}
      {reading.repeated && (
        <p className="mx-3.5 mb-2.5 rounded-lg bg-caution-tint px-2.5 py-1.5">
          Rows are not independent: a {reading.repeated} has several in a group.{" "}
          {reading.components && <Resemblance {...{ reading }} />}
          <button type="button" className={link} onClick={() => change({ n: "units" })}>
            let n count each {reading.repeated}
          </button>
        </p>
      )}
      {reading.empty_levels.length > 0 && (
        <p className="px-3.5 pb-2.5 text-muted-ink">
          No row has {reading.empty_levels.slice(0, 6).join(", ")}
          {reading.empty_levels.length > 6 ? ` or ${reading.empty_levels.length - 6} more levels` : ""}.
        </p>
      )}
      {reading.without_group > 0 && (
        <p className="px-3.5 pb-2.5 text-muted-ink">
          {counted(reading.without_group, "value")} of no group {reading.without_group === 1 ? "is" : "are"} left out.
        </p>
      )}
      <p className="flex flex-wrap gap-x-3 px-3.5 pb-2.5">
        <Link className={link} to={`/tables/${table.id}/rescale?variable=${variable.symbol}&picture=qq${within}`}>
          normality within groups
        </Link>
        <Link className={link} to={`/tables/${table.id}/spread?variable=${variable.symbol}${within}`}>
          spreads side by side
        </Link>
        <Link className={link} to={`/tables/${table.id}/screen?variable=${variable.symbol}${within}`}>
          rows far from their group
        </Link>
      </p>
    </Card>
  );
}
