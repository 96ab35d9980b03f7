import { useRef, useState } from "react";
import { figureOf } from "../../api/figures";
import { countsOf, type ValueCounts } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import type { Shown } from "../../figure/screen";
import { Card } from "../../ui/Card";
import { useSize } from "../../ui/useSize";
import { KIND_WORDS, titled } from "../../words/kinds";
import { counted, fixed } from "../../words/numbers";
import { GroupsOverlay } from "../GroupsOverlay";
import { StageFigure } from "../StageFigure";
import { KeepTable } from "../tables/KeepTable";
import { useMarkSelection } from "../useMarkSelection";
import { useRenaming } from "../useRenaming";
import { FrequencyTable } from "./FrequencyTable";
import { MeasureChoice } from "./MeasureChoice";
import { countsPicture } from "./pictures";
import { RecodeChoice } from "./RecodeChoice";
import { TakeAway } from "./TakeAway";
import { useSteady } from "./useFollowing";
import type { useSpreadChoices } from "./useSpreadChoices";

const MOST_RENAMED = 100;
/** So few levels do not fill the height of the stage. */
const TALLEST = 72;
type Row = ValueCounts["rows"][number];
type LevelsSpreadProps = ReturnType<typeof useSpreadChoices> & { table: Table; variable: Variable };

/** A variable of words: a bar for each level, in the order of the levels. */
export function LevelsSpread({ table, variable, choices, change }: LevelsSpreadProps) {
  const { view } = choices;
  const figure = useSteady(figureOf(table, countsPicture(table, variable, choices), "spread figure"));
  const { data: result } = useSteady({ ...countsOf(table, variable.symbol), enabled: figure.isFetched });
  const onSelect = useMarkSelection(table, variable.symbol);
  const [room, size] = useSize();
  const [marked, onMark] = useState<number | null>(null);
  const levelled = variable.kind === "category" || variable.kind === "ordered";
  const renaming = useRenaming(table, levelled ? variable : undefined);
  const drawing = useRef<Shown>(null);
  const rows = result?.counts.rows ?? [];
  const select = (place: number, add: boolean) => {
    const label = String(rows[place]?.value);
    onSelect({ words: [label], within: { level: label } }, add);
  };
  const repeated = variable.n_levels < (result?.used.n ?? 0);
  const [scene] = figure.data?.scenes ?? [];
  return (
    <>
      <Card
        help="frequencies"
        title={`Rows at each ${levelled ? "level" : "value"}`}
        className="stack-card"
        footer={
          figure.data && (
            <>
              {scene?.facts.cannot.map((words) => (
                <span key={words} className="text-caution">
                  {words}
                </span>
              ))}
              {view !== "table" && (
                <MeasureChoice
                  measure={choices.measure === "percent" ? "percent" : "count"}
                  cumulative
                  onChange={(measure) => change({ measure })}
                />
              )}
              {result && levelled && variable.n_levels <= MOST_RENAMED && (
                <RecodeChoice {...{ table, variable }} counts={result.counts} />
              )}
              <TakeAway {...{ drawing, table, variable }} caption={figure.data.caption} definition={7} classes={{}} />
            </>
          )
        }
      >
        {result && view === "table" && (
          <FrequencyTable
            of={levelled ? "level" : "value"}
            lines={rows.map((row) => ({ label: String(row.value), count: row.count }))}
            missing={result.used.missing_counts}
            onSelect={select}
            keep={
              <KeepTable
                name={variable.label}
                source={{ kind: "frequencies", table: table.id, variable: variable.symbol }}
              />
            }
            onMissing={() => onSelect({ words: [`missing in ${variable.label}`], within: { missing: true } }, false)}
          />
        )}
        <div ref={room} className={view === "table" ? "hidden" : "relative min-h-[240px] flex-1 overflow-y-auto"}>
          {view !== "table" && size && size.width > 80 && figure.data && (
            <StageFigure
              figure={figure.data}
              drawing={drawing}
              size={{ ...size, height: Math.min(size.height, TALLEST * (scene?.up.levels.length ?? 1) + 110) }}
              title={titled(variable.label)}
            >
              {(plan) =>
                // A bar can be chosen once it is known what it stands for.
                result && (
                  <GroupsOverlay
                    {...{ table, plan, marked, onMark, renaming }}
                    label={`${titled(variable.label)}: arrows walk the levels, Enter selects their rows`}
                    unit=""
                    wordsOf={(place) => {
                      const row = rows[place];
                      const words = row && [
                        String(row.value),
                        `${counted(row.count, "row")}, ${fixed(row.percent, 1)} %`,
                      ];
                      return words ? { name: String(row.value), words, ends: [] } : null;
                    }}
                    onChoose={(place, _, add) => select(place, add)}
                  />
                )
              }
            </StageFigure>
          )}
        </div>
      </Card>
      <div className="flex min-w-0 flex-col gap-3.5">
        <Card help="frequencies" title="Reading">
          <p className="px-3.5 py-2.5 font-serif text-lead">
            {result && sentenceOf(variable, result.used.n, rows, repeated)}
          </p>
        </Card>
      </div>
    </>
  );
}

function sentenceOf(variable: Variable, n: number, bars: Row[], repeated: boolean): string {
  if (n === 0) return "There is no value to describe.";
  if (!repeated) return `${titled(KIND_WORDS[variable.kind])}: ${counted(n, "value")}, no two alike.`;
  const most = bars.reduce((best, bar) => (bar.count > best.count ? bar : best));
  const shown = `${counted(variable.n_levels, "different value")} in ${counted(n, "row")}. `;
  return `${shown}Most frequent: ${String(most.value)}, ${counted(most.count, "row")} (${fixed(most.percent, 1)} %).`;
}
