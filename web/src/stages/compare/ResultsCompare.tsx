import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { type FormEvent, type ReactNode, useId, useState } from "react";
import { AXIS_SCALES, GROUP_MARKS } from "../../api/choices.gen";
import { type Estimates, estimatesOf } from "../../api/compare";
import { cutOf, figureOf } from "../../api/figures";
import type { Scene } from "../../api/plates";
import type { Table, Variable } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { Choices } from "../../ui/Choices";
import { Field } from "../../ui/Field";
import { Floating } from "../../ui/Floating";
import { LayerToggles } from "../../ui/LayerToggles";
import { NumbersTable } from "../../ui/NumbersTable";
import { TakeTable } from "../../ui/TakeTable";
import { Tick } from "../../ui/Tick";
import { WordChoice } from "../../ui/WordChoice";
import { choicesOf, labelsOf, withOrWithout } from "../../values";
import { isNumeric, named, titled } from "../../words/kinds";
import { counted, fixed, typed as numberTyped, readNumber, significant } from "../../words/numbers";
import { GroupsOverlay, type GroupWords } from "../GroupsOverlay";
import { PictureCard, StageHead } from "../PictureCard";
import { GroupWord, optionOf, TableWord } from "../SentenceWords";
import { SeveralChoice } from "../SeveralChoice";
import { StageFigure } from "../StageFigure";
import type { Change } from "../useAddress";
import { useRowRenaming } from "../useRenaming";
import { DrawingChoice } from "./DrawingChoice";
import { levelOrder, movedLevel } from "./levelOrder";
import { resultsPicture } from "./pictures";
import { columnsOf, type ResultColumns } from "./resultColumns";
import { type CompareChoices, SORTS } from "./useCompareChoices";

type ResultsCompareProps = { table: Table; choices: CompareChoices; change: (changes: Change) => void };

const LIMITS = { two: "in the columns", width: "as widths to each side", none: "left out" } as const;
const RESULT_MARKS = ["centre", "joined", "from zero"] as const;

