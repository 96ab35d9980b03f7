import { useEffect } from "react";
import { useParams } from "react-router";
import { type Table, useTable } from "../../api/studies";
import { Choices } from "../../ui/Choices";
import { Notice } from "../../ui/Notice";
import { isNumeric } from "../../words/kinds";
import { NothingHere } from "../SentenceWords";
import { canSplit } from "../spread/Sentence";
import { GroupsCompare } from "./GroupsCompare";
import { canCompare, groupingsOf } from "./GroupsSentence";
import { ResultsCompare } from "./ResultsCompare";
import { looksLikeResults } from "./resultColumns";
import { SharesCompare } from "./SharesCompare";
import { MODES, useCompareChoices } from "./useCompareChoices";

/** How do groups differ? */
export function CompareStage() {
  const { tableId } = useParams();
  const { data: table, error } = useTable(tableId);
  if (error) return <Notice problem={error.message} remedy="Choose another table at the left." className="m-4.5" />;
  return table ? <Comparing key={table.id} table={table} /> : null;
}

function Comparing({ table }: { table: Table }) {
  const { choices, change } = useCompareChoices();
  const numeric = table.variables.filter(isNumeric);
  const comparable = table.variables.filter(canCompare);
  const variable = comparable.find(({ symbol }) => symbol === choices.variable) ?? numeric[0] ?? comparable[0];
  useEffect(() => {
    if (variable && choices.variable !== variable.symbol) change({ variable: variable.symbol }, true);
  }, [variable, choices.variable, change]);
  const mode = choices.mode ?? (looksLikeResults(table) ? "results" : "groups");
  const groupings = variable ? groupingsOf(table, variable) : [];
  const by = groupings.find(({ symbol }) => symbol === choices.by) ?? groupings[0];
  if (!variable || (mode === "groups" && !by) || (mode === "results" && numeric.length === 0)) {
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
