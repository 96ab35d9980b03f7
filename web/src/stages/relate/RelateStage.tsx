import { useEffect } from "react";
import { useSearchParams } from "react-router";
import type { Variable } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Choices } from "../../ui/Choices";
import { WordChoice } from "../../ui/WordChoice";
import { isNumeric } from "../../words/kinds";
import { barsNamed } from "../resultNames";
import { GroupWord, NothingHere, optionOf, TableWord, VariableWord } from "../SentenceWords";
import { SeveralChoice } from "../SeveralChoice";
import { useTableHere } from "../TableRoute";
import { AgreementView, AgreementWords } from "./AgreementView";
import { BoardView } from "./BoardView";
import { MatrixView } from "./MatrixView";
import { measuredBeside, type Roles, rolesOf } from "./roles";
import { ScatterView } from "./ScatterView";
import { OTHER_PAIR, swapped, useRelateChoices, VIEWS } from "./useRelateChoices";

const MOST_TOGETHER = 12;
const symbolsOf = (variables: Variable[]) => variables.map(({ symbol }) => symbol).join(" ") || null;
const VERBS = { scatter: "Relate", matrix: "Relate", board: "Straighten", agreement: "Compare" } as const;

/** What an address says of roles. */
const rolesWritten = ({ variable, x, by, bars }: Roles) => ({
  variable: variable.symbol,
  x: x.symbol,
  by: by?.symbol ?? null,
  xbars: symbolsOf(bars.x),
  ybars: symbolsOf(bars.y),
});

type BarsWordProps = {
  of: Variable;
  along?: string;
  chosen: Variable[];
  options: Variable[];
  onChoose: (chosen: string[]) => void;
};

/** The words that name the columns of a variable's bars. */
function BarsWord({ of, along = "", chosen, options, onChoose }: BarsWordProps) {
  const [first, second] = chosen;
  return (
    <>
      ,{" "}
      <SeveralChoice
        label={`Bars of ${of.label}`}
        shown={
          second
            ? `bars from ${first?.label} to ${second.label}${along}`
            : first
              ? `bars of ${first.label}${along}`
              : "without bars"
        }
        options={options.filter((other) => other !== of).map(optionOf)}
        chosen={chosen.map(({ symbol }) => symbol)}
        onChoose={onChoose}
      >
        <p className="mt-2 text-muted-ink text-small">
          One column: the width to each side, such as an SD. Two columns: the ends.
        </p>
      </SeveralChoice>
    </>
  );
}

