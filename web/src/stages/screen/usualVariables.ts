import type { Table, Variable } from "../../api/studies";

const continuous = (table: Table, variable: Variable) =>
  table.variables.filter((other) => other.kind === "continuous" && other !== variable);

/** The variables looked at together until others are chosen. */
export const usualTogether = (table: Table, variable: Variable): string[] =>
  [variable, ...continuous(table, variable)].slice(0, 3).map(({ symbol }) => symbol);

/** What a variable is fitted on: what was chosen, else the first other measured one. */
export function usualPredictors(table: Table, variable: Variable, chosen: string[]): string[] {
  const there = (symbol: string) => table.variables.some((other) => other.symbol === symbol);
  const from = chosen.filter((symbol) => symbol !== variable.symbol && there(symbol));
  const first = continuous(table, variable)[0];
  return from.length > 0 ? from : first ? [first.symbol] : [];
}
