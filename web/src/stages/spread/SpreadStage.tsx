import { useShownTheme } from "../../state/preferences";
import { isNumeric } from "../../words/kinds";
import { useTableHere } from "../TableRoute";
import { useNamed } from "../useAddress";
import { ControlSpread } from "./ControlSpread";
import { CrossSpread } from "./CrossSpread";
import { CumulativeSpread } from "./CumulativeSpread";
import { FrequencySpread } from "./FrequencySpread";
import { firstToLookAt } from "./firstToLookAt";
import { LevelsSpread } from "./LevelsSpread";
import { OrderSpread } from "./OrderSpread";
import { canOrder, canSplit, controlRoles, Sentence } from "./Sentence";
import { ShapeSpread } from "./ShapeSpread";
import { TimesSpread } from "./TimesSpread";
import { UsedRows } from "./UsedRows";
import { useSpreadChoices } from "./useSpreadChoices";

/** How is a variable distributed? */
export function SpreadStage() {
  const table = useTableHere();
  const { choices, change } = useSpreadChoices();
  const theme = useShownTheme((state) => state.shown);
  const variable = table.variables.find(({ symbol }) => symbol === choices.variable) ?? firstToLookAt(table);
  useNamed(variable, choices, change);
  const by =
    variable && (choices.view === "shape" || choices.view === "table")
      ? table.variables.find((other) => other.symbol === choices.by && other !== variable && canSplit(other))
      : undefined;
  const along =
    variable && (choices.view === "order" || choices.view === "control")
      ? table.variables.find((other) => other.symbol === choices.along && other !== variable && canOrder(other))
      : undefined;
  const separately =
    variable && choices.view === "shape" && isNumeric(variable)
      ? table.variables.find((other) => other.symbol === choices.each && other !== variable && canSplit(other))
      : undefined;
  if (!variable) return null;
  return (
    <div className="flex h-full min-h-0 flex-col px-4.5 pb-3.5">
      <div className="flex min-h-[56px] flex-wrap items-center justify-between gap-x-6 gap-y-1 py-2">
        <Sentence
          table={table}
          variable={variable}
          definition={choices.definition}
          view={choices.view}
          by={by}
          along={along}
          subgroup={controlRoles(table, variable, choices).subgroup}
          chart={choices.chart}
          change={change}
        />
        <UsedRows table={table} variable={variable} choices={choices} />
      </div>
      <div key={`${table.id} ${variable.symbol} ${theme}`} className="stage-grid">
        {by && choices.view === "table" ? (
          <CrossSpread {...{ table, variable, by, choices, change }} />
        ) : variable.kind === "date-time" ? (
          <TimesSpread {...{ table, variable, choices, change }} />
        ) : !isNumeric(variable) ? (
          <LevelsSpread {...{ table, variable, choices, change }} />
        ) : choices.view === "order" ? (
          <OrderSpread {...{ table, variable, along, choices, change }} />
        ) : choices.view === "control" ? (
          <ControlSpread {...{ table, variable, choices, change }} roles={controlRoles(table, variable, choices)} />
        ) : choices.view === "cumulative" ? (
          <CumulativeSpread {...{ table, variable, choices, change }} />
        ) : choices.view === "table" ? (
          <FrequencySpread {...{ table, variable, choices, change }} />
        ) : (
          <ShapeSpread {...{ table, variable, by, separately, choices, change }} />
        )}
      </div>
    </div>
  );
}
