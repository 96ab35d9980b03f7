import type { Table, Variable } from "../api/studies";
import { significant } from "./numbers";

type Setting = { way: string; power?: number; base?: string; offset?: number; at?: string | number; squeeze?: boolean };
export type Recipe = {
  how?: string;
  of?: string | string[];
  label?: string;
  setting?: Setting;
  text?: string;
  boundaries?: number[];
  names?: string[];
  labels?: Record<string, string>;
  by?: string | null;
  level?: string | null;
  row?: number | null;
  within?: string | null;
  order?: string | null;
  centre?: string;
  take?: string;
  steps?: number;
  low?: number | null;
  high?: number | null;
  rows?: number[];
};

const POWERS: Record<string, string> = {
  "-2": "negative reciprocal square",
  "-1": "negative reciprocal",
  "-0.5": "negative reciprocal root",
  "0": "log₁₀",
  "0.5": "square root",
  "1": "as measured",
  "2": "square",
  "3": "cube",
};
const PLAIN: Record<string, string> = {
  "arcsine-root": "arcsine root",
  z: "z score",
  "robust-z": "robust z score",
  rank: "rank",
  "normal-score": "normal score",
};

/** A scale in words: "log₁₀", "square root", "z score". */
export function settingWords(setting: Setting): string {
  const { way, power = 1, base = "10", offset = 0, at = "mean", squeeze } = setting;
  if (way === "power")
    return POWERS[String(power)] ?? (Math.abs(power - 1 / 3) < 1e-9 ? "cube root" : `power ${significant(power)}`);
  if (way === "log") {
    const name = base === "e" ? "ln" : base === "2" ? "log₂" : "log₁₀";
    return offset === 0 ? name : `${name}(x ${offset > 0 ? "+" : "\u2212"} ${significant(Math.abs(offset), 4)})`;
  }
  if (way === "box-cox") return `Box-Cox, power ${significant(power)}`;
  if (way === "yeo-johnson") return `Yeo-Johnson, power ${significant(power)}`;
  if (way === "logit") return squeeze ? "logit, 0 and 1 pulled in" : "logit";
  if (way === "centre")
    return typeof at === "number" ? `distance from ${significant(at, 6)}` : `distance from the ${at}`;
  return PLAIN[way] ?? way;
}

export const TAKES: Record<string, string> = {
  difference: "difference from",
  ratio: "ratio to",
  "percent-change": "percent change from",
  earlier: "value of",
};

/** How a variable follows from others, in a line. */
export function recipeWords(recipe: Recipe, labelOf: (symbol: string) => string): string {
  const [first = ""] = [recipe.of ?? []].flat();
  const of = labelOf(first);
  const within = recipe.within ? `, within each ${labelOf(recipe.within)}` : "";
  switch (recipe.how) {
    case "expression":
      return `= ${recipe.text}`;
    case "scale":
      return recipe.setting ? `${settingWords(recipe.setting)} of ${of}` : of;
    case "classes":
      return `${recipe.names ? new Set(recipe.names).size : (recipe.boundaries?.length ?? 1) - 1} classes of ${of}`;
    case "recode":
      return `levels of ${of} renamed`;
    case "pulled-in":
      return `${of}, ${recipe.rows ? `${recipe.rows.length === 1 ? "one value" : `${recipe.rows.length} values`}` : "values"} pulled in to ${[
        recipe.low,
        recipe.high,
      ]
        .filter((limit) => typeof limit === "number")
        .map((limit) => significant(limit as number, 5))
        .join(" and ")}`;
    case "percent":
      return recipe.row
        ? `${of} in percent of row ${recipe.row}${within}`
        : `${of} in percent of the ${recipe.centre ?? "mean"} of ${labelOf(recipe.by ?? "")} ${recipe.level}${within}`;
    case "along": {
      const steps = recipe.steps === 1 ? "the row before" : `${recipe.steps} rows before`;
      return `${TAKES[recipe.take ?? ""] ?? ""} ${steps}, ${of}${recipe.order ? ` along ${labelOf(recipe.order)}` : ""}${within}`;
    }
    default:
      return `follows ${of}`;
  }
}

/** The words for a variable's own recipe. */
export const follows = (table: Table, variable: Variable): string =>
  recipeWords(variable.recipe as Recipe, labelsIn(table));

export const labelsIn = (table: Table) => (symbol: string) =>
  table.variables.find((each) => each.symbol === symbol)?.label ?? symbol;
