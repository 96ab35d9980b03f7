import { BARS as RECORDS } from "../../api/choices.gen";
import type { Table, Variable } from "../../api/studies";
import { Typed } from "../../ui/Typed";
import { WordChoice } from "../../ui/WordChoice";
import { choicesOf } from "../../values";
import { isNumeric } from "../../words/kinds";
import { percent, whole } from "../../words/numbers";
import { isSet } from "../resultNames";
import { GroupWord, optionOf, TableWord, VariableWord } from "../SentenceWords";
import { canSplit } from "../spread/Sentence";
import type { Change } from "../useAddress";
import { BARS, CENTRE_LABELS, type CompareChoices, fitting, hasLevel, OTHER_GROUPS } from "./useCompareChoices";

/** What can be compared across groups: numbers by their centres, answers by their shares. */
export const canCompare = (variable: Variable) => isNumeric(variable) || canSplit(variable);

/** Variables by which rows can be grouped: those with levels, then numbers, each value of which is a group. */
export const groupingsOf = (table: Table, variable: Variable) => [
  ...table.variables.filter((other) => other !== variable && canSplit(other)),
  ...table.variables.filter((other) => other !== variable && !canSplit(other) && isNumeric(other)),
];

/** Groups of a number that is set, such as weeks, stand where it says, and their centres are joined. */
function overNumbers(table: Table, symbol: string, { marks }: CompareChoices): Change {
  const by = table.variables.find((other) => other.symbol === symbol);
  return by && isNumeric(by) && isSet(by)
    ? { axis: "numbers", marks: [...new Set([...marks, "joined"])].join(",") }
    : {};
}

export type SentenceProps = {
  table: Table;
  variable: Variable;
  by: Variable;
  choices: CompareChoices;
  change: (changes: Change) => void;
};

/** The variable, its table and its groups: how every sentence here begins. */
export function Groups({ table, variable, by, choices, change }: SentenceProps) {
  const option = (other: Variable) =>
    canSplit(other) ? optionOf(other) : { ...optionOf(other), note: "each value a group" };
  return (
    <>
      <VariableWord
        variable={variable}
        options={table.variables.filter(canCompare).map(optionOf)}
        onChoose={(symbol) => change({ variable: symbol, floor: null, ceiling: null, answers: null, neutral: null })}
      />{" "}
      in <TableWord table={table} stage="compare" /> across{" "}
      <WordChoice
        label="Groups"
        shown={by.label}
        value={by.symbol}
        options={groupingsOf(table, variable).map(option)}
        onChoose={(symbol) => change({ ...OTHER_GROUPS, ...overNumbers(table, symbol, choices), by: symbol })}
      />
    </>
  );
}

type GroupsSentenceProps = SentenceProps & { second: Variable | undefined; pair: Variable | undefined };

export function GroupsSentence(props: GroupsSentenceProps) {
  const { table, variable, by, second, pair, choices, change } = props;
  const groupings = table.variables.filter((other) => other !== variable && other !== by && canSplit(other));
  const joining = table.variables.filter((other) => other !== variable && other !== by && !isNumeric(other));
  const unit = table.variables.find(({ symbol }) => symbol === table.unit_variable);
  const offered = fitting(choices.centre).filter((bars) => bars !== "within-unit-interval" || (unit && choices.units));
  return (
    <>
      Compare <Groups {...props} />
      {groupings.length > 0 && (
        <>
          , split by{" "}
          <GroupWord
            label="Second grouping"
            chosen={second}
            none="nothing"
            options={groupings}
            onChoose={(symbol) => change({ second: symbol })}
          />
        </>
      )}
      , showing the <CentreWord {...{ variable, choices, change }} />{" "}
      {choices.centre === "trimmed-mean" && <TrimWord {...{ choices, change }} />} with the{" "}
      <WordChoice
        label="Bars"
        value={choices.bars}
        options={offered.map((value) => ({ value, label: BARS[value], note: RECORDS[value].help }))}
        onChoose={(bars) => change({ bars })}
      />
      {choices.bars === "percentiles" && (
        <>
          {" "}
          <Typed
            label="Percent points"
            shown={choices.percents.join(" and ")}
            fields={{ From: choices.percents[0], To: choices.percents[1] }}
            onSet={([low, high]) => change({ low, high })}
          />
        </>
      )}
      {hasLevel(choices.bars) && <LevelWord {...{ choices, change }} />}
      {unit && (
        <>
          , n counting{" "}
          <WordChoice
            label="What n counts"
            shown={choices.units ? `each ${unit.label}` : "rows"}
            value={choices.units ? "units" : ""}
            options={[
              { value: "", label: "rows" },
              { value: "units", label: `each ${unit.label}`, note: "rows are averaged first" },
            ]}
            onChoose={(value) => change({ n: value || null })}
          />
        </>
      )}
      {choices.withValues && joining.length > 0 && (
        <>
          , joined by{" "}
          <GroupWord
            label="Joined by"
            chosen={pair}
            none="nothing"
            options={joining}
            onChoose={(symbol) => change({ pair: symbol, measure: null })}
          />
        </>
      )}
      <span className="sr-only">, {whole(table.n_rows)} rows</span>
    </>
  );
}

/** What stands for a group: a centre, or of answers the share that some of them have. */
export function CentreWord({ variable, choices, change }: Pick<SentenceProps, "variable" | "choices" | "change">) {
  const options = [
    ...(isNumeric(variable) ? choicesOf(CENTRE_LABELS) : []),
    ...(canSplit(variable) ? [{ value: "share", label: "share" }] : []),
  ];
  const share = choices.asShare || !isNumeric(variable);
  return (
    <WordChoice
      label="Centre"
      shown={share ? "share" : CENTRE_LABELS[choices.centre]}
      value={share ? "share" : choices.centre}
      options={options}
      onChoose={(centre) => change({ centre, bars: null, measure: null })}
    />
  );
}

/** What a trimmed mean leaves out. */
export function TrimWord({ choices, change }: Pick<SentenceProps, "choices" | "change">) {
  return (
    <Typed
      label="Share cut from each end"
      shown={`cut by ${percent(choices.trim)}`}
      fields={{ "Percent cut from each end": 100 * choices.trim }}
      onSet={([cut]) => change({ trim: cut === undefined ? null : cut / 100 })}
    />
  );
}

/** " at 95 %", of intervals. */
export function LevelWord({ choices, change }: Pick<SentenceProps, "choices" | "change">) {
  return (
    <>
      {" "}
      at{" "}
      <WordChoice
        label="Level"
        shown={percent(choices.level)}
        value={String(choices.level)}
        options={[0.8, 0.9, 0.95, 0.99].map((level) => ({
          value: String(level),
          label: percent(level),
        }))}
        onChoose={(level) => change({ level: level === "0.95" ? null : level })}
      />
    </>
  );
}
