import type { Comparison } from "../../api/compare";
import { named, titled } from "../../words/kinds";
import { counted, significant, whole } from "../../words/numbers";
import { weightsWords } from "../../words/weights";
import { CENTERS, type CompareChoices } from "./useCompareChoices";

const BAR_WORDS: Record<Comparison["bars"], (percent: string) => string> = {
  sd: () => "one SD",
  se: () => "one standard error",
  "mean-interval": (percent) => `${percent} t interval`,
  "bootstrap-interval": (percent) => `${percent} bootstrap interval`,
  "quartile-span": () => "first to third quartile",
  range: () => "smallest to largest value",
  percentiles: () => "",
  "median-interval": (percent) => `${percent} interval of the median`,
  "within-unit-interval": (percent) => `${percent} interval within units`,
  "wilson-interval": (percent) => `${percent} Wilson interval`,
};
const PERCENT = (share: number) => `${+(100 * share).toFixed(1)} %`;
const FORMS = {
  whole: "Violins",
  half: "Half violins",
  ridges: "Ridges",
  facing: "Densities back to back",
} as const;
const SIDEWAYS = {
  scattered: "spread sideways at random",
  apart: "set sideways so that none covers another",
  line: "in a line",
} as const;

/** The line over the numbers of the levels, in words and in the variables' own names, and what its R² hides. */
function lineWords(reading: Comparison, log: boolean): string[] {
  const { by, subject } = reading;
  const said = reading.lines.map(({ second_place: kind, found, why }) => {
    const of = reading.second ? ` of ${reading.second_labels[kind]}` : "";
    if (!found) return `No line${of}: ${why}`;
    const sign = found.slope < 0 ? "−" : "+";
    const left = log ? `log10(${subject.label})` : subject.label;
    const equation = `${left} = ${significant(found.intercept, 4)} ${sign} ${significant(Math.abs(found.slope), 4)} × ${by}`;
    const r = found.r_squared === null ? "" : `, R² = ${found.r_squared.toFixed(3)}`;
    const through = counted(found.n, reading.line === "rows" ? "row" : "centre");
    return `Line${of}: ${equation}${r}, through ${through}.`;
  });
  if (reading.lines.some(({ found }) => found))
    said.push(
      reading.line === "rows"
        ? "That centres may bend away from a line does not show in R²."
        : "R² through centres leaves out how rows scatter within groups.",
    );
  return said;
}

/** What the picture shows: marks, bars, what n counts, what is left out. */
export function captionOf(reading: Comparison, choices: CompareChoices, crowded: boolean): string {
  const { marks, center, side } = choices;
  const { subject, by, second, level, unit_label: unit, used, seed, groups } = reading;
  const parts = [`${titled(named(subject))} by ${by}${second ? ` and ${second}` : ""}.`];
  const centre = center === "trimmed-mean" ? `${PERCENT(reading.trim)} trimmed mean` : CENTERS[center as "mean"];
  if (marks.includes("centre")) {
    const made = reading.bars === "bootstrap-interval" ? `, 9${"\u202f"}999 resamples, seed ${seed}` : "";
    const [low, high] = reading.percents;
    const bar =
      reading.bars === "percentiles" ? `${low} to ${high} percent point` : BAR_WORDS[reading.bars](PERCENT(level));
    const width = reading.bars === "sd" || reading.bars === "se";
    const way =
      side === "both" ? (width ? " to each side" : "") : side === "up" ? ", upper half only" : ", lower half only";
    parts.push(`Marks: ${centre}; bars: ${bar}${way}${made}.`);
  }
  if (marks.includes("from zero")) parts.push(`Bodies reach from zero to the ${centre}.`);
  if (marks.includes("box")) {
    const beyond = reading.groups.some(({ box }) => box.outlier_rows.length > 0);
    const rings = beyond && !marks.includes("points") ? "; rings: rows beyond" : "";
    parts.push(`Boxes: quartiles by definition 7, whiskers to the outermost values within 1.5 IQR of them${rings}.`);
  }
  if (marks.includes("violin"))
    parts.push(
      `${FORMS[choices.violin]}: density${choices.log ? " of log10" : ""} by Silverman's rule, of equal area, cut at the data's range.`,
    );
  const seen = used.n - reading.without_group;
  const rows = reading.values.length < seen ? `a random sample of ${whole(reading.values.length)} rows` : "rows";
  if (marks.includes("points"))
    parts.push(
      `Points: ${rows}${unit ? ", pale" : ""}, ${crowded ? "too many to stand apart, so spread sideways at random" : SIDEWAYS[choices.points]}.`,
    );
  if (reading.pair_label)
    parts.push(
      `Thin lines join the values of one ${reading.pair_label} (${whole(reading.n_joined)} joined, ${whole(reading.n_alone)} in one group only).`,
    );
  parts.push(...lineWords(reading, choices.log));
  const n = groups.reduce((sum, group) => sum + group.centred.n, 0);
  parts.push(unit ? `n counts each ${unit}: its rows are averaged first.` : `n\u00a0=\u00a0${whole(n)}.`);
  const hidden = groups.filter(({ place }) => choices.hidden.includes(place));
  if (hidden.length > 0) {
    const labels = [...new Set(hidden.map(({ label }) => label))];
    parts.push(
      `Not shown: ${labels.join(", ")} (n\u00a0=\u00a0${whole(hidden.reduce((sum, { centred }) => sum + centred.n, 0))}).`,
    );
  }
  if (choices.log) {
    const lost = groups.reduce((sum, group) => sum + group.n_lost, 0);
    const cut = groups.filter(({ centred }) => centred.low !== null && centred.low <= 0).length;
    parts.push("The axis is logarithmic.");
    if (lost > 0) parts.push(`${counted(lost, "value")} of 0 or below cannot stand on it.`);
    if (cut > 0) parts.push(`${counted(cut, "bar")} ${cut === 1 ? "reaches" : "reach"} to 0 or below, and off it.`);
  }
  if (used.set_aside > 0) parts.push(`${counted(used.set_aside, "row")} set aside.`);
  return parts.join(" ") + weightsWords(used.weighted_by);
}
