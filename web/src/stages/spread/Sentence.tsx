import { useNavigate } from "react-router";
import { CHARTS, QUANTILE_DEFINITIONS } from "../../api/choices.gen";
import type { Definition } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import { WordChoice } from "../../ui/WordChoice";
import { optionsOf } from "../../values";
import { isNumeric } from "../../words/kinds";
import { whole } from "../../words/numbers";
import { GroupWord, optionOf, TableWord, VariableWord } from "../SentenceWords";
import type { Change } from "../useAddress";
import { ANOTHER_VARIABLE, type Chart, type SpreadChoices, VIEWS, type View } from "./useSpreadChoices";

type SentenceProps = {
  table: Table;
  variable: Variable;
  definition: Definition;
  view: View;
  by: Variable | undefined;
  along: Variable | undefined;
  subgroup: Variable | undefined;
  chart: Chart;
  change: (changes: Change) => void;
};

const VIEW_WORDS: Record<View, string> = {
  shape: "as a shape",
  table: "as a table of frequencies",
  cumulative: "as shares that lie below",
  order: "in order",
  control: "as a control chart",
};
const MOST_LEVELS = 300;

/** Whether a variable has levels, and few enough to stand side by side. */
export const canSplit = ({ n_levels: n, kind }: Variable) =>
  n > 0 && n <= MOST_LEVELS && (kind === "category" || kind === "ordered");

/** Whether a variable can set an order: it has numbers or times. */
export const canOrder = (variable: Variable) => isNumeric(variable) || variable.kind === "date-time";

/** Whether a variable can name subgroups: it has levels, however many. */
const canGroup = ({ n_levels: n, kind }: Variable) => n > 1 && kind !== "continuous";

/** What a control chart stands on: the order, and the subgroups whose means it shows. */
export function controlRoles(table: Table, variable: Variable, chosen: Pick<SpreadChoices, "along" | "subgroup">) {
  const others = table.variables.filter((other) => other !== variable);
  return {
    along: others.find((other) => other.symbol === chosen.along && canOrder(other)),
    subgroup: others.find((other) => other.symbol === chosen.subgroup && canGroup(other)),
  };
}

/** The set-up in words; each underlined word opens a choice. "/" opens the first, to be typed. */
export function Sentence({ table, variable, definition, view, by, along, subgroup, chart, change }: SentenceProps) {
  const groupings = table.variables.filter((other) => other !== variable && canGroup(other));
  const navigate = useNavigate();
  return (
    <h1 className="text-head leading-tight">
      Spread of{" "}
      <VariableWord
        variable={variable}
        options={[
          ...table.variables.map(optionOf),
          { value: "", label: "all numeric variables", note: "side by side" },
        ]}
        onChoose={(symbol) => {
          if (symbol) change({ ...ANOTHER_VARIABLE, variable: symbol });
          else navigate(`/tables/${table.id}/overview`);
        }}
      />{" "}
      in <TableWord table={table} stage="spread" />{" "}
      <WordChoice
        label="Looked at"
        value={view}
        options={VIEWS.filter((view) => view === "shape" || view === "table" || isNumeric(variable)).map((value) => ({
          value,
          label: VIEW_WORDS[value],
        }))}
        onChoose={(value) => change({ as: value === "shape" ? null : value })}
      />
      {((isNumeric(variable) && view === "shape") || view === "table") && (
        <>
          , split by{" "}
          <GroupWord
            label="Split by"
            chosen={by}
            none="nothing"
            options={table.variables.filter((other) => other.symbol !== variable.symbol && canSplit(other))}
            onChoose={(symbol) => change({ by: symbol })}
          />
        </>
      )}
      {isNumeric(variable) && (view === "order" || view === "control") && (
        <>
          {view === "control" ? ", in the order of " : " of "}
          <GroupWord
            label="Order"
            chosen={along}
            none="the rows"
            options={table.variables.filter((other) => other.symbol !== variable.symbol && canOrder(other))}
            onChoose={(symbol) => change({ along: symbol })}
          />
        </>
      )}
      {isNumeric(variable) && view === "control" && (
        <>
          , of{" "}
          <WordChoice
            label="Points"
            value={subgroup ? chart : "individuals"}
            options={optionsOf(CHARTS)}
            onChoose={(value) =>
              change({
                chart: value === "individuals" ? null : value,
                subgroup: value === "individuals" ? null : (subgroup ?? groupings[0])?.symbol,
              })
            }
          />
          {subgroup && chart !== "individuals" && (
            <>
              {" "}
              by{" "}
              <WordChoice
                label="Subgroup"
                value={subgroup.symbol}
                options={groupings.map(optionOf)}
                onChoose={(symbol) => change({ subgroup: symbol })}
              />
            </>
          )}
        </>
      )}
      {isNumeric(variable) && (view === "shape" || view === "cumulative") && (
        <>
          , quartiles by{" "}
          <WordChoice
            label="Quantile definition"
            shown={QUANTILE_DEFINITIONS[definition].label}
            value={String(definition)}
            options={optionsOf(QUANTILE_DEFINITIONS)}
            onChoose={(value) => change({ definition: value === "7" ? null : value })}
          />
        </>
      )}
      <span className="sr-only">, {whole(table.n_rows)} rows</span>
    </h1>
  );
}
