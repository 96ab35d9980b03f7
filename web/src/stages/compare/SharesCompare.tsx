import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { GROUP_MARKS } from "../../api/choices.gen";
import { type SharesReading, sharesOf } from "../../api/compare";
import { cutOf, figureOf } from "../../api/figures";
import { rowsOf } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import { useSelection } from "../../state/selection";
import { Card } from "../../ui/Card";
import { Choices } from "../../ui/Choices";
import { LayerToggles } from "../../ui/LayerToggles";
import { NumbersTable } from "../../ui/NumbersTable";
import { TakeTable } from "../../ui/TakeTable";
import { WordChoice } from "../../ui/WordChoice";
import { titled } from "../../words/kinds";
import { counted, fixed, whole } from "../../words/numbers";
import { AssociationCard } from "../AssociationCard";
import { GroupsOverlay, type GroupWords } from "../GroupsOverlay";
import { PictureCard, StageHead } from "../PictureCard";
import { SeveralChoice } from "../SeveralChoice";
import { StageFigure } from "../StageFigure";
import { useRenaming } from "../useRenaming";
import { DrawingChoice } from "./DrawingChoice";
import { CentreWord, Groups, LevelWord, type SentenceProps } from "./GroupsSentence";
import { levelOrder, movedLevel } from "./levelOrder";
import { sharesPicture } from "./pictures";
import { SHARE_FORMS } from "./useCompareChoices";

const percent = (share: number | null, digits = 1) => (share === null ? "none" : `${fixed(100 * share, digits)} %`);
const SHARE_MARKS = ["centre", "joined", "from zero"] as const;

/** How large a share of each group gave which answers. */
export function SharesCompare(props: SentenceProps & { aside: ReactNode }) {
  const { table, variable, by, choices, change } = props;
  const answers = choices.answers.filter((place) => place < variable.n_levels);
  const neutral = choices.form === "stacked" ? choices.neutral : null;
  const { data: result, error } = useQuery({
    ...sharesOf(table, variable.symbol, {
      by: by.symbol,
      level: choices.level,
      ...(answers.length > 0 ? { chosen: answers } : {}),
      ...(neutral === null ? {} : { neutral }),
    }),
    placeholderData: keepPreviousData,
  });
  const { data: figure, ...drawn } = useQuery({
    ...figureOf(table, sharesPicture(table, variable, by, choices), "shares"),
    placeholderData: keepPreviousData,
  });
  const [marked, onMark] = useState<number | null>(null);
  const renaming = useRenaming(table, by);
  const select = useSelection((state) => state.select);
  const queries = useQueryClient();
  const chosen = answers.length > 0 ? answers : (result?.chosen ?? []);
  const names = chosen.map((place) => result?.answers[place] ?? "").join(" or ");
  const stacked = choices.form === "stacked";
  const groups = (result?.groups ?? []).map(({ found: { label } }, place) => ({ label, place }));
  const levels = levelOrder(groups, figure?.scenes[0], groups);
  const title = `${titled(variable.label)} by ${by.label}`;
  return (
    <>
      <StageHead aside={props.aside}>
        Compare the <CentreWord {...props} /> of{" "}
        <SeveralChoice
          label="Answers"
          shown={names || "choose"}
          options={(result?.answers ?? []).map((label, place) => ({ value: String(place), label }))}
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
                result && result.neutral !== null
                  ? `about the middle of ${result.answers[result.neutral]}`
                  : "from zero"
              }
              value={choices.neutral === null ? "" : String(choices.neutral)}
              options={[
                { value: "", label: "from zero" },
                ...(result?.answers ?? []).map((label, place) => ({
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
          help="shares"
          title={`By ${by.label}`}
          caption={figure && !drawn.error ? figure.caption : ""}
          file={`${table.name} ${variable.label} by ${by.label}`}
          error={error ?? drawn.error}
          onAgain={() => drawn.refetch()}
          cut={figure ? cutOf(figure) : ""}
          onWhole={() => change({ floor: null, ceiling: null })}
          aside={
            <span className="flex flex-wrap items-center gap-3">
              {!stacked && (
                <LayerToggles
                  label="Marks"
                  words={GROUP_MARKS}
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
              {result && !stacked && (
                <DrawingChoice
                  {...{ levels, choices, change }}
                  seconds={0}
                  variable={{ ...variable, true_zero: true }}
                  numbered={false}
                />
              )}
            </span>
          }
        >
          {figure
            ? (size, drawing) => (
                <StageFigure {...{ figure, size, drawing, title }}>
                  {(plan) => (
                    <GroupsOverlay
                      {...{ table, plan, marked, onMark, renaming }}
                      label={`${title}: arrows walk the groups, Enter selects their rows`}
                      unit="%"
                      wordsOf={(group) => wordsOf(result, group, stacked)}
                      onChoose={async (_, label, add) => {
                        select(
                          table.id,
                          await rowsOf(queries, table, { variable: by.symbol, level: label }),
                          label,
                          add,
                        );
                      }}
                      {...(stacked
                        ? {}
                        : {
                            onMove: (from: number, to: number) =>
                              change({ order: "hand", hand: movedLevel(levels, choices, from, to) }),
                          })}
                    />
                  )}
                </StageFigure>
              )
            : null}
        </PictureCard>
        <div className="flex min-h-0 min-w-0 flex-col gap-3.5 overflow-y-auto">
          {result && !error && <ShareNumbers {...{ found: result, marked, onMark, table, variable }} />}
          {result && !error && (
            <Card help="shares" title="Reading" className="shrink-0">
              <p className="px-3.5 py-2 font-serif text-lead">{result.words.join(" ")}</p>
              {result.without_group > 0 && (
                <p className="px-3.5 pb-2.5 text-muted-ink">
                  {counted(result.without_group, "answer")} of no group left out.
                </p>
              )}
            </Card>
          )}
          {result && !error && (
            <AssociationCard result={result} two={result.two} name={`${variable.label} by ${by.label}`} />
          )}
        </div>
      </div>
    </>
  );
}

/** A group as it is read off: its answers, and the share of those chosen with its interval. */
function wordsOf(result: SharesReading | undefined, group: number, stacked: boolean): GroupWords | null {
  const own = result?.groups[group];
  if (!result || !own) return null;
  const { label, share, low, high, n, counts } = own.found;
  const of = (end: number | null) => (end === null || stacked ? null : 100 * end);
  const told = stacked
    ? result.answers.map((answer, place) => `${answer} ${percent(n > 0 ? (counts[place] ?? 0) / n : null)}`)
    : [percent(share), low === null ? "no interval" : `${percent(low)} to ${percent(high)}`];
  return { name: label, words: [label, `n ${whole(n)}`, ...told], ends: [of(share), of(low), of(high)] };
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
  const body = found.groups.map(({ found: own }) => [
    own.label,
    whole(own.n),
    whole(own.chosen),
    percent(own.share),
    percent(own.low),
    percent(own.high),
    ...own.counts.map((count) => whole(count)),
  ]);
  return (
    <Card
      help="shares"
      title="Numbers"
      className="max-h-[60%] min-h-[140px] shrink-0"
      aside={<TakeTable name={`${table.name} ${variable.label} shares`} table={() => ({ head, body })} />}
    >
      <NumbersTable {...{ head, body, marked, onMark }} strong="share" />
    </Card>
  );
}
