import type { Rule, ScreenAsked, Statistic } from "../../api/screen";
import { among, useAddress, wordsIn } from "../useAddress";

export const RULES: Record<Rule, string> = {
  fences: "fences",
  z: "z",
  "robust-z": "robust z",
  grubbs: "Grubbs",
  esd: "generalized ESD",
  "skew-fences": "skew-adjusted fences",
};
export const MODES = { one: "one variable", together: "several together", relation: "a relation" } as const;
export type Mode = keyof typeof MODES;
export const STATISTICS: Record<Statistic, string> = {
  mean: "mean",
  sd: "SD",
  median: "median",
  skewness: "skewness",
  kurtosis: "excess kurtosis",
  shapiro_w: "Shapiro-Wilk W",
};
/** What can stand along the order of rows. */
export const MEASURES = {
  cooks: "Cook's distance",
  external: "studentized residual",
  leverage: "leverage",
  dffits: "DFFITS",
  covratio: "covariance ratio",
} as const;

export type Measure = keyof typeof MEASURES;
export const DIAGNOSTICS = {
  residuals: "residuals against fitted",
  size: "size of residual against fitted",
  qq: "Q-Q plot of residuals",
  leverage: "residual against leverage",
  order: "by row order",
  dfbetas: "DFBETAS of a coefficient",
  partial: "partial plot of a coefficient",
} as const;
export type Diagnostic = keyof typeof DIAGNOSTICS;
export const USUAL_RULES: ScreenAsked = { rules: ["fences", "robust-z"] };

export function readScreen(query: URLSearchParams) {
  const rules = wordsIn(query.get("rules")).filter((rule): rule is Rule => rule in RULES);
  const number = (name: string) => (query.has(name) ? Number(query.get(name)) : undefined);
  const reach = number("reach");
  const suspects = number("suspects");
  const asked: ScreenAsked = {
    rules: query.has("rules") ? rules : (USUAL_RULES.rules ?? []),
    ...(reach !== undefined && reach >= 0 ? { reach } : {}),
    ...(suspects !== undefined && suspects >= 1 ? { suspects } : {}),
    ...(query.get("definition") === "hinges" ? { quantile_definition: "hinges" as const } : {}),
  };
  return {
    mode: among(query.get("mode"), MODES, "one"),
    variable: query.get("variable"),
    by: query.get("by"),
    asked,
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
