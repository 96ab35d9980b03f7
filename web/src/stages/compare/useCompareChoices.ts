import type { Bars, Center, Measure } from "../../api/compare";
import { eachOf, typedNumber } from "../../values";
import { among, useAddress, wordsIn } from "../useAddress";

export const MODES = { groups: "groups of rows", results: "rows that are results" } as const;
export type Mode = keyof typeof MODES;
export const CENTERS: Record<Exclude<Center, "share">, string> = {
  mean: "mean",
  median: "median",
  "geometric-mean": "geometric mean",
  "trimmed-mean": "trimmed mean",
};
export const BARS: Record<Bars, string> = {
  sd: "SD",
  se: "standard error",
  "mean-interval": "t interval",
  "bootstrap-interval": "bootstrap interval",
  "quartile-span": "quartile span",
  range: "range",
  percentiles: "percent points",
  "median-interval": "interval of the median",
  "within-unit-interval": "interval within units",
  "wilson-interval": "Wilson interval",
};
/** Bars that have a level. */
export const WITH_LEVEL: Bars[] = ["mean-interval", "bootstrap-interval", "median-interval", "within-unit-interval"];
const SPREADS: Bars[] = ["quartile-span", "range", "percentiles"];
export const FITTING: Record<keyof typeof CENTERS, Bars[]> = {
  mean: ["sd", "se", "mean-interval", "bootstrap-interval", ...SPREADS, "within-unit-interval"],
  median: [...SPREADS, "median-interval", "bootstrap-interval"],
  "geometric-mean": ["sd", "se", "mean-interval", "bootstrap-interval", ...SPREADS],
  "trimmed-mean": ["bootstrap-interval", ...SPREADS],
};
export const USUAL_BARS: Record<keyof typeof CENTERS, Bars> = {
  mean: "mean-interval",
  median: "median-interval",
  "geometric-mean": "mean-interval",
  "trimmed-mean": "bootstrap-interval",
};
export const MARKS = ["points", "violin", "box", "centre", "joined", "from zero"] as const;
export type Mark = (typeof MARKS)[number];
export const MEASURES: Record<Measure, string> = {
  mean: "difference of means",
  median: "difference of medians",
  ratio: "ratio of geometric means",
  "hedges-g": "Hedges' g",
  "cliffs-delta": "Cliff's delta",
};
/** What differs when centres are compared by their usual measure. */
export const MEASURE_OF: Record<keyof typeof CENTERS, Measure> = {
  mean: "mean",
  median: "median",
  "geometric-mean": "ratio",
  "trimmed-mean": "mean",
};
export const POINTS = {
  scattered: "scattered by chance",
  apart: "apart, none over another",
  line: "in a line",
} as const;
export const VIOLINS = { whole: "whole", half: "half", ridges: "ridges", facing: "back to back" } as const;
export const SIDES = { both: "both ways", up: "up only", down: "down only" } as const;
export const LINES = { none: "none", rows: "through all rows", centres: "through the centres" } as const;
export const ORDERS = { levels: "as the levels stand", centre: "by centre", n: "by n", hand: "by hand" } as const;
export const SHARE_FORMS = { shares: "shares with bars", stacked: "stacked percents" } as const;
export const SORTS = {
  table: "as in the table",
  estimate: "by estimate",
  label: "by label",
  hand: "by hand",
} as const;

const USUAL_MARKS: readonly Mark[] = ["points", "centre"];

const placesIn = (text: string | null) => wordsIn(text).map(Number).filter(Number.isInteger);

export function readCompare(query: URLSearchParams) {
  const get = (name: string) => query.get(name);
  const center = among(get("center"), CENTERS, "mean");
  const bars = among(get("bars"), BARS);
  const level = typedNumber(get("level")) ?? 0.95;
  const [low, high] = [typedNumber(get("low")) ?? 5, typedNumber(get("high")) ?? 95];
  const decimals = typedNumber(get("values"));
  const trim = typedNumber(get("trim")) ?? 0.1;
  const marks = query.has("marks") ? MARKS.filter((mark) => get("marks")?.split(",").includes(mark)) : undefined;
  const pair = get("pair");
  return {
    mode: among(get("mode"), MODES),
    variable: get("variable"),
    by: get("by"),
    second: get("second"),
    pair,
    center,
    bars: bars && FITTING[center].includes(bars) ? bars : USUAL_BARS[center],
    level: level > 0 && level < 1 ? level : 0.95,
    percents: eachOf(0 <= low && low < high && high <= 100 ? [low, high] : [5, 95], Number),
    trim: trim >= 0 && trim < 0.5 ? trim : 0.1,
    asShare: get("center") === "share",
    units: get("n") === "units",
    marks: marks ?? USUAL_MARKS,
    onNumbers: get("axis") === "numbers" || query.has("line"),
    log: get("scale") === "log",
    floor: typedNumber(get("floor")),
    ceiling: typedNumber(get("ceiling")),
    upright: get("upright") !== "no",
    points: among(get("points"), POINTS) ?? (pair ? ("line" as const) : ("scattered" as const)),
    jitter: Math.min(Math.max(typedNumber(get("jitter")) ?? 0.6, 0), 1),
    violin: among(get("violin"), VIOLINS, "whole"),
    rings: get("rings") !== "no",
    caps: get("caps") === "yes",
    side: among(get("side"), SIDES, "both"),
    decimals: decimals !== null && decimals >= 0 && decimals <= 6 ? Math.trunc(decimals) : null,
    line: among(get("line"), LINES, "none"),
    order: among(get("order"), ORDERS, "levels"),
    hand: placesIn(get("hand")),
    hidden: placesIn(get("hidden")),
    measure: among(get("measure"), MEASURES) ?? MEASURE_OF[center],
    reference: get("reference") ?? "",
    together: get("limits") !== "each",
    form: among(get("form"), SHARE_FORMS, "shares"),
    answers: placesIn(get("answers")),
    neutral: typedNumber(get("neutral")),
    of: wordsIn(get("of")),
    limits: get("ends"),
    label: get("label"),
    weight: get("weight"),
    heading: get("heading"),
    sort: among(get("sort"), SORTS, "table"),
    none: typedNumber(get("none")),
    noneWords: get("none_words") ?? "",
    combined: placesIn(get("combined")),
  };
}

export type CompareChoices = ReturnType<typeof readCompare>;

/** What was set for the groups, and so goes when others are compared. */
export const OTHER_GROUPS = { reference: null, hand: null, hidden: null, order: null, line: null };

export const useCompareChoices = () => useAddress(readCompare);
