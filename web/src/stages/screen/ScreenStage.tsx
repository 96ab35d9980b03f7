import type { Table, Variable } from "../../api/studies";
import { Choices } from "../../ui/Choices";
import { isNumeric } from "../../words/kinds";
import { GroupWord, NothingHere, optionOf, TableWord, VariableWord } from "../SentenceWords";
import { SeveralChoice } from "../SeveralChoice";
import { worthALook } from "../spread/firstToLookAt";
import { canSplit } from "../spread/Sentence";
import { useTableHere } from "../TableRoute";
import { useNamed } from "../useAddress";
import { OneVariable } from "./OneVariable";
import { Relation } from "./Relation";
import { RULE_OPTIONS, RuleSettings } from "./RulesChoice";
import { Together } from "./Together";
import { MODES, RULES, useScreenChoices } from "./useScreenChoices";
import { usualPredictors, usualTogether } from "./usualVariables";

/** Which rows deserve a second look? */
export function ScreenStage() {
  const table = useTableHere();
  const { choices, change } = useScreenChoices();
  const numeric = table.variables.filter(isNumeric);
  const variable = numeric.find(({ symbol }) => symbol === choices.variable) ?? worthALook(table).find(isNumeric);
  useNamed(variable, choices, change);
  if (!variable) {
    return (
      <NothingHere>
        {`No variable of ${table.name} is a number, so no row can be far from the others. Change a kind under its variables, if it should be.`}
      </NothingHere>
    );
  }
  return <Screening table={table} variable={variable} />;
}

const MOST_TOGETHER = 12;

function Screening({ table, variable }: { table: Table; variable: Variable }) {
  const { choices, change } = useScreenChoices();
  const { mode } = choices;
  const there = (symbol: string) => table.variables.find((other) => other.symbol === symbol);
  const by = table.variables.find((other) => other.symbol === choices.by && other !== variable && canSplit(other));
  const together = choices.together.filter((symbol) => there(symbol));
  const several = together.length > 0 ? together : usualTogether(table, variable);
  const predictors = usualPredictors(table, variable, choices.predictors);
  const labels = (symbols: string[]) => symbols.map((symbol) => there(symbol)?.label ?? symbol);
  const words = (symbols: string[]) => {
    const all = labels(symbols);
    return all.length < 2 ? (all[0] ?? "choose") : `${all.slice(0, -1).join(", ")} and ${all.at(-1)}`;
  };
  const rules = choices.settings.rules ?? [];
  return (
    <div className="flex h-full min-h-0 flex-col overflow-y-auto px-4.5 pb-3.5">
      <div className="flex min-h-[56px] flex-wrap items-center justify-between gap-x-6 gap-y-1 py-2">
        <h1 className="text-head leading-tight">
          {mode === "relation" ? "Screen the relation of" : "Screen"}{" "}
          {mode === "together" ? (
            <SeveralChoice
              label="Variables"
              shown={words(several)}
              options={table.variables.filter(isNumeric).map(optionOf)}
              chosen={several}
              onChoose={(next) => change({ together: next.slice(0, MOST_TOGETHER).join(" ") || null })}
            />
          ) : (
            <VariableWord
              variable={variable}
              options={table.variables.filter(isNumeric).map(optionOf)}
              onChoose={(symbol) => change({ variable: symbol })}
            />
          )}{" "}
          {mode === "relation" && (
            <>
              to{" "}
              <SeveralChoice
                label="Predictors"
                shown={words(predictors)}
                options={table.variables
                  .filter((other) => other !== variable && (isNumeric(other) || canSplit(other)))
                  .map(optionOf)}
                chosen={predictors}
                onChoose={(next) =>
                  change({ from: next.slice(0, MOST_TOGETHER).join(" ") || null, product: null, coefficient: null })
                }
              />
              {predictors.length > 1 && (
                <>
                  ,{" "}
                  <SeveralChoice
                    label="Interaction"
                    shown={
                      choices.product.length === 2 ? `with ${labels(choices.product).join(" × ")}` : "no interaction"
                    }
                    options={predictors.map((symbol) => ({ value: symbol, label: there(symbol)?.label ?? symbol }))}
                    chosen={choices.product}
                    onChoose={(next) => change({ product: next.slice(-2).join(" ") || null, coefficient: null })}
                  >
                    <p className="mt-1 text-muted-ink text-small">Two of them: their product takes part too.</p>
                  </SeveralChoice>
                </>
              )}{" "}
            </>
          )}
          {mode === "together" ? "together in " : "in "}
          <TableWord table={table} stage="screen" />
          {mode === "one" && (
            <>
              {" "}
              by{" "}
              <SeveralChoice
                label="Rules"
                shown={rules.map((rule) => RULES[rule]).join(", ") || "no rule"}
                options={RULE_OPTIONS}
                chosen={rules}
                onChoose={(next) =>
                  change({
                    rules: Object.keys(RULES)
                      .filter((rule) => next.includes(rule))
                      .join(" "),
                  })
                }
              >
                <RuleSettings settings={choices.settings} change={change} />
              </SeveralChoice>
              ,{" "}
              <GroupWord
                label="Judged within"
                chosen={by}
                none="over all rows"
                before="within each "
                options={table.variables.filter((other) => other !== variable && canSplit(other))}
                onChoose={(symbol) => change({ by: symbol })}
              />
            </>
          )}
        </h1>
        <Choices
          label="What is screened"
          options={MODES}
          chosen={mode}
          onChoose={(next) => change({ mode: next === "one" ? null : next })}
        />
      </div>
      {mode === "one" && <OneVariable key={variable.symbol} {...{ table, variable, by, choices, change }} />}
      {mode === "together" && <Together key={several.join()} table={table} symbols={several} />}
      {mode === "relation" &&
        (predictors.length > 0 ? (
          <Relation {...{ table, variable, predictors, choices, change }} />
        ) : (
          <p className="m-auto max-w-96 text-center font-serif text-lead text-muted-ink">
            A relation needs another variable: choose what {variable.label} may depend on.
          </p>
        ))}
    </div>
  );
}
