import * as records from "../../api/choices.gen";
import { CENTRES, EFFECTS, ESTIMATE_ORDERS, GROUP_MARKS, GROUP_ORDERS, LEVEL_LINES } from "../../api/choices.gen";
import type { Bars, Measure } from "../../api/compare";
import { eachOf, keysOf, labelsOf, typedNumber, without } from "../../values";
import { among, useAddress, wordsIn } from "../useAddress";

export const MODES = { groups: "raw observations", results: "summarized results" } as const;
export type Mode = keyof typeof MODES;
const OF_VALUES = without(CENTRES, "share");
export const CENTRE_LABELS = labelsOf(OF_VALUES);
export const BARS: Record<Bars, string> = labelsOf(records.BARS);
/** Whether bars have a level. */
export const hasLevel = (bars: Bars) => records.BARS[bars].level;
/** The bars that belong to a centre. */
export const fitting = (centre: keyof typeof CENTRE_LABELS): readonly Bars[] => OF_VALUES[centre].fitting;
export const MARKS = keysOf(GROUP_MARKS);
export type Mark = (typeof MARKS)[number];
/** What differences are called, of groups apart or of pairs. */
export const measuresOf = (paired: boolean): Record<Measure, string> =>
  paired
    ? (Object.fromEntries(keysOf(EFFECTS).map((id) => [id, EFFECTS[id].paired])) as Record<Measure, string>)
    : labelsOf(EFFECTS);
export const POINTS = labelsOf(records.POINTS);
export const VIOLINS = labelsOf(records.VIOLINS);
export const SIDES = labelsOf(records.SIDES);
export const LINES = labelsOf(LEVEL_LINES);
export const ORDERS = labelsOf(GROUP_ORDERS);
export const SHARE_FORMS = { shares: "shares with bars", stacked: "stacked percents" } as const;
export const SORTS = labelsOf(ESTIMATE_ORDERS);

/** Whether a mark is of the centres, not of the values. */
export const isOfCentre = (mark: Mark) => mark === "centre" || mark === "joined" || mark === "from zero";
const USUAL_MARKS: readonly Mark[] = ["points", "centre"];

const placesIn = (text: string | null) => wordsIn(text).map(Number).filter(Number.isInteger);

export function readCompare(query: URLSearchParams) {
  const get = (name: string) => query.get(name);
  // Addresses that were kept before say "center".
  const said = get("centre") ?? get("center");
  const centre = among(said, CENTRE_LABELS, "mean");
  const bars = among(get("bars"), BARS);
  const level = typedNumber(get("level")) ?? 0.95;
  const [low, high] = [typedNumber(get("low")) ?? 5, typedNumber(get("high")) ?? 95];
  const decimals = typedNumber(get("values"));
  const trim = typedNumber(get("trim")) ?? 0.1;
  const marks = query.has("marks") ? MARKS.filter((mark) => get("marks")?.split(",").includes(mark)) : undefined;
  const withValues = OF_VALUES[centre].among_values;
  const pair = withValues ? get("pair") : null;
  const line = among(get("line"), LINES, "none");
  return {
    mode: among(get("mode"), MODES),
    variable: get("variable"),
    by: get("by"),
    second: get("second"),
    pair,
    centre,
    bars: bars && fitting(centre).includes(bars) ? bars : OF_VALUES[centre].bars,
    level: level > 0 && level < 1 ? level : 0.95,
    percents: eachOf(0 <= low && low < high && high <= 100 ? [low, high] : [5, 95], Number),
    trim: trim >= 0 && trim < 0.5 ? trim : 0.1,
    asShare: said === "share",
    units: get("n") === "units",
    marks: (marks ?? USUAL_MARKS).filter((mark) => withValues || isOfCentre(mark)),
    withValues,
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
    line: withValues || line !== "rows" ? line : ("none" as const),
    order: among(get("order"), ORDERS, "levels"),
    hand: placesIn(get("hand")),
    hidden: placesIn(get("hidden")),
    measure: among(get("measure"), EFFECTS) ?? OF_VALUES[centre].effect,
    reference: get("reference") ?? "",
    together: get("limits") !== "each",
    equal: get("spreads") === "equal",
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
