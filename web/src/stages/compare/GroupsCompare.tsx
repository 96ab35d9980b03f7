import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { Link } from "react-router";
import { type Comparison, comparedOf } from "../../api/compare";
import type { Table, Variable } from "../../api/studies";
import { Card } from "../../ui/Card";
import { LayerToggles } from "../../ui/LayerToggles";
import { counted } from "../../words/numbers";
import { LongWork } from "../LongWork";
import { PictureCard, StageHead } from "../PictureCard";
import { canSplit } from "../spread/Sentence";
import type { Change } from "../useAddress";
import { ComparePicture } from "./ComparePicture";
import { captionOf } from "./caption";
import { cutWords } from "./compareLayout";
import { DifferencesCard } from "./DifferencesCard";
import { DrawingChoice } from "./DrawingChoice";
import { GroupNumbers } from "./GroupNumbers";
import { GroupsSentence } from "./GroupsSentence";
import { type CompareChoices, MARKS } from "./useCompareChoices";

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
  const {
    data: found,
    error,
    isFetching,
    refetch,
  } = useQuery({
    ...comparedOf(table, variable.symbol, {
      by: by.symbol,
      center: choices.center,
      bars: choices.bars,
      level: choices.level,
      ...(choices.bars === "percentiles" ? { low_percent, high_percent } : {}),
      ...(choices.center === "trimmed-mean" ? { trim: choices.trim } : {}),
      ...(second ? { second: second.symbol } : {}),
      ...(pair ? { pair: pair.symbol } : {}),
      ...(units ? { units } : {}),
      ...(choices.line === "none" ? {} : { line: choices.line }),
      ...(choices.log ? { log: true } : {}),
    }),
    placeholderData: keepPreviousData,
  });
  const [marked, onMark] = useState<number | null>(null);
  const [crowded, onCrowded] = useState(false);
  const numbered = found?.groups.every(({ number }) => number !== null) ?? false;
  const marks = MARKS.filter((mark) => mark !== "from zero" || (variable.true_zero && !choices.log));
  return (
    <>
      <StageHead aside={props.aside}>
        <GroupsSentence {...props} />
      </StageHead>
      <div className="screen-grid">
        <div className="flex min-h-0 min-w-0 flex-col gap-3.5">
          <PictureCard
            title={second ? `By ${by.label} and ${second.label}` : `By ${by.label}`}
            caption={found && !error ? captionOf(found, choices, crowded) : ""}
            file={`${table.name} ${variable.label} by ${by.label}`}
            error={error}
            onAgain={() => refetch()}
            above={<LongWork view="compare" busy={isFetching} words="Resampling" />}
            cut={found ? cutWords(found, choices) : ""}
            onWhole={() => change({ floor: null, ceiling: null })}
            aside={
              <span className="flex flex-wrap items-center gap-3">
                <LayerToggles
                  label="Marks"
                  layers={marks}
                  shown={choices.marks}
                  onChange={(next) => change({ marks: next.join(",") })}
                />
                {found && <DrawingChoice reading={found} {...{ variable, choices, change, numbered }} />}
              </span>
            }
          >
            {found
              ? (size, drawing) => (
                  <ComparePicture
                    {...{ table, size, choices, drawing, change, marked, onMark, onCrowded }}
                    reading={found}
                    numbered={numbered && choices.onNumbers}
                  />
                )
              : null}
          </PictureCard>
          {found && !error && !second && (
            <DifferencesCard {...{ table, variable, by, choices, change, units, pair }} reading={found} />
          )}
        </div>
        <div className="flex min-h-0 min-w-0 flex-col gap-3.5 overflow-y-auto">
          {found && !error && <GroupNumbers reading={found} decimals={variable.decimals} {...{ marked, onMark }} />}
          {found && !error && <ReadingCard {...props} reading={found} />}
        </div>
      </div>
    </>
  );
}

function ReadingCard({ table, variable, by, reading, change }: GroupsCompareProps & { reading: Comparison }) {
  const within = canSplit(by) ? `&by=${by.symbol}` : "";
  const link = "text-primary underline decoration-primary/40 underline-offset-3";
  return (
    <Card title="Reading" className="shrink-0">
      <p className="px-3.5 py-2 font-serif text-lead">{reading.words.join(" ")}</p>
      {reading.fits_badly && (
        <p className="px-3.5 pb-2.5">
          <button
            type="button"
            className={link}
            onClick={() => change({ center: "median", bars: null, marks: "points,centre", measure: null })}
          >
            show the median and the points
          </button>
        </p>
      )}
      {reading.repeated && (
        <p className="mx-3.5 mb-2.5 rounded-lg bg-caution-tint px-2.5 py-1.5">
          Rows are not independent: a {reading.repeated} has several in a group.{" "}
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