/** Rows that are results already: estimates with their limits, one line each, or side by side where there are blocks. */
export function ResultsCompare({ table, choices, change, aside }: ResultsCompareProps & { aside: ReactNode }) {
  const columns = columnsOf(table, choices);
  const settings = {
    of: columns.of,
    ...(columns.how === "two" ? { limits: columns.limits } : {}),
    ...(columns.how === "width" ? { widths: columns.limits } : {}),
    ...(columns.label ? { label: columns.label } : {}),
    ...(choices.weight ? { weight: choices.weight } : {}),
    ...(choices.heading ? { heading: choices.heading } : {}),
  };
  const ready = columns.how !== "two" || columns.limits.length === 2;
  const { data: result, error } = useQuery({
    ...estimatesOf(table, settings),
    placeholderData: keepPreviousData,
    enabled: ready && columns.of.length > 0,
  });
  const { data: figure, ...drawn } = useQuery({
    ...figureOf(table, resultsPicture(table, choices), "results"),
    placeholderData: keepPreviousData,
    enabled: ready && columns.of.length > 0,
  });
  const [marked, onMark] = useState<number | null>(null);
  const several = (result?.series.length ?? 1) > 1;
  const none = choices.none ?? (choices.log ? 1 : null);
  const decimals = result?.decimals ?? 2;
  const subject = { label: result?.title || "estimate", unit: result?.unit ?? "" };
  const title = titled(named(subject));
  const lanes = [...(figure?.scenes[0]?.lanes ?? [])].sort((a, b) => a.level - b.level);
  const ordered = several ? (result?.rows ?? []) : rowsInOrder(result, lanes);
  const groups = several && result ? blocksOf(result) : [];
  const places = new Map(groups.map(({ place, label }) => [place, { place, label }]));
  const renaming = useRowRenaming(
    table,
    table.variables.find(({ symbol }) => symbol === columns.label),
    (group) => (several ? groups[group]?.row : group),
  );
  const levels = levelOrder([...places.values()], figure?.scenes[0], groups);
  const numbered = several && (result?.numeric_labels ?? false);
  const written = (value: number | null) => (value === null ? "none" : fixed(value, decimals));
  const head = [
    result?.label || "row",
    ...(several ? ["of"] : []),
    "estimate",
    "low",
    "high",
    ...(result?.weight ? [result.weight] : []),
  ];
  const body = ordered.map((row) => [
    row.label,
    ...(several ? [result?.series[row.series] ?? ""] : []),
    written(row.estimate),
    written(row.low),
    written(row.high),
    ...(result?.weight ? [row.weight === null ? "" : significant(row.weight, 4)] : []),
  ]);
  const move = (from: number, to: number) => {
    if (several) return change({ order: "hand", hand: movedLevel(levels, choices, from, to) });
    const next = lanes.map(({ group, level }) => ({ group, level }));
    const [taken] = next.splice(
      next.findIndex(({ level }) => level === from),
      1,
    );
    const place = lanes.findIndex(({ level }) => level === to);
    if (taken) next.splice(place, 0, taken);
    change({ sort: "hand", hand: next.map(({ group }) => group).join(" ") });
  };
  return (
    <>
      <StageHead aside={aside}>
        <ResultsSentence {...{ table, columns, choices, change }} />
      </StageHead>
      <div className="screen-grid">
        <PictureCard
          help="results"
          title="Estimates with limits"
          caption={figure && !drawn.error ? figure.caption : ""}
          file={`${table.name} ${subject.label}`}
          error={error ?? drawn.error}
          onAgain={() => drawn.refetch()}
          cut={figure ? cutOf(figure) : ""}
          onWhole={() => change({ floor: null, ceiling: null })}
          aside={
            <span className="flex flex-wrap items-center gap-3">
              {several && (
                <LayerToggles
                  label="Marks"
                  words={GROUP_MARKS}
                  layers={RESULT_MARKS}
                  shown={choices.marks}
                  onChange={(next) => change({ marks: next.join(",") })}
                />
              )}
              {!several && (
                <>
                  <Choices
                    label="Axis"
                    options={labelsOf(AXIS_SCALES)}
                    chosen={choices.log ? "log" : "linear"}
                    onChoose={(next) => change({ scale: next === "log" ? "log" : null })}
                  />
                  {result && <LineChoices {...{ table, found: result, choices, change, none }} />}
                </>
              )}
              {several && (
                <DrawingChoice
                  {...{ levels, choices, change, numbered }}
                  seconds={result?.series.length ?? 0}
                  variable={table.variables.find(({ symbol }) => symbol === columns.of[0]) as Variable}
                />
              )}
            </span>
          }
        >
          {figure
            ? (size, drawing) => (
                <StageFigure
                  {...{ figure, size, drawing }}
                  title={`${title} with limits, one line for each of ${counted(ordered.length, "row")}`}
                >
                  {(plan) => (
                    <GroupsOverlay
                      {...{ table, plan, marked, onMark, renaming }}
                      label={`${title}: arrows walk the estimates`}
                      unit={subject.unit}
                      wordsOf={(group) => wordsOf(result, group, several, decimals)}
                      onMove={move}
                    />
                  )}
                </StageFigure>
              )
            : null}
        </PictureCard>
        <div className="flex min-h-0 min-w-0 flex-col gap-3.5 overflow-y-auto">
          {result && !error && (
            <Card
              help="results"
              title="Numbers"
              className="max-h-[60%] min-h-[140px] shrink-0"
              aside={<TakeTable name={`${table.name} estimates`} table={() => ({ head, body })} />}
            >
              <NumbersTable {...{ head, body }} strong="estimate" />
            </Card>
          )}
          {result && !error && (
            <Card help="results" title="Reading" className="shrink-0">
              <p className="px-3.5 py-2 font-serif text-lead">
                {[...result.words, ...(several ? [] : besideNone(result, none))].join(" ")}
              </p>
            </Card>
          )}
          {result && result.matches.length > 0 && <MatchCard found={result} />}
        </div>
      </div>
    </>
  );
}

