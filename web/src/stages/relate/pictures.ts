import type { Picture } from "../../api/figures";
import type { Sheet } from "../../api/plates";
import type { Table, Variable } from "../../api/studies";
import type { Roles } from "./roles";
import type { RelateChoices } from "./useRelateChoices";

/** How what lines leave stands below the pairs, over the same x. */
export const UNDER_EACH_OTHER: Partial<Sheet> = { columns: 1, share_across: true, heights: [1, 0.36], letters: "none" };

/** Whether what lines leave is drawn below the pairs. */
export const leaves = (choices: RelateChoices, also: Variable[]) =>
  choices.residuals && also.length === 0 && choices.lines.includes("least-squares");

/** The pairs as they are drawn, with what the lines leave below where that is wanted. */
export function pairPictures(table: Table, roles: Roles, choices: RelateChoices): Picture[] {
  const { x, variable, also, by, size, bars } = roles;
  const alone = also.length === 0;
  const [x0, x1, y0, y1] = choices.window ?? [null, null, null, null];
  const [x_scale, y_scale] = choices.scales;
  // Bars belong to points.
  const barsOf = (columns: Variable[]) =>
    alone && choices.form !== "points" ? [] : columns.map(({ symbol }) => symbol);
  const source = {
    kind: "pair" as const,
    table: table.id,
    x: x.symbol,
    y: variable.symbol,
    also: also.map(({ symbol }) => symbol),
    by: by?.symbol ?? "",
    size: size?.symbol ?? "",
    bars_x: barsOf(bars.x),
    bars_y: alone ? barsOf(bars.y) : [],
    shown: alone ? choices.form : ("points" as const),
    jitter_x: choices.scatter[0],
    jitter_y: choices.scatter[1],
    across: choices.across,
    aspect: choices.aspect,
    // Cells are counted anew within what is looked at, and so sharpen.
    window: choices.form === "cells" && choices.window ? [...choices.window] : [],
    width_rule: choices.rule,
    width_x: choices.widths[0],
    width_y: choices.widths[1],
    grid: choices.grid,
    sparse: choices.sparse,
    shade: choices.shade,
    x_axis: axisOf(choices.logs[0]),
    y_axis: axisOf(choices.logs[1]),
    joined: choices.joined ?? ("no" as const),
    lines: alone ? choices.lines : [],
    each: choices.each,
    x_scale,
    y_scale,
    span: choices.span,
    level: choices.level,
    bands: choices.bands,
    equation: choices.equation,
    margins: choices.margins,
    plot: "pairs" as const,
  };
  const marks = choices.opacity === null ? {} : { points: { opacity: choices.opacity } };
  const across = { low: x0, high: x1 };
  const pairs = { source, across, up: { low: y0, high: y1 }, marks };
  return leaves(choices, also) ? [pairs, { source: { ...source, plot: "residuals" }, across, marks }] : [pairs];
}

const axisOf = (log: boolean) => (log ? ("log" as const) : ("linear" as const));

/** How far the two lie apart. */
export const agreementPicture = (
  table: Table,
  { x, variable }: Pick<Roles, "x" | "variable">,
  choices: RelateChoices,
) =>
  ({
    source: {
      kind: "agreement",
      table: table.id,
      x: x.symbol,
      y: variable.symbol,
      scale: choices.differences,
      margin: choices.margin,
      level: choices.level,
    },
  }) satisfies Picture;