/** How do two variables move together? */
export function RelateStage() {
  const table = useTableHere();
  const { choices, change } = useRelateChoices();
  const { numeric, usual, orders, others, groupings, variable, roles } = rolesOf(table, choices);
  const [query, setQuery] = useSearchParams();
  const written = roles && JSON.stringify(rolesWritten(roles));
  // The address names all that is looked at, also where it named nothing, or what is not there.
  useEffect(() => {
    if (!written) return;
    const { variable, x, ...others } = JSON.parse(written);
    if (choices.x === null) change({ ...others, variable, x }, true);
    else if (choices.variable !== variable || choices.x !== x) change({ variable, x }, true);
  }, [written, choices.variable, choices.x, change]);
  if (!roles)
    return (
      <NothingHere>
        {variable
          ? `${table.name} has one number only, and nothing to relate it to. Change a kind under its variables, if it should be otherwise.`
          : `No variable of ${table.name} is a number, so there is nothing to relate. Change a kind under its variables, if it should be.`}
      </NothingHere>
    );
  const { x, also, by, size, bars } = roles;
  const at = (symbol: string | null) => table.variables.find((other) => other.symbol === symbol);
  const barsOf = (next: Variable | undefined) =>
    next && symbolsOf(barsNamed(table, next, measuredBeside(table, next, x)));
  const several = choices.together.filter((symbol) => numeric.some((other) => other.symbol === symbol));
  const together = several.length > 1 ? several : usual.slice(0, 5).map(({ symbol }) => symbol);
  const shared = { table, x, variable: roles.variable, choices, change };
  const option = (other: Variable) => optionOf(other);
  const bar = (name: string) => (next: string[]) => change({ [name]: next.slice(-2).join(" ") });
  return (
    <div className="flex h-full min-h-0 flex-col overflow-y-auto px-4.5 pb-3.5">
      <div className="flex min-h-[56px] items-center justify-between gap-x-6 py-2">
        <h1 className="min-w-0 flex-1 text-head leading-tight">
          {choices.view === "matrix" ? (
            <>
              Relate{" "}
              <SeveralChoice
                label="Variables"
                shown={together.map((symbol) => at(symbol)?.label ?? symbol).join(", ")}
                options={numeric.map(option)}
                chosen={together}
                onChoose={(next) => change({ together: next.slice(0, MOST_TOGETHER).join(" ") || null })}
              />{" "}
              in <TableWord table={table} stage="relate" />, each with each
            </>
          ) : (
            <>
              {VERBS[choices.view]}{" "}
              <VariableWord
                variable={roles.variable}
                options={numeric.map(option)}
                onChoose={(symbol) => change({ ...OTHER_PAIR, variable: symbol, ybars: barsOf(at(symbol)) })}
              />
              {choices.view === "scatter" && others.length > 0 && (
                <>
                  {" "}
                  <SeveralChoice
                    label="Also on this axis"
                    shown={also.length > 0 ? `and ${also.map(({ label }) => label).join(", ")}` : "alone"}
                    options={others.map(option)}
                    chosen={also.map(({ symbol }) => symbol)}
                    onChoose={(next) =>
                      change({ also: next.slice(0, MOST_TOGETHER - 1).join(" ") || null, window: null })
                    }
                  />
                </>
              )}{" "}
              {choices.view === "agreement" ? "and" : "to"}{" "}
              <WordChoice
                label="Against"
                shown={x.label}
                value={x.symbol}
                options={orders.map(option)}
                onChoose={(symbol) => change({ ...OTHER_PAIR, also: choices.also.join(" ") || null, x: symbol })}
              />{" "}
              {isNumeric(x) && (
                <Button
                  look="link"
                  title="x and y change places (Y)"
                  onClick={() => setQuery(swapped(query))}
                  className="align-middle text-small!"
                >
                  swap
                </Button>
              )}{" "}
              in <TableWord table={table} stage="relate" />
              {choices.view === "agreement" && <AgreementWords {...{ choices, change }} unit={roles.variable.unit} />}
              {choices.view === "scatter" && groupings.length > 0 && also.length === 0 && (
                <>
                  , coloured by{" "}
                  <GroupWord
                    label="Coloured by"
                    chosen={by}
                    none="nothing"
                    options={groupings}
                    onChoose={(symbol) => change({ by: symbol, each: null })}
                  />
                </>
              )}
              {choices.view === "scatter" && (
                <>
                  , sized by{" "}
                  <GroupWord
                    label="Sized by"
                    chosen={size}
                    none="nothing"
                    options={others}
                    onChoose={(symbol) => change({ size: symbol })}
                  />
                </>
              )}
              {choices.view === "scatter" && choices.form === "points" && others.length > 0 && (
                <>
                  {bars.y.length > 0 && (
                    <BarsWord of={roles.variable} chosen={bars.y} options={others} onChoose={bar("ybars")} />
                  )}
                  {bars.x.length > 0 && (
                    <BarsWord
                      of={x}
                      along={` along ${x.label}`}
                      chosen={bars.x}
                      options={others}
                      onChoose={bar("xbars")}
                    />
                  )}
                </>
              )}
            </>
          )}
        </h1>
        <Choices
          label="What is related"
          options={VIEWS}
          chosen={choices.view}
          onChoose={(next) => change({ view: next === "scatter" ? null : next })}
        />
      </div>
      {choices.view === "matrix" && <MatrixView {...{ table, choices, change }} symbols={together} />}
      {choices.view === "agreement" && <AgreementView {...shared} />}
      {choices.view === "board" && <BoardView {...shared} />}
      {choices.view === "scatter" && <ScatterView {...shared} {...{ also, by, size, bars }} />}
    </div>
  );
}
