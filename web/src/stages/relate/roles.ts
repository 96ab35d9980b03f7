import type { Table, Variable } from "../../api/studies";
import { isNumeric } from "../../words/kinds";
import { barsNamed, isSet, resultsNamed } from "../resultNames";
import { tellsRows } from "../spread/firstToLookAt";
import { canOrder, canSplit } from "../spread/Sentence";
import type { RelateChoices } from "./useRelateChoices";

type RolesChosen = Pick<RelateChoices, "variable" | "x" | "also" | "by" | "size" | "bars" | "view">;

/** What a picture of pairs is of. also: further variables on the y axis; by, size: what colours and sizes the points;
 *  bars: the columns of their widths to each side, or of their limits. */
export type Roles = {
  x: Variable;
  variable: Variable;
  also: Variable[];
  by: Variable | undefined;
  size: Variable | undefined;
  bars: { x: Variable[]; y: Variable[] };
};

/** What a table offers to be related. variable: the one that is meant, where there is a number; roles: all of them,
 *  where there is a pair. */
type Offered = {
  numeric: Variable[];
  usual: Variable[];
  orders: Variable[];
  others: Variable[];
  groupings: Variable[];
  variable: Variable | undefined;
  roles: Roles | undefined;
};

const ANSWERS = /\b(yield|mass|weight|rate|score|response|growth|mortality|absorbance|signal|intensity|strength)\b/;
const says = (pattern: RegExp) => (variable: Variable) => pattern.test(variable.label.toLowerCase().replace(/_/g, " "));

/** What is measured besides a pair. */
export const measuredBeside = (table: Table, ...pair: (Variable | undefined)[]) =>
  resultsNamed(table).centres.filter((other) => !pair.includes(other));

/** The pair that is related: as chosen, or what answers against what was set, as names say; a width or a limit of
 *  another variable is none of both. */
export function rolesOf(table: Table, chosen: RolesChosen): Offered {
  const numeric = table.variables.filter(isNumeric);
  const usual = table.variables.filter(({ kind }) => kind === "continuous");
  const { centres } = resultsNamed(table);
  const telling = centres.filter((other) => !tellsRows(other));
  const measured = telling.length > 1 ? telling : numeric;
  const likely = measured.filter((other) => !isSet(other));
  const answers = [...likely.filter(says(ANSWERS)), ...likely, ...measured];
  const named = numeric.find(({ symbol }) => symbol === chosen.variable);
  // Who comes with a variable that is set, such as a time, has it on x against what answers.
  const brought =
    chosen.x === null && named && isSet(named) && likely.length > 0 && canOrder(named) ? named : undefined;
  const variable = (brought ? undefined : named) ?? answers.find(({ kind }) => kind === "continuous") ?? answers[0];
  // Two methods of measuring the same are both numbers.
  const canStand = chosen.view === "agreement" ? isNumeric : canOrder;
  const orders = table.variables.filter((other) => canStand(other) && other !== variable);
  const x =
    orders.find(({ symbol }) => symbol === chosen.x) ??
    brought ??
    orders.find(({ kind }) => kind === "date-time") ??
    orders.filter((other) => other.kind !== "ordered" && measured.includes(other)).find(isSet) ??
    orders.find((other) => other.kind === "continuous" && measured.includes(other)) ??
    orders.find((other) => measured.includes(other)) ??
    orders[0];
  const others = numeric.filter((other) => other !== variable && other !== x);
  const groupings = table.variables.filter((other) => other !== variable && other !== x && canSplit(other));
  const also = others.filter(({ symbol }) => chosen.also.includes(symbol));
  const arrived = chosen.x === null;
  const barsFor = (which: 0 | 1, of: Variable | undefined) => {
    const named = chosen.bars[which];
    if (named !== null) return named.flatMap((symbol) => others.find((other) => other.symbol === symbol) ?? []);
    const guessed = arrived && of ? barsNamed(table, of, which === 0 ? [of] : measuredBeside(table, of, x)) : [];
    return guessed.some((other) => other === x || other === variable) ? [] : guessed;
  };
  const bars = { x: x?.kind === "date-time" ? [] : barsFor(0, x), y: also.length > 0 ? [] : barsFor(1, variable) };
  // Results of several series stand apart, and so does what the only grouping tells apart over a time or a dose, unless
  // somebody said otherwise.
  const apart = bars.y.length > 0 || (groupings.length === 1 && x !== undefined && isSet(x));
  const series = arrived && chosen.by === null && apart ? groupings[0] : undefined;
  const by = also.length > 0 ? undefined : (groupings.find(({ symbol }) => symbol === chosen.by) ?? series);
  const size = others.find(({ symbol }) => symbol === chosen.size);
  return {
    numeric,
    usual,
    orders,
    others,
    groupings,
    variable,
    roles: variable && x && { x, variable, also, by, size, bars },
  };
}
