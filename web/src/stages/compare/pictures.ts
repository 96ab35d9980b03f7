import type { Picture } from "../../api/figures";
import type { Table, Variable } from "../../api/studies";
import type { NewTableSource } from "../../api/tablePlates";
import { canSplit } from "../spread/Sentence";
import { columnsOf } from "./resultColumns";
import type { CompareChoices } from "./useCompareChoices";

type Roles = { by: Variable; second?: Variable | undefined; pair?: Variable | undefined };

const standingOf = ({ marks, caps, side, upright, order, hand, hidden, decimals }: CompareChoices) => ({
  marks: [...marks],
  caps,
  side,
  upright,
  order,
  hand,
  hidden,
  values: decimals,
});

/** The ends of the axis of values, which goes up or along. */
const endsOf = ({ upright, floor, ceiling }: CompareChoices) =>
  floor === null && ceiling === null ? {} : { [upright ? "up" : "across"]: { low: floor, high: ceiling } };

/** The groups of a picture as a table of numbers. */
export function groupTable(
  table: Table,
  variable: Variable,
  { by, second }: { by: Variable; second?: Variable | undefined },
  choices: CompareChoices,
): Extract<NewTableSource, { kind: "groups" }> {
  const [low_percent, high_percent] = choices.percents;
  const { centre, bars, level, trim } = choices;
  return {
    kind: "groups",
    table: table.id,
    variable: variable.symbol,
    by: by.symbol,
    second: second && canSplit(second) ? second.symbol : "",
    ...{ centre, bars, level, trim, low_percent, high_percent },
    units: choices.units && table.unit_variable !== "",
  };
}

/** Groups of rows, as an address has them chosen. */
export function groupsPicture(table: Table, variable: Variable, roles: Roles, choices: CompareChoices): Picture {
  const { by, second, pair } = roles;
  const [low_percent, high_percent] = choices.percents;
  const { points, jitter, violin, rings, onNumbers } = choices;
  const marks = choices.marks.filter((mark) => mark !== "from zero" || (variable.true_zero && !choices.log));
  return {
    source: {
      kind: "groups",
      table: table.id,
      variable: variable.symbol,
      by: by.symbol,
      second: second && canSplit(second) ? second.symbol : "",
      pair: pair?.symbol ?? "",
      centre: choices.centre,
      bars: choices.bars,
      level: choices.level,
      units: choices.units && table.unit_variable !== "",
      low_percent,
      high_percent,
      trim: choices.trim,
      line: choices.line,
      log: choices.log,
      ...standingOf(choices),
      marks,
      points,
      jitter,
      violin,
      rings,
      on_numbers: onNumbers,
    },
    ...endsOf(choices),
  };
}

/** The share of some answers in each group, or all of them as parts of a bar. */
export function sharesPicture(table: Table, variable: Variable, by: Variable, choices: CompareChoices): Picture {
  const stacked = choices.form === "stacked";
  return {
    source: {
      kind: "shares",
      table: table.id,
      variable: variable.symbol,
      by: by.symbol,
      level: choices.level,
      chosen: choices.answers.filter((place) => place < variable.n_levels),
      neutral: stacked ? choices.neutral : null,
      stacked,
      ...standingOf(choices),
      marks: choices.marks.filter((mark) => mark === "centre" || mark === "joined" || mark === "from zero"),
    },
    ...(stacked ? {} : endsOf(choices)),
  };
}

/** Rows that are results. */
export function resultsPicture(table: Table, choices: CompareChoices): Picture {
  const columns = columnsOf(table, choices);
  return {
    source: {
      kind: "estimates",
      table: table.id,
      of: columns.of,
      limits: columns.how === "two" ? columns.limits : [],
      widths: columns.how === "width" ? columns.limits : [],
      label: columns.label,
      weight: choices.weight ?? "",
      heading: choices.heading ?? "",
      sort: choices.sort,
      none: choices.none,
      none_words: choices.noneWords,
      combined: choices.combined,
      log: choices.log,
      on_numbers: choices.onNumbers,
      ...standingOf(choices),
      marks: choices.marks.filter((mark) => mark === "centre" || mark === "joined" || mark === "from zero"),
    },
    ...endsOf(choices),
  };
}

/** How groups differ, pair by pair. */
export function differencesPicture(table: Table, variable: Variable, roles: Roles, choices: CompareChoices): Picture {
  return {
    source: {
      kind: "differences",
      table: table.id,
      variable: variable.symbol,
      by: roles.by.symbol,
      measure: choices.measure,
      reference: choices.reference,
      level: choices.level,
      units: choices.units && table.unit_variable !== "",
      pair: roles.pair?.symbol ?? "",
      together: choices.together,
      spreads: choices.equal ? "equal" : "unequal",
      trim: choices.trim,
    },
  };
}