/** Which columns were put together, by name, before anything is drawn from them. */
function MatchCard({ found }: { found: Estimates }) {
  const head = ["of", "centre", "width"];
  const body = found.matches.map(({ name, centre, width }) => [
    name || "no partner",
    centre || "none",
    width || "none",
  ]);
  return (
    <Card help="results" title="Columns matched by name" className="shrink-0">
      <NumbersTable {...{ head, body }} />
    </Card>
  );
}

function ResultsSentence({ table, columns, choices, change }: ResultsCompareProps & { columns: ResultColumns }) {
  const numeric = table.variables.filter(isNumeric);
  const labelOf = (symbol: string) => table.variables.find((other) => other.symbol === symbol)?.label ?? symbol;
  const words = (symbols: string[]) => symbols.map(labelOf).join(", ") || "choose";
  const label = table.variables.find(({ symbol }) => symbol === columns.label);
  const heading = table.variables.find(({ symbol }) => symbol === choices.heading);
  const setLimits = (how: string, symbols: string[]) => change({ ends: [how, ...symbols].join(" ") });
  return (
    <>
      Compare the results{" "}
      <SeveralChoice
        label="Estimates"
        shown={words(columns.of)}
        options={numeric.map(optionOf)}
        chosen={columns.of}
        onChoose={(next) => change({ of: next.join(" ") || null })}
      />{" "}
      in <TableWord table={table} stage="compare" />, named by{" "}
      <GroupWord
        label="Names"
        chosen={label}
        none="their rows"
        options={table.variables.filter(({ symbol }) => !columns.of.includes(symbol))}
        onChoose={(symbol) => change({ label: symbol ?? "none", hand: null })}
      />
      , limits{" "}
      <WordChoice
        label="Limits stand"
        value={columns.how}
        options={choicesOf(LIMITS)}
        onChoose={(how) => setLimits(how, [])}
      />
      {columns.how !== "none" && (
        <>
          {" "}
          <SeveralChoice
            label={columns.how === "two" ? "Columns of limits" : "Columns of widths"}
            shown={words(columns.limits)}
            options={numeric.filter(({ symbol }) => !columns.of.includes(symbol)).map(optionOf)}
            chosen={columns.limits}
            onChoose={(next) => setLimits(columns.how, columns.how === "two" ? next.slice(-2) : next)}
          />
        </>
      )}
      {columns.of.length === 1 && (
        <>
          , sorted{" "}
          <WordChoice
            label="Sorted"
            value={choices.sort}
            options={choicesOf(SORTS)}
            onChoose={(sort) => change({ sort: sort === "table" ? null : sort, hand: null })}
          />
          ,{" "}
          <GroupWord
            label="Headings"
            chosen={heading}
            none="without headings"
            before="under headings of "
            options={table.variables.filter((other) => !isNumeric(other) && other !== label)}
            onChoose={(symbol) => change({ heading: symbol })}
          />
        </>
      )}
    </>
  );
}

type LineChoicesProps = ResultsCompareProps & { found: Estimates; none: number | null };

