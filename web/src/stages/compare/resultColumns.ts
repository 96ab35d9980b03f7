import type { Table } from "../../api/studies";
import { isNumeric } from "../../words/kinds";
import { resultsNamed } from "../resultNames";
import { wordsIn } from "../useAddress";
import type { CompareChoices } from "./useCompareChoices";

export type ResultColumns = { of: string[]; how: "two" | "width" | "none"; limits: string[]; label: string };

/** What the names of a table's columns say of results that it holds. */
function guessed(table: Table) {
  const { centres, ...ends } = resultsNamed(table);
  const several = ends.widths.length > 1;
  const label = table.variables.find((other) => !isNumeric(other)) ?? (several ? centres.shift() : undefined);
  return { ...ends, centres, label };
}

/** Whether a table looks like one of results: an estimate with two limits, or two blocks, few rows, none of them twice. */
export function looksLikeResults(table: Table): boolean {
  const { lower, upper, widths, centres, label } = guessed(table);
  if (table.n_rows > 300 || centres.length === 0 || !label) return false;
  const named = label.n_levels === 0 || label.n_levels === table.n_rows;
  return named && ((lower !== undefined && upper !== undefined) || widths.length > 0);
}

/** The columns as chosen, or as their names say. */
export function columnsOf(table: Table, choices: CompareChoices): ResultColumns {
  const { lower, upper, widths, centres, label } = guessed(table);
  const there = (symbols: string[]) => symbols.filter((symbol) => table.variables.some((v) => v.symbol === symbol));
  const numeric = table.variables.filter(isNumeric);
  const many = widths.length > 1 && (!lower || !upper);
  const usual = many ? centres : centres.slice(0, 1);
  const chosen = there(choices.of);
  const of = chosen.length > 0 ? chosen : (usual.length > 0 ? usual : numeric.slice(0, 1)).map(({ symbol }) => symbol);
  const [how, ...ends] = wordsIn(choices.limits);
  const own = there(ends);
  const named = choices.label === "none" ? "" : there([choices.label ?? ""])[0];
  const shared = { of, label: named ?? label?.symbol ?? "" };
  if (how === "none") return { ...shared, how, limits: [] };
  const two = lower && upper ? [lower.symbol, upper.symbol] : [];
  if (how === "two") return { ...shared, how, limits: own.length > 0 ? own : two };
  const width = (many ? widths : widths.slice(0, 1)).map(({ symbol }) => symbol);
  if (how === "width") return { ...shared, how, limits: own.length > 0 ? own : width };
  if (two.length === 2 && of.length === 1) return { ...shared, how: "two", limits: two };
  return width.length > 0 ? { ...shared, how: "width", limits: width } : { ...shared, how: "none", limits: [] };
}
