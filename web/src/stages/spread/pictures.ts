import type { Picture } from "../../api/figures";
import type { Sheet } from "../../api/plates";
import type { Table, Variable } from "../../api/studies";
import { numbersOfSlip } from "./statistics";
import { BOX_MARKS, LAYERS, MEASURE_OF, type SpreadChoices } from "./useSpreadChoices";

/** How many panels stand side by side at most: of more, each would be too small to be read. */
export const MOST_PANELS = 12;

/** What was chosen, without what was not. */
function chosen<T extends object>(settings: T): Partial<T> {
  return Object.fromEntries(
    Object.entries(settings).filter(([, value]) => value !== undefined && value !== null),
  ) as Partial<T>;
}

type Only = { by: string; level: string } | null;

/** The shape of a variable, or of each level of another. only: the level to which a panel is narrowed. */
export function shapePicture(
  table: Table,
  variable: Variable,
  by: Variable | undefined,
  choices: Omit<SpreadChoices, "percents">,
  statistics: readonly string[],
  only: Only = null,
): Picture {
  const { layers, slip, form } = choices;
  const two = by?.n_levels === 2 || !by;
  return {
    source: {
      kind: "shape",
      table: table.id,
      only,
      variable: variable.symbol,
      by: by?.symbol ?? "",
      layers: choices.view === "table" ? ["classes"] : LAYERS.filter((layer) => layers.includes(layer)),
      box_marks: BOX_MARKS.filter((mark) => layers.includes(mark)),
      rings: choices.rings,
      measure: MEASURE_OF[choices.measure],
      axis: choices.axis,
      // Two stand back to back, and no more.
      form: !by ? "overlay" : form === "facing" && !two ? "lanes" : form,
      scaling: by ? choices.scaling : "area",
      upright: choices.upright,
      ...classesOf(choices),
      ...chosen({ bandwidth: choices.density.bandwidth, kernel: choices.density.kernel }),
      quantile_definition: choices.definition,
      ...chosen(choices.box),
    },
    furniture:
      slip && !by ? [{ kind: "slip", x: slip[0], y: slip[1], names: ["n", ...numbersOfSlip(statistics)] }] : [],
  };
}

const classesOf = ({ classes: { rule, count, width, start, boundaries, closed } }: Pick<SpreadChoices, "classes">) =>
  chosen({ rule, count, width, start, boundaries, closed });

/** A panel for each level of a variable; the one without where it has too many or none is chosen. */
export function panelled(separately: Variable | undefined, make: (only: Only) => Picture): Picture[] {
  if (!separately) return [make(null)];
  return separately.levels.map((level) => ({ ...make({ by: separately.symbol, level }), title: level }));
}

/** How panels of levels stand together. */
export function sheetOf(panels: number, choices: Pick<SpreadChoices, "freeAxes">) {
  if (panels < 2) return {};
  return {
    columns: panels === 4 ? 2 : Math.min(panels, 3),
    share_across: !choices.freeAxes,
    share_up: !choices.freeAxes,
    letters: "none" as const,
  };
}

/** Rows up to each value. */
export function cumulativePicture(
  table: Table,
  variable: Variable,
  choices: Pick<SpreadChoices, "classes" | "lines" | "measure" | "atLeast">,
): Picture {
  return {
    source: {
      kind: "cumulative",
      table: table.id,
      variable: variable.symbol,
      lines: choices.lines,
      measure: choices.measure === "count" ? "counts" : "percents",
      at_least: choices.atLeast,
      ...classesOf(choices),
    },
  };
}

/** Values in the order of the rows, or of another variable. */
export const orderPicture = (
  table: Table,
  variable: Variable,
  along: Variable | undefined,
  { orderMarks }: Pick<SpreadChoices, "orderMarks">,
): Picture => ({
  source: {
    kind: "ordered",
    table: table.id,
    variable: variable.symbol,
    along: along?.symbol ?? "",
    marks: orderMarks,
  },
});

/** How the two pictures of a control chart stand on a sheet. */
export const CONTROL_SHEET: Partial<Sheet> = {
  columns: 1,
  share_across: true,
  heights: [1, 0.6],
  letters: "none",
};

/** What a control chart is of. */
export type ControlRoles = { along: Variable | undefined; subgroup: Variable | undefined };

/** Values or means of a process within their limits, and below them the spread of each. */
export function controlPictures(
  table: Table,
  variable: Variable,
  { along, subgroup }: ControlRoles,
  { chart, baseline }: Pick<SpreadChoices, "chart" | "baseline">,
): [Picture, Picture] {
  const source = {
    kind: "control" as const,
    table: table.id,
    variable: variable.symbol,
    along: along?.symbol ?? "",
    chart: subgroup ? chart : ("individuals" as const),
    subgroup: chart === "individuals" ? "" : (subgroup?.symbol ?? ""),
    baseline,
    plot: "centres" as const,
  };
  return [{ source }, { source: { ...source, plot: "spreads" } }];
}

/** How often each level occurs. */
export const countsPicture = (
  table: Table,
  variable: Variable,
  { measure }: Pick<SpreadChoices, "measure">,
): Picture => ({
  source: { kind: "counts", table: table.id, variable: variable.symbol, measure: MEASURE_OF[measure], written: true },
});

export const timesPicture = (table: Table, variable: Variable, { unit }: Pick<SpreadChoices, "unit">): Picture => ({
  source: { kind: "times", table: table.id, variable: variable.symbol, unit },
});

/** The way to the logs of a variable, as an address names what is tried. */
export const AS_LOGS = JSON.stringify({ how: "scale", setting: { way: "log", base: "10", offset: 0 } });
/** Whether a shape stands on a logarithmic axis, so that what is said of it must be of the logs. */
export const onLogs = ({ axis, view }: Pick<SpreadChoices, "axis" | "view">) => axis === "log" && view === "shape";

/** Values against a distribution, or their logs; with `by`, their distances from the means of its levels. */
export function quantilesPicture(
  table: Table,
  variable: string,
  by: string,
  { family, plot }: Pick<SpreadChoices, "family" | "plot">,
  logs = false,
): Picture {
  return {
    source: {
      kind: "quantiles",
      table: table.id,
      variable,
      by,
      ...(logs && family === "normal" ? { as_if: AS_LOGS } : {}),
      // What is left of groups is set against normal scores alone.
      family: by ? "normal" : family,
      plot: by && plot === "shares" ? "quantiles" : plot,
      bands: ["pointwise", "simultaneous"],
    },
  };
}
