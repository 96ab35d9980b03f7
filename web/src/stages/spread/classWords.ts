import { BANDWIDTH_RULES, CLASS_RULES } from "../../api/choices.gen";
import type { Classes, Density, Spread } from "../../api/readings";
import { keysOf, labelsOf, nth } from "../../values";
import { counted, fixed, listed, significant } from "../../words/numbers";

const RULE_WORDS: Readonly<Record<string, string>> = {
  ...labelsOf(CLASS_RULES),
  count: "number chosen",
  width: "width chosen",
};

/** "Freedman-Diaconis rule", with what was said behind it. */
export function ruleWords(rule: string): string {
  const [name = "", said] = rule.split(": ");
  const words = RULE_WORDS[name] ?? name;
  return said ? `${words}: ${said}` : words;
}

export const unitOf = (unit: string) => (unit ? ` ${unit}` : "");

/** A class by its value, where it holds one whole number, else in interval notation, which shows the closed side. */
export function interval(classes: Pick<Classes, "boundaries" | "closed">, i: number): string {
  const [low, high] = [nth(classes.boundaries, i), nth(classes.boundaries, i + 1)];
  if (high - low === 1 && Number.isInteger(low + 0.5)) return fixed(low + 0.5, 0);
  const last = i === classes.boundaries.length - 2;
  const closed = classes.closed;
  const decimals = Math.max(...[low, high].map((edge) => (String(edge).split(".")[1] ?? "").length));
  const write = (edge: number) => (Math.abs(edge) < 1e9 && decimals < 7 ? fixed(edge, decimals) : significant(edge, 4));
  const open = closed === "left" || i === 0 ? "[" : "(";
  return `${open}${listed([write(low), write(high)])}${closed === "right" || last ? "]" : ")"}`;
}

type Axis = Spread["axis"];

export function classesWords(classes: Classes, unit: string, axis: Axis = "linear"): string {
  const n = classes.counts.length;
  const in_ = axis === "log" ? " in log₁₀" : unitOf(unit);
  const size = classes.width === null ? "" : ` of ${significant(classes.width, 4)}${in_}`;
  return `${counted(n, "class", "classes")}${size}`;
}

export function densityWords(density: Density, unit: string, axis: Axis = "linear"): string {
  return `bandwidth ${significant(density.bandwidth)}${axis === "log" ? " in log₁₀" : unitOf(unit)}`;
}

/** "Silverman's rule, raised to half a recording step" */
export function bandwidthRuleWords(rule: string): string {
  const name = keysOf(BANDWIDTH_RULES).find((id) => rule.startsWith(id));
  return name ? rule.replace(name, BANDWIDTH_RULES[name].label) : rule;
}

/** Up to so many rows each has its bump drawn. */
export const MOST_BUMPS = 60;
