import type { Classes, Density, Spread } from "../../api/readings";
import { missingWords, named, titled } from "../../words/kinds";
import { counted, fixed, significant, whole } from "../../words/numbers";
import { limitsOf } from "./stackLayout";
import type { Layer, Measure } from "./useSpreadChoices";

export const RULE_WORDS: Record<string, string> = {
  "freedman-diaconis": "Freedman-Diaconis rule",
  scott: "Scott's rule",
  sturges: "Sturges' rule",
  "square-root": "square-root rule",
  integers: "a class for each whole number",
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

/** The first class in interval notation, which shows the closed side. */
export function interval(classes: Classes, i: number): string {
  const [low, high] = [classes.boundaries[i] as number, classes.boundaries[i + 1] as number];
  const last = i === classes.boundaries.length - 2;
  const closed = classes.closed;
  const decimals = Math.max(...[low, high].map((edge) => (String(edge).split(".")[1] ?? "").length));
  const write = (edge: number) => (Math.abs(edge) < 1e9 && decimals < 7 ? fixed(edge, decimals) : significant(edge, 4));
  const open = closed === "left" || i === 0 ? "[" : "(";
  return `${open}${write(low)}, ${write(high)}${closed === "right" || last ? "]" : ")"}`;
}

export function classesWords(classes: Classes, unit: string): string {
  const n = classes.counts.length;
  const size = classes.width === null ? "" : ` of ${significant(classes.width, 4)}${unitOf(unit)}`;
  return `${counted(n, "class", "classes")}${size}`;
}

export function densityWords(density: Density, unit: string): string {
  return `bandwidth ${significant(density.bandwidth)}${unitOf(unit)}`;
}

/** "Silverman's rule, raised to half a recording step" */
export function bandwidthRuleWords(rule: string): string {
  return rule.replace(/^silverman/, "Silverman's rule").replace(/^scott/, "Scott's rule");
}

function boundWords({ lower, upper, unit }: Spread["subject"]): string {
  const bounds = [lower, upper].filter((bound) => bound !== null);
  return bounds.length > 0
    ? `, turned back at ${bounds.map((bound) => significant(bound, 4)).join(" and ")}${unitOf(unit)}`
    : "";
}

type Shown = {
  spread: Spread;
  classes: Classes | undefined;
  density: Density | undefined;
  layers: Layer[];
  measure: Measure;
};

/** The caption: what is shown, n, and what every line, box and whisker is. */
export function captionOf({ spread, classes, density, layers, measure }: Shown): string {
  const { subject, used, summary, normal, box } = spread;
  const unit = unitOf(subject.unit);
  const has = (layer: Layer) => layers.includes(layer);
  const parts = [`${titled(named(subject))}, n = ${whole(used.n)}`];
  if (used.missing > 0) parts[0] += ` (${whole(used.missing)} missing: ${missingWords(used.missing_counts)})`;
  if (used.set_aside > 0) parts[0] += `, ${whole(used.set_aside)} set aside`;
  if (subject.n_limited > 0) {
    const stands = subject.below_limit === "half" ? "half the limit" : "the limit";
    parts.push(`${counted(subject.n_limited, "value")} known to lie below a limit, for which ${stands} stands`);
  }
  const limits = limitsOf(spread).map(({ words, value }) => `${words} ${significant(value, 6)}${unit}`);
  if (limits.length > 0) parts.push(`Upright lines: ${limits.join(", ")}`);
  if (has("classes") && classes) {
    const height = { density: "as density, area 1", count: "as counts", percent: "in percent" }[measure];
    parts.push(`Blocks: ${classesWords(classes, subject.unit)}, ${interval(classes, 0)} first, ${height}`);
  }
  if (has("density") && density) {
    parts.push(
      `Solid line: kernel density, ${titled(density.kernel)} kernel, ${densityWords(density, subject.unit)} (${bandwidthRuleWords(density.rule)})${boundWords(subject)}`,
    );
  }
  if (has("normal") && normal) {
    parts.push(
      `Dotted line: normal curve of the same mean (${significant(normal.mean, 4)}${unit}) and SD (${significant(normal.sd, 4)}${unit})`,
    );
  }
  if (has("box") && box.q1 !== null) {
    const by =
      summary.quantile_definition === "hinges" ? "hinges" : `quantile definition ${summary.quantile_definition}`;
    parts.push(
      `Box: quartiles and median (${by}); whiskers to the outermost values within 1.5 IQR of the quartiles; rings: rows beyond`,
    );
  }
  if (has("points")) {
    const drawn = spread.values.length;
    parts.push(
      drawn < spread.n_points
        ? `Points: ${whole(drawn)} of ${whole(spread.n_points)} rows, drawn at random with the extremes; rings: those of them that lie beyond a fence`
        : "Points: each row, spread out vertically at random",
    );
  }
  return `${parts.join(". ")}.`;
}
