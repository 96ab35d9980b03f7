import type { Panel, Source } from "../../api/plates";
import { said, type Written, words } from "../said";

type Of<Kind extends Source["kind"]> = Extract<Source, { kind: Kind }>;
type Standing = Of<"groups" | "shares" | "estimates">;
const standing = (source: Standing): Written => ({
  marks: source.marks.join(","),
  ...said({
    side: [source.side, "both"],
    caps: [source.caps, false, "yes"],
    upright: [source.upright, true, "no"],
    order: [source.order, "levels"],
    hand: [words(source.hand), ""],
    hidden: [words(source.hidden), ""],
    values: [source.values, null],
  }),
});

const groups = (source: Of<"groups">): Written => ({
  mode: "groups",
  variable: source.variable,
  by: source.by,
  ...standing(source),
  points: source.points,
  ...said({
    second: [source.second, ""],
    pair: [source.pair, ""],
    centre: [source.centre, "mean"],
    level: [source.level, 0.95],
    n: [source.units, false, "units"],
    low: [source.low_percent, 5],
    high: [source.high_percent, 95],
    trim: [source.trim, 0.1],
    line: [source.line, "none"],
    scale: [source.log, false, "log"],
    jitter: [source.jitter, 0.6],
    violin: [source.violin, "whole"],
    rings: [source.rings, true, "no"],
    axis: [source.on_numbers, false, "numbers"],
  }),
  bars: source.bars,
});

const shares = (source: Of<"shares">): Written => ({
  mode: "groups",
  variable: source.variable,
  by: source.by,
  centre: "share",
  ...standing(source),
  ...said({
    level: [source.level, 0.95],
    answers: [words(source.chosen), ""],
    neutral: [source.neutral, null],
    form: [source.stacked, false, "stacked"],
  }),
});

const estimates = (source: Of<"estimates">): Written => ({
  mode: "results",
  of: words(source.of),
  ends:
    source.limits.length > 0
      ? `two ${words(source.limits)}`
      : source.widths.length > 0
        ? `width ${words(source.widths)}`
        : "none",
  label: source.label || "none",
  ...standing(source),
  ...said({
    weight: [source.weight, ""],
    heading: [source.heading, ""],
    sort: [source.sort, "table"],
    none: [source.none, null],
    none_words: [source.none_words, ""],
    combined: [words(source.combined), ""],
    scale: [source.log, false, "log"],
    axis: [source.on_numbers, false, "numbers"],
  }),
});

const differences = (source: Of<"differences">): Written => ({
  mode: "groups",
  variable: source.variable,
  by: source.by,
  measure: source.measure,
  ...said({
    reference: [source.reference, ""],
    level: [source.level, 0.95],
    n: [source.units, false, "units"],
    pair: [source.pair, ""],
    limits: [source.together, true, "each"],
    spreads: [source.spreads, "unequal"],
    trim: [source.trim, 0.1],
  }),
});

/** The address under which Compare shows a panel, with all that was chosen; null for a panel of another stage. */
export function compareAddress(panel: Pick<Panel, "source" | "across" | "up">): string | null {
  const { source } = panel;
  const written =
    source.kind === "groups"
      ? groups(source)
      : source.kind === "shares"
        ? shares(source)
        : source.kind === "estimates"
          ? estimates(source)
          : source.kind === "differences"
            ? differences(source)
            : null;
  if (!written) return null;
  const values = "upright" in source && !source.upright ? panel.across : panel.up;
  const ends = said({ floor: [values.low, null], ceiling: [values.high, null] });
  return `/tables/${source.table}/compare?${new URLSearchParams({ ...written, ...ends })}`;
}
