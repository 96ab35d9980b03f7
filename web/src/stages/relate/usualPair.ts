import type { Table, Variable } from "../../api/studies";
import { isNumeric } from "../../words/kinds";
import { canOrder } from "../spread/Sentence";

type Pair = { numeric: Variable[]; usual: Variable[]; orders: Variable[]; variable?: Variable; x?: Variable };

/** The pair that is related: as chosen, or a measured variable against a time or another one. */
export function usualPair(table: Table, choices: { variable: string | null; x: string | null }): Pair {
  const numeric = table.variables.filter(isNumeric);
  const usual = table.variables.filter(({ kind }) => kind === "continuous");
  const variable = numeric.find(({ symbol }) => symbol === choices.variable) ?? usual[0] ?? numeric[0];
  const orders = table.variables.filter((other) => canOrder(other) && other !== variable);
  const x =
    orders.find(({ symbol }) => symbol === choices.x) ??
    orders.find(({ kind }) => kind === "date-time") ??
    orders.find(({ kind }) => kind === "continuous") ??
    orders[0];
  return { numeric, usual, orders, ...(variable ? { variable } : {}), ...(x ? { x } : {}) };
}
