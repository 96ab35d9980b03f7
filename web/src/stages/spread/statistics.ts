import { LISTED, NORMALITY_TESTS } from "../../api/choices.gen";
import type { Spread, Summary } from "../../api/readings";
import { keysOf, nth } from "../../values";
import { decimalsFor, exact, fixed, listed, percent, significant } from "../../words/numbers";

type Id = keyof typeof LISTED;
type Aside = (spread: Spread, write: (value: number) => string) => string;
export type Statistic = {
  id: Id;
  label: string;
  /** What its figures are called on a figure. */
  numbers: string[];
  /** The figures, least first; null where undefined, with the reason in `fields`. */
  fields: (keyof Summary)[];
};

const TWO = (spread: Spread, low: keyof Summary, high: keyof Summary, write: (value: number) => string): string => {
  const [from, to] = [spread.summary[low], spread.summary[high]];
  return typeof from === "number" && typeof to === "number" ? `${write(from)} to ${write(to)}` : "";
};
const byDefinition = ({ summary }: Spread) =>
  summary.quantile_definition === "hinges" ? "hinges" : `definition ${summary.quantile_definition}`;

/** What stands beside the figures. */
const ASIDES: Partial<Record<Id, Aside>> = {
  mean: ({ summary }) => (summary.se === null ? "" : `SE ${significant(summary.se, 2)}`),
  mean_interval: ({ summary }) => percent(summary.level),
  sd: (spread, write) => TWO(spread, "sd_low", "sd_high", write),
  median: (spread, write) => TWO(spread, "median_low", "median_high", write),
  quartiles: byDefinition,
  iqr: byDefinition,
  inner_fences: byDefinition,
  mad: ({ summary }, write) => (summary.mad === null ? "" : `raw ${write(summary.mad)}`),
  trimmed: ({ summary }) => `${percent(summary.trim)} at each end`,
  winsorized: ({ summary }) => `${percent(summary.trim)} at each end`,
  geometric: ({ summary }) => (summary.geometric_sd === null ? "" : `SD factor ${fixed(summary.geometric_sd, 2)}`),
  geometric_interval: ({ summary }) => percent(summary.level),
  skewness: ({ summary }) =>
    summary.skewness_se === null ? "" : `if normal, SE ${significant(summary.skewness_se, 2)}`,
  kurtosis: ({ summary }) =>
    summary.kurtosis_se === null ? "" : `if normal, SE ${significant(summary.kurtosis_se, 2)}`,
};
/** Written with so many decimals whatever the variable's own, or as the values themselves are. */
const DECIMALS: Partial<Record<Id, number | "recorded">> = {
  extremes: "recorded",
  whiskers: "recorded",
  range: "recorded",
  skewness: 2,
  kurtosis: 2,
  cv: 3,
};

export const STATISTICS: Statistic[] = keysOf(LISTED).map((id) => {
  const { label, numbers, back } = LISTED[id];
  return {
    id,
    label,
    numbers: Object.values(numbers),
    fields: back ? [] : keysOf<keyof Summary>(numbers),
  };
});

const { label: SHAPIRO, letter: W } = NORMALITY_TESTS.shapiro_wilk;
/** The test of normality that stands below a list of statistics: its statistic and its p value. */
export const SHAPIRO_NAMES = [`${SHAPIRO} ${W}`, `${SHAPIRO} p`] as const;

export const USUAL: string[] = keysOf(LISTED).filter((id) => LISTED[id].usual);

/** meaning: what it is called in the table of meanings. */
export type Line = { label: string; figures: string; aside: string; exact: string; meaning: string };

type Points = { subject: Spread["subject"]; summary: Summary; percent_points: ArrayLike<number> };

/** The points of the percents asked for, a line each. */
export function percentLines(
  { subject, summary, percent_points: points }: Points,
  percents: readonly number[],
): Line[] {
  const decimals = decimalsFor(subject.decimals, summary.sd);
  return percents.slice(0, points.length).map((share, i) => {
    const value = nth(points, i);
    const known = Number.isFinite(value);
    return {
      label: `${share} % point`,
      figures: known ? fixed(value, decimals) : "none",
      aside: "",
      exact: known ? exact(value) : "It lies within the share of values known only to lie below a limit.",
      meaning: "percent_point",
    };
  });
}

/** The statistics chosen that make sense: what is back-transformed only where something stands on another scale, and there
 * no geometric mean of what are logs or powers already. */
export function listedOf(chosen: readonly string[], spreads: readonly { back?: Spread["back"] }[]): Statistic[] {
  const [some, all] = [spreads.some(({ back }) => back), spreads.length > 0 && spreads.every(({ back }) => back)];
  return STATISTICS.filter(
    ({ id }) => chosen.includes(id) && (some || !id.startsWith("back")) && !(all && id.startsWith("geometric")),
  );
}

/** A mean, or its limits, on the scale of the source, with what it is then called. */
function backLine({ id, label }: Statistic, { back, subject, summary }: Spread): Line {
  const interval = id === "back_interval";
  const values = back ? (interval ? [back.low, back.high] : [back.mean]) : [];
  const known = values.filter((value) => value !== null);
  const there = back !== null && back !== undefined && known.length > 0 && known.length === values.length;
  const name = back?.name ?? "";
  return {
    label: there ? `${name}${interval ? `, ${percent(summary.level)} interval` : ""}` : label,
    figures: there ? known.map((value) => significant(value, 4)).join(" to ") : "none",
    aside: there ? back.unit : "",
    exact: there ? listed(known.map(exact)) : `${subject.label} stands on the scale on which it was measured.`,
    meaning: id,
  };
}

/** A statistic of a spread as it is listed: figures to the decimals that suit the data, and exactly. */
export function lineOf(statistic: Statistic, spread: Spread): Line {
  if (statistic.id.startsWith("back")) return backLine(statistic, spread);
  const { summary, subject } = spread;
  const suited = decimalsFor(subject.decimals, summary.sd);
  const own = DECIMALS[statistic.id] ?? suited;
  const decimals = own === "recorded" ? (subject.decimals ?? suited) : own;
  const write = (value: number) => fixed(value, decimals);
  const values = statistic.fields.map((field) => summary[field] as number | null);
  const known = values.filter((value) => value !== null);
  const missing = statistic.fields.find((field) => summary[field] === null);
  const why = missing ? (summary.undefined[missing] ?? "") : "";
  return {
    label: statistic.label,
    figures:
      known.length < values.length
        ? "none"
        : statistic.id.endsWith("interval")
          ? known.map(write).join(" to ")
          : listed(known.map(write)),
    aside: known.length < values.length ? "" : (ASIDES[statistic.id]?.(spread, write) ?? ""),
    exact: known.length < values.length ? why : listed(known.map(exact)),
    meaning: statistic.id,
  };
}

/** The numbers of a slip, by the names that a figure has for them; back-transformed where something stands on another scale. */
export const numbersOfSlip = (chosen: readonly string[]): string[] =>
  STATISTICS.filter(({ id }) => chosen.includes(id)).flatMap(({ numbers }) => numbers);
