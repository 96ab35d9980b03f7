import type { Table } from "../../api/studies";
import { isNumeric } from "../../words/kinds";
import { wordsIn } from "../useAddress";
import type { CompareChoices } from "./useCompareChoices";

const LOWER = /\b(low|lower|lowest|lo|from|lcl|min(imum)?)\b/;
const UPPER = /\b(high|higher|upper|hi|up|to|ucl|max(imum)?)\b/;
const WIDTH = /\b(sd|se|sem|s\.d\.|s\.e\.|error|half.?width|stdev|deviation)\b/;

export type ResultColumns = { of: string[]; how: "two" | "width" | "none"; limits: string[]; label: string };

/** What the names of a table's columns say of results that it holds. */
function guessed(table: Table) {
  const numeric = table.variables.filter(isNumeric);
  const named = (pattern: RegExp) =>
    numeric.filter(({ label }) => pattern.test(label.toLowerCase().replace(/_/g, " ")));
  const lower = named(LOWER)[0];
  const upper = named(UPPER).find((other) => other !== lower);
  const widths = named(WIDTH);
  const taken = [lower, upper, ...widths];
  const centres = numeric.filter((other) => !taken.includes(other));
  const label = table.variables.find((other) => !isNumeric(other)) ?? (widths.length > 1 ? centres.shift() : undefined);
  return { lower, upper, widths, centres, label };
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
