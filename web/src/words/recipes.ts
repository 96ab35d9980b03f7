import type { Table, Variable } from "../api/studies";
import { significant } from "./numbers";

type Setting = { way: string; power?: number; base?: string; offset?: number; at?: string | number; squeeze?: boolean };
type Recipe = {
  how?: string;
  of?: string | string[];
  setting?: Setting;
  text?: string;
  boundaries?: number[];
  labels?: Record<string, string>;
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

/** How a variable follows from others, in a line. */
export function recipeWords(table: Table, variable: Variable): string {
  const recipe = variable.recipe as Recipe;
  const labels = variable.follows_from.map((of) => table.variables.find(({ symbol }) => symbol === of)?.label ?? of);
  if (recipe.how === "expression") return `= ${recipe.text}`;
  if (recipe.how === "scale" && recipe.setting) return `${settingWords(recipe.setting)} of ${labels.join(", ")}`;
  if (recipe.how === "classes") return `${(recipe.boundaries?.length ?? 1) - 1} classes of ${labels.join(", ")}`;
  return `follows ${labels.join(", ")}`;
}
