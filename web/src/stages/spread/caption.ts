import type { Classes, Density, Spread } from "../../api/readings";
import { nth } from "../../values";
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

/** A class by its value, where it holds one whole number, else in interval notation, which shows the closed side. */
export function interval(classes: Classes, i: number): string {
  const [low, high] = [nth(classes.boundaries, i), nth(classes.boundaries, i + 1)];
  if (classes.rule === "integers" && classes.width === 1) return fixed(low + 0.5, 0);
  const last = i === classes.boundaries.length - 2;
  const closed = classes.closed;
  const decimals = Math.max(...[low, high].map((edge) => (String(edge).split(".")[1] ?? "").length));
  const write = (edge: number) => (Math.abs(edge) < 1e9 && decimals < 7 ? fixed(edge, decimals) : significant(edge, 4));
  const open = closed === "left" || i === 0 ? "[" : "(";
  return `${open}${write(low)}, ${write(high)}${closed === "right" || last ? "]" : ")"}`;
}

type Axis = Spread["axis"];

export function classesWords(classes: Classes, unit: string, axis: Axis = "straight"): string {
  const n = classes.counts.length;
  const in_ = axis === "log" ? " in log₁₀" : unitOf(unit);
  const size = classes.width === null ? "" : ` of ${significant(classes.width, 4)}${in_}`;
  return `${counted(n, "class", "classes")}${size}`;
}

export function densityWords(density: Density, unit: string, axis: Axis = "straight"): string {
  return `bandwidth ${significant(density.bandwidth)}${axis === "log" ? " in log₁₀" : unitOf(unit)}`;
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

/** Up to so many rows each has its bump drawn. */
export const MOST_BUMPS = 60;

/** "n = 411 (5 missing: n/r 5), 2 set aside": what a reading used. */
export function nWords(used: Spread["used"]): string {
  const missing = used.missing > 0 ? ` (${whole(used.missing)} missing: ${missingWords(used.missing_counts)})` : "";
  const aside = used.set_aside > 0 ? `, ${whole(used.set_aside)} set aside` : "";
  const weighted = used.weighted_by ? `, each row counted as often as ${used.weighted_by} says` : "";
  return `n = ${whole(used.n)}${missing}${aside}${weighted}`;
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
  const parts = [`${titled(named(subject))}, ${nWords(used)}`];
  if (subject.n_limited > 0) {
    const stands = subject.below_limit === "half" ? "half the limit" : "the limit";
    parts.push(
      `${counted(subject.n_limited, "value")} known to lie below a limit, for which ${stands} stands${has("points") ? " (open points)" : ""}; quantiles within that share are not given`,
    );
  }
  const limits = limitsOf(spread).map(({ words, value }) => `${words} ${significant(value, 6)}${unit}`);
  if (limits.length > 0) parts.push(`Upright lines: ${limits.join(", ")}`);
  if (has("classes") && classes) {
    const height = { density: "as density, area 1", count: "as counts", percent: "in percent" }[measure];
    parts.push(`Blocks: ${classesWords(classes, subject.unit, spread.axis)}, ${interval(classes, 0)} first, ${height}`);
  }
  if (has("density") && density) {
    parts.push(
      `Solid line: kernel density, ${titled(density.kernel)} kernel, ${densityWords(density, subject.unit, spread.axis)} (${bandwidthRuleWords(density.rule)})${boundWords(subject)}`,
    );
  }
  if (has("bumps") && has("density") && density && summary.n <= MOST_BUMPS)
    parts.push("Thin lines: each row's own share of the density, standing on the axis and laid one on the other");
  if (has("rug")) parts.push("Strokes on the axis: each value");
  if (spread.axis === "log")
    parts.push("Logarithmic axis: classes and curves are those of log₁₀ of the values, heights per power of ten");
  if (has("normal") && normal && spread.axis === "log") {
    parts.push(
      `Dotted line: normal curve of log₁₀ of the values, mean ${significant(normal.mean, 4)}, SD ${significant(normal.sd, 4)}`,
    );
  } else if (has("normal") && normal) {
    parts.push(
      `Dotted line: normal curve of the same mean (${significant(normal.mean, 4)}${unit}) and SD (${significant(normal.sd, 4)}${unit})`,
    );
  }
  if (has("box") && box.q1 !== null) {
    const by =
      summary.quantile_definition === "hinges" ? "hinges" : `quantile definition ${summary.quantile_definition}`;
    parts.push(`Box: quartiles and median (${by}); whiskers to ${spread.whiskers}; rings: rows beyond`);
    if (has("notch")) parts.push("Notch: median ± 1.57 IQR/√n");
    if (has("mean")) parts.push("Lozenge: mean");
  }
  if (has("violin") && density) {
    const inner = has("box") ? "" : "; lines across: quartiles and median";
    parts.push(`Violin: the density and its mirror image, cut at the range of the values${inner}`);
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
