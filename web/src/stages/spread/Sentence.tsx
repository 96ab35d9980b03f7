import { useNavigate } from "react-router";
import { QUANTILE_DEFINITIONS } from "../../api/choices.gen";
import type { Definition } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import { WordChoice } from "../../ui/WordChoice";
import { optionsOf } from "../../values";
import { isNumeric } from "../../words/kinds";
import { whole } from "../../words/numbers";
import { GroupWord, optionOf, TableWord, VariableWord } from "../SentenceWords";
import type { Change } from "../useAddress";
import { ANOTHER_VARIABLE, VIEWS, type View } from "./useSpreadChoices";

type SentenceProps = {
  table: Table;
  variable: Variable;
  definition: Definition;
  view: View;
  by: Variable | undefined;
  along: Variable | undefined;
  change: (changes: Change) => void;
};

const VIEW_WORDS: Record<View, string> = {
  shape: "as a shape",
  table: "as a table of frequencies",
  cumulative: "as shares that lie below",
  order: "in order",
};
const MOST_LEVELS = 300;

/** Whether a variable has levels, and few enough to stand side by side. */
export const canSplit = ({ n_levels: n, kind }: Variable) =>
  n > 0 && n <= MOST_LEVELS && (kind === "category" || kind === "ordered");

/** Whether a variable can set an order: it has numbers or times. */
export const canOrder = (variable: Variable) => isNumeric(variable) || variable.kind === "date-time";

/** The set-up in words; each underlined word opens a choice. "/" opens the first, to be typed. */
export function Sentence({ table, variable, definition, view, by, along, change }: SentenceProps) {
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
        options={VIEWS.filter((each) => each === "shape" || each === "table" || isNumeric(variable)).map((value) => ({
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
      {isNumeric(variable) && view === "order" && (
        <>
          {" "}
          of{" "}
          <GroupWord
            label="Order"
            chosen={along}
            none="the rows"
            options={table.variables.filter((other) => other.symbol !== variable.symbol && canOrder(other))}
            onChoose={(symbol) => change({ along: symbol })}
          />
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
