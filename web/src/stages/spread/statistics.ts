import type { Spread, Summary } from "../../api/readings";
import { nth } from "../../values";
import { decimalsFor, exact, fixed, significant } from "../../words/numbers";

export type Statistic = {
  id: string;
  label: string;
  /** What its figures are called on a figure. */
  numbers: string[];
  /** The figures, least first; null where undefined, with the reason in `fields`. */
  fields: (keyof Summary)[];
  aside?: (spread: Spread, write: (value: number) => string) => string;
  /** Written with so many decimals whatever the variable's own, or as the values themselves are. */
  decimals?: number | "recorded";
};

const TWO = (spread: Spread, low: keyof Summary, high: keyof Summary, write: (value: number) => string): string => {
  const [from, to] = [spread.summary[low], spread.summary[high]];
  return typeof from === "number" && typeof to === "number" ? `${write(from)} to ${write(to)}` : "";
};
const percent = (level: number) => `${+(100 * level).toFixed(1)} %`;
const byDefinition = ({ summary }: Spread) =>
  summary.quantile_definition === "hinges" ? "hinges" : `definition ${summary.quantile_definition}`;

export const STATISTICS: Statistic[] = [
  {
    id: "mean",
    numbers: ["mean"],
    label: "Mean",
    fields: ["mean"],
    aside: ({ summary }) => (summary.se === null ? "" : `SE ${significant(summary.se, 2)}`),
  },
  {
    id: "mean_interval",
    numbers: ["lower limit of the mean", "upper limit of the mean"],
    label: "Mean, interval",
    fields: ["mean_low", "mean_high"],
    aside: ({ summary }) => percent(summary.level),
  },
  {
    id: "sd",
    numbers: ["SD"],
    label: "SD",
    fields: ["sd"],
    aside: (spread, write) => TWO(spread, "sd_low", "sd_high", write),
  },
  {
    id: "median",
    numbers: ["median"],
    label: "Median",
    fields: ["median"],
    aside: (spread, write) => TWO(spread, "median_low", "median_high", write),
  },
  {
    id: "quartiles",
    numbers: ["first quartile", "third quartile"],
    label: "Q1, Q3",
    fields: ["q1", "q3"],
    aside: byDefinition,
  },
  { id: "iqr", numbers: ["IQR"], label: "IQR", fields: ["iqr"], aside: byDefinition },
  {
    id: "extremes",
    numbers: ["minimum", "maximum"],
    decimals: "recorded",
    label: "Min, max",
    fields: ["minimum", "maximum"],
  },
  {
    id: "range",
    numbers: ["range"],
    decimals: "recorded",
    label: "Range",
    fields: ["range"],
  },
  {
    id: "mad",
    numbers: ["MAD, scaled"],
    label: "MAD, scaled",
    fields: ["mad_scaled"],
    aside: ({ summary }, write) => (summary.mad === null ? "" : `raw ${write(summary.mad)}`),
  },
  {
    id: "trimmed",
    numbers: ["trimmed mean"],
    label: "Trimmed mean",
    fields: ["trimmed_mean"],
    aside: ({ summary }) => `${percent(summary.trim)} at each end`,
  },
  {
    id: "winsorized",
    numbers: ["winsorized mean"],
    label: "Winsorized mean",
    fields: ["winsorized_mean"],
    aside: ({ summary }) => `${percent(summary.trim)} at each end`,
  },
  {
    id: "geometric",
    numbers: ["geometric mean"],
    label: "Geometric mean",
    fields: ["geometric_mean"],
    aside: ({ summary }) => (summary.geometric_sd === null ? "" : `SD factor ${summary.geometric_sd.toFixed(2)}`),
  },
  {
    id: "geometric_interval",
    numbers: ["lower limit of the geometric mean", "upper limit of the geometric mean"],
    label: "Geom. mean, interval",
    fields: ["geometric_low", "geometric_high"],
    aside: ({ summary }) => percent(summary.level),
  },
  {
    id: "skewness",
    numbers: ["skewness"],
    label: "Skewness",
    fields: ["skewness"],
    decimals: 2,
    aside: ({ summary }) =>
      summary.skewness_se === null ? "" : `if normal, SE ${significant(summary.skewness_se, 2)}`,
  },
  {
    id: "kurtosis",
    numbers: ["excess kurtosis"],
    label: "Excess kurtosis",
    fields: ["kurtosis"],
    decimals: 2,
    aside: ({ summary }) =>
      summary.kurtosis_se === null ? "" : `if normal, SE ${significant(summary.kurtosis_se, 2)}`,
  },
  {
    id: "cv",
    numbers: ["CV"],
    label: "CV",
    fields: ["cv"],
    decimals: 3,
  },
  { id: "back", numbers: ["back-transformed mean"], label: "Back-transformed mean", fields: [] },
  {
    id: "back_interval",
    numbers: ["lower limit of the back-transformed mean", "upper limit of the back-transformed mean"],
    label: "Back-transformed mean, interval",
    fields: [],
  },
  { id: "total", numbers: ["sum"], label: "Sum", fields: ["total"] },
  {
    id: "variance",
    numbers: ["variance"],
    label: "Variance",
    fields: ["variance"],
  },
];

export const USUAL = [
  "mean",
  "sd",
  "median",
  "quartiles",
  "iqr",
  "extremes",
  "mad",
  "geometric",
  "back",
  "back_interval",
  "skewness",
  "kurtosis",
];

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
    exact: there ? known.map(exact).join(", ") : `${subject.label} stands on the scale on which it was measured.`,
    meaning: id,
  };
}

/** A statistic of a spread as it is listed: figures to the decimals that suit the data, and exactly. */
export function lineOf(statistic: Statistic, spread: Spread): Line {
  if (statistic.id.startsWith("back")) return backLine(statistic, spread);
  const { summary, subject } = spread;
  const suited = decimalsFor(subject.decimals, summary.sd);
  const decimals = statistic.decimals === "recorded" ? (subject.decimals ?? suited) : (statistic.decimals ?? suited);
  const write = (value: number) => fixed(value, decimals);
  const values = statistic.fields.map((field) => summary[field] as number | null);
  const known = values.filter((value) => value !== null);
  const missing = statistic.fields.find((field) => summary[field] === null);
  const why = missing ? (summary.undefined[missing] ?? "") : "";
  return {
    label: statistic.label,
    figures:
      known.length < values.length ? "none" : known.map(write).join(statistic.id.endsWith("interval") ? " to " : ", "),
    aside: known.length < values.length ? "" : (statistic.aside?.(spread, write) ?? ""),
    exact: known.length < values.length ? why : known.map(exact).join(", "),
    meaning: statistic.id,
  };
}

/** The numbers of a slip, by the names that a figure has for them; back-transformed where something stands on another scale. */
export const numbersOfSlip = (chosen: readonly string[]): string[] =>
  STATISTICS.filter(({ id }) => chosen.includes(id)).flatMap(({ numbers }) => numbers);
