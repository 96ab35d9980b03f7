import * as records from "../../api/choices.gen";
import { OUTLIER_RULES, ROW_MEASURES } from "../../api/choices.gen";
import type { Rule, ScreenSettings, Statistic } from "../../api/screen";
import { keysOf, labelsOf, typedNumber, without } from "../../values";
import { among, useAddress, wordsIn } from "../useAddress";

export const RULES: Record<Rule, string> = labelsOf(OUTLIER_RULES);
type Option = { label: string; usual: number; low: number; high: number; whole: boolean };
type OptionName = "reach" | "suspects" | "level";
/** The numbers that a rule takes. */
export const optionsOfRule = (rule: Rule): Partial<Record<OptionName, Option>> => {
  const record = OUTLIER_RULES[rule];
  return "options" in record ? record.options : {};
};
/** The numbers that rules take. */
export const OPTIONS: Record<OptionName, Option> = {
  ...OUTLIER_RULES.fences.options,
  ...OUTLIER_RULES.esd.options,
};
export const MODES = { one: "one variable", together: "several together", relation: "a relation" } as const;
export type Mode = keyof typeof MODES;
export const STATISTICS: Record<Statistic, string> = labelsOf(records.STATISTICS);
/** What can stand along the order of rows. */
export const MEASURES = labelsOf(ROW_MEASURES);
export type Measure = keyof typeof MEASURES;
export const DIAGNOSTICS = labelsOf(without(records.DIAGNOSTICS, "fit"));
export type Diagnostic = keyof typeof DIAGNOSTICS;
export const USUAL_RULES: ScreenSettings = { rules: ["fences", "robust-z"] };

export function readScreen(query: URLSearchParams) {
  const rules = wordsIn(query.get("rules")).filter((rule): rule is Rule => rule in RULES);
  const number = (name: string) => (query.has(name) ? Number(query.get(name)) : undefined);
  const numbers = keysOf(OPTIONS).flatMap((name) => {
    const [{ low, high, whole }, value] = [OPTIONS[name], typedNumber(query.get(name))];
    return value !== null && value >= low && value <= high ? [[name, whole ? Math.trunc(value) : value] as const] : [];
  });
  const settings: ScreenSettings = {
    rules: query.has("rules") ? rules : (USUAL_RULES.rules ?? []),
    ...Object.fromEntries(numbers),
    ...(query.get("definition") === "hinges" ? { quantile_definition: "hinges" as const } : {}),
  };
  return {
    mode: among(query.get("mode"), MODES, "one"),
    variable: query.get("variable"),
    by: query.get("by"),
    settings,
    together: wordsIn(query.get("together")),
    predictors: wordsIn(query.get("from")),
    product: wordsIn(query.get("product")),
    diagnostic: among(query.get("plot"), DIAGNOSTICS, "leverage"),
    coefficient: Math.max(0, Math.trunc(number("coefficient") ?? 1)),
    measure: among(query.get("measure"), MEASURES, "cooks"),
    without: among(query.get("without"), STATISTICS),
  };
}

export type ScreenChoices = ReturnType<typeof readScreen>;

export const useScreenChoices = () => useAddress(readScreen);
