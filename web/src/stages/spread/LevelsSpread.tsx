import { type KeyboardEvent, type MouseEvent, useRef, useState } from "react";
import { countsOf } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import { LEVEL_STEP, type LevelBar, Levels } from "../../plot/Levels";
import { useSelection } from "../../state/selection";
import { Card } from "../../ui/Card";
import { useSize } from "../../ui/useSize";
import { KIND_WORDS, missingWords, titled } from "../../words/kinds";
import { counted, whole } from "../../words/numbers";
import { weightsWords } from "../../words/weights";
import { useMarkSelection } from "../useMarkSelection";
import { FrequencyTable } from "./FrequencyTable";
import { RecodeChoice } from "./RecodeChoice";
import { TakeAway } from "./TakeAway";
import { useSteady } from "./useFollowing";
import type { View } from "./useSpreadChoices";

const SHOWN = 60;
const MOST_RENAMED = 100;

/** A variable of words: a bar for each level, in the order of the levels. */
export function LevelsSpread({ table, variable, view }: { table: Table; variable: Variable; view: View }) {
  const counts = useSteady(countsOf(table, variable.symbol));
  const onSelect = useMarkSelection(table, variable.symbol);
  const selectedWords = useSelection((state) => (state.table === table.id ? state.words : ""));
  const [room, size] = useSize();
  const [marked, setMarked] = useState<number | null>(null);
  const drawing = useRef<SVGSVGElement>(null);
  const found = counts.data;
  const rows = found?.counts.rows ?? [];
  const bars: LevelBar[] = rows.slice(0, SHOWN).map((row) => ({
    label: String(row.value),
    count: row.count,
    percent: row.percent,
    selected: selectedWords === String(row.value),
  }));
  const levelAt = (event: MouseEvent<SVGSVGElement>) => {
    const place = Math.floor((event.clientY - event.currentTarget.getBoundingClientRect().top) / LEVEL_STEP);
    return place >= 0 && place < bars.length ? place : null;
  };
  const choose = (place: number | null, add: boolean) => {
    const label = place === null ? undefined : bars[place]?.label;
    if (label !== undefined) onSelect({ words: [label], asked: { level: label } }, add);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (step !== undefined) {
      event.preventDefault();
      setMarked((now) => Math.min(Math.max((now ?? -1) + step, 0), bars.length - 1));
    } else if (event.key === "Enter" || event.key === " ") {
      event.preventDefault();
      choose(marked, event.shiftKey);
    }
  };
  const caption = found
    ? `${titled(variable.label)}: rows at each level, n = ${whole(found.used.n)}${found.used.missing ? ` (${whole(found.used.missing)} missing: ${missingWords(found.used.missing_counts)})` : ""}. Percent of n.${weightsWords(found.used.weighted_by)}`
    : "";
  const repeated = variable.n_levels < (found?.used.n ?? 0);
  return (
    <>
      <Card
        title={`Rows at each ${variable.kind === "category" || variable.kind === "ordered" ? "level" : "value"}`}
        className="max-h-full self-start"
        footer={
          found && (
            <>
              {variable.n_levels > bars.length && <span>and {whole(variable.n_levels - bars.length)} more values</span>}
              {(variable.kind === "category" || variable.kind === "ordered") && variable.n_levels <= MOST_RENAMED && (
                <RecodeChoice {...{ table, variable }} counts={found.counts} />
              )}
              <TakeAway
                drawing={drawing}
                caption={caption}
                table={table}
                variable={variable}
                definition={7}
                classes={{}}
              />
            </>
          )
        }
      >
        {found && view === "table" && (
          <FrequencyTable
            of={variable.kind === "category" || variable.kind === "ordered" ? "level" : "value"}
            lines={rows.map((row) => ({ label: String(row.value), count: row.count }))}
            missing={found.used.missing_counts}
            onSelect={(place, add) => {
              const label = String(rows[place]?.value);
              onSelect({ words: [label], asked: { level: label } }, add);
            }}
            onMissing={() => onSelect({ words: [`missing in ${variable.label}`], asked: { missing: true } }, false)}
          />
        )}
        <div ref={room} className={view === "table" ? "hidden" : "min-h-0 flex-1 overflow-y-auto px-3.5 py-4"}>
          {view !== "table" && size && found && (
            <svg
              ref={drawing}
              role="application"
              aria-label={`${titled(variable.label)}: arrows walk the levels, Enter selects their rows`}
              // biome-ignore lint/a11y/noNoninteractiveTabindex: the picture is one tab stop
              tabIndex={0}
              width={size.width - 28}
              height={bars.length * LEVEL_STEP + 2}
              onPointerMove={(event) => setMarked(levelAt(event))}
              onPointerLeave={() => setMarked(null)}
              onClick={(event) => choose(levelAt(event), event.shiftKey || event.ctrlKey || event.metaKey)}
              onKeyDown={onKeyDown}
            >
              <Levels bars={bars} width={size.width - 28} marked={marked} />
            </svg>
          )}
        </div>
      </Card>
      <div className="flex min-w-0 flex-col gap-3.5">
        <Card title="Reading">
          <p className="px-3.5 py-2.5 font-serif text-lead">
            {found && sentenceOf(variable, found.used.n, bars, repeated)}
          </p>
        </Card>
      </div>
    </>
  );
}

function sentenceOf(variable: Variable, n: number, bars: LevelBar[], repeated: boolean): string {
  if (n === 0) return "There is no value to describe.";
  if (!repeated) return `${titled(KIND_WORDS[variable.kind])}: ${counted(n, "value")}, no two alike.`;
  const most = bars.reduce((best, bar) => (bar.count > best.count ? bar : best));
  const shown = `${counted(variable.n_levels, "different value")} in ${counted(n, "row")}. `;
  return `${shown}Most frequent: ${most.label}, ${counted(most.count, "row")} (${most.percent.toFixed(1)} %).`;
}