/** The line of no difference, the sizes of marks, and rows that were put together elsewhere. */
function LineChoices({ table, found, choices, change, none }: LineChoicesProps) {
  const [value, setValue] = useState(none === null ? "" : numberTyped(none));
  const [words, setWords] = useState(choices.noneWords);
  const title = useId();
  const set = (event: FormEvent) => {
    event.preventDefault();
    change({ none: readNumber(value), none_words: words.trim() || null });
  };
  const rows = found.rows.map((row) => ({ value: String(row.row), label: row.label }));
  return (
    <Floating
      label="Line, sizes and combined rows"
      align="end"
      className="w-80 p-3"
      trigger={
        <Button look="word" className="text-small!">
          display
        </Button>
      }
    >
      <form onSubmit={set} className="flex items-end gap-2">
        <Field
          label="Line at"
          className="w-20!"
          inputMode="decimal"
          placeholder="none"
          value={value}
          onChange={(event) => setValue(event.target.value)}
        />
        <Field label="Its label" value={words} onChange={(event) => setWords(event.target.value)} />
        <Button type="submit">Set</Button>
      </form>
      <p className="mt-2 border-line border-t pt-2">
        Marks{" "}
        <GroupWord
          label="Sizes"
          chosen={table.variables.find(({ symbol }) => symbol === choices.weight)}
          none="all of one size"
          before="sized by "
          options={table.variables.filter(isNumeric)}
          onChoose={(symbol) => change({ weight: symbol })}
        />
      </p>
      <p id={title} className="mt-2 mb-1 border-line border-t pt-2 text-muted-ink text-small">
        Rows put together elsewhere, drawn as diamonds
      </p>
      <fieldset aria-labelledby={title} className="max-h-56 overflow-y-auto">
        {rows.map(({ value: row, label }) => (
          <Tick
            key={row}
            checked={choices.combined.includes(Number(row))}
            onChange={(on) =>
              change({
                combined: withOrWithout(choices.combined, Number(row), on).join(" ") || null,
              })
            }
          >
            {label}
          </Tick>
        ))}
      </fieldset>
    </Floating>
  );
}

/** Rows as they stand in the picture. */
function rowsInOrder(result: Estimates | undefined, lanes: Scene["lanes"]): Estimates["rows"] {
  const rows = new Map((result?.rows ?? []).map((row) => [row.row, row]));
  return lanes.flatMap(({ group }) => rows.get(group) ?? []);
}

/** The estimates of blocks, row by row and block by block, each with the place of its row's name. */
function blocksOf(result: Estimates) {
  const labels = [...new Set(result.rows.map(({ label }) => label))];
  return result.rows
    .map((row) => ({ ...row, place: labels.indexOf(row.label) }))
    .sort((a, b) => a.place - b.place || a.series - b.series);
}

/** An estimate as it is read off. several: whether it is known by its place among blocks, else by its row. */
function wordsOf(result: Estimates | undefined, group: number, several: boolean, decimals: number): GroupWords | null {
  const row = result && (several ? blocksOf(result)[group] : result.rows.find((other) => other.row === group));
  if (!result || !row) return null;
  const { label, series, estimate, low, high } = row;
  const unit = result.unit ? ` ${result.unit}` : "";
  const limits =
    low === null || high === null ? "no limits" : `${fixed(low, decimals)} to ${fixed(high, decimals)}${unit}`;
  const name = several ? `${label}, ${result.series[series] ?? ""}` : label;
  return { name, words: [name, `${fixed(estimate, decimals)}${unit}`, limits], ends: [estimate, low, high] };
}

/** Which rows lie wholly to one side of the line of no difference, and which are told most and least exactly. */
function besideNone(result: Estimates, none: number | null): string[] {
  const limited = result.rows.filter(
    (row): row is typeof row & { low: number; high: number } => row.low !== null && row.high !== null,
  );
  if (limited.length < 2) return [];
  const width = ({ low, high }: { low: number; high: number }) => high - low;
  const sorted = [...limited].sort((a, b) => width(a) - width(b));
  const said = [`The narrowest limits are those of ${sorted[0]?.label}, the widest those of ${sorted.at(-1)?.label}.`];
  if (none !== null) {
    const at = significant(none, 6);
    const below = limited.filter(({ high }) => high < none).length;
    const above = limited.filter(({ low }) => low > none).length;
    said.push(`Wholly below ${at}: ${below}; wholly above: ${above}; across it: ${limited.length - below - above}.`);
  }
  return said;
}
