import { Choices } from "../../ui/Choices";
import { isNumeric } from "../../words/kinds";
import { NothingHere } from "../SentenceWords";
import { worthALook } from "../spread/firstToLookAt";
import { canSplit } from "../spread/Sentence";
import { useTableHere } from "../TableRoute";
import { useNamed } from "../useAddress";
import { GroupsCompare } from "./GroupsCompare";
import { canCompare, groupingsOf } from "./GroupsSentence";
import { ResultsCompare } from "./ResultsCompare";
import { looksLikeResults } from "./resultColumns";
import { SharesCompare } from "./SharesCompare";
import { MODES, useCompareChoices } from "./useCompareChoices";

/** How do groups differ? */
export function CompareStage() {
  const table = useTableHere();
  const { choices, change } = useCompareChoices();
  const comparable = table.variables.filter(canCompare);
  const variable =
    comparable.find(({ symbol }) => symbol === choices.variable) ??
    worthALook(table).find(isNumeric) ??
    worthALook(table).find(canCompare);
  useNamed(variable, choices, change);
  const mode = choices.mode ?? (looksLikeResults(table) ? "results" : "groups");
  const groupings = variable ? groupingsOf(table, variable) : [];
  const by = groupings.find(({ symbol }) => symbol === choices.by) ?? groupings[0];
  if (!variable || (mode === "groups" && !by) || (mode === "results" && !table.variables.some(isNumeric))) {
    return (
      <NothingHere>
        {variable
          ? `${table.name} has no other variable, so there are no groups to compare. Put a number in classes under Rescale, or change a kind under its variables.`
          : `No variable of ${table.name} is a number or has levels, so there is nothing to compare. Change a kind under its variables, if it should be.`}
      </NothingHere>
    );
  }
  const at = (symbol: string | null) =>
    table.variables.find((other) => other.symbol === symbol && other !== variable && other !== by);
  const second = at(choices.second);
  const aside = (
    <Choices
      label="What is compared"
      options={MODES}
      chosen={mode}
      onChoose={(next) => change({ mode: next, floor: null, ceiling: null, hand: null, hidden: null })}
    />
  );
  const shared = { table, choices, change, aside };
  return (
    <div className="flex h-full min-h-0 flex-col overflow-y-auto px-4.5 pb-3.5">
      {mode === "results" && <ResultsCompare {...shared} />}
      {mode === "groups" &&
        by &&
        (isNumeric(variable) && !(choices.asShare && canSplit(variable)) ? (
          <GroupsCompare
            {...{ ...shared, variable, by }}
            second={second && canSplit(second) ? second : undefined}
            pair={at(choices.pair)}
          />
        ) : (
          <SharesCompare {...{ ...shared, variable, by }} />
        ))}
    </div>
  );
}
