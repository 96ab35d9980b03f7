import { useMemo } from "react";
import * as records from "../../api/choices.gen";
import { CUMULATIVE_LINES, QUANTILE_PLOTS, SHAPE_LAYERS, TIME_UNITS } from "../../api/choices.gen";
import type { ClassSettings, Definition, DensitySettings, SpreadSettings } from "../../api/readings";
import { listHere, usePreferences } from "../../state/preferences";
import { keysOf, without } from "../../values";
import { type Change, oneOf, useAddress } from "../useAddress";
import { boundariesTyped } from "./boundariesTyped";

export const LAYERS = keysOf(SHAPE_LAYERS);
/** What is drawn on a box besides itself. */
export const BOX_MARKS = keysOf(records.BOX_MARKS);
export type BoxMark = (typeof BOX_MARKS)[number];
export type Layer = (typeof LAYERS)[number] | BoxMark;
/** How levels are set together. */
export const FORMS = keysOf(records.FORMS);
export type Form = (typeof FORMS)[number];
/** What curves of levels have in common: their area, their height, or that area counts rows. */
export const SCALINGS = keysOf(records.SCALINGS);
export type Scaling = (typeof SCALINGS)[number];
/** What a panel calls the heights that an address names. */
export const MEASURE_OF = { density: "density", count: "counts", percent: "percents" } as const;
export const MEASURES = keysOf(MEASURE_OF);
export type Measure = (typeof MEASURES)[number];

export const VIEWS = ["shape", "table", "cumulative", "order", "control"] as const;
/** How a variable is looked at: its shape on one axis, a table of frequencies, shares that lie below, in order. */
export type View = (typeof VIEWS)[number];

export const USUAL_LAYERS: Layer[] = ["classes", "density", "normal", "box", "points", "limits"];
/** Of levels side by side less is drawn of each. */
const USUAL_OF_LEVELS: Layer[] = ["classes", "density", "box", "limits"];

/** What is drawn in an order besides the values. */
export const ORDER_MARKS = keysOf(records.ORDER_MARKS);
export const CHARTS_OFFERED = keysOf(records.CHARTS);
export type Chart = (typeof CHARTS_OFFERED)[number];
const wholeFrom = (typed: number | null | undefined, least: number) =>
  typed != null && Number.isInteger(typed) && typed >= least ? typed : null;
/** How shares are drawn: over the classes, or a step at each value. */
export const RISING = keysOf(CUMULATIVE_LINES);
export const UNITS_OF_TIME = keysOf(without(TIME_UNITS, "second"));
export const FAMILIES = keysOf(records.FAMILIES);
/** How values are set against a distribution. */
export const PLOTS = keysOf(QUANTILE_PLOTS);

export type SpreadChoices = {
  variable: string | null;
  view: View;
  /** The variable whose levels are set side by side. */
  by: string | null;
  layers: Layer[];
  measure: Measure;
  classes: ClassSettings;
  density: DensitySettings;
  definition: Definition;
  /** Percents whose points are listed; kept per person, not in the address. */
  percents: number[];
  axis: "linear" | "log";
  box: BoxSettings;
  form: Form;
  /** Whether the variable's axis stands upright. */
  upright: boolean;
  /** The variable of whose levels each has a panel. */
  each: string | null;
  /** Whether each panel has an axis of its own. */
  freeAxes: boolean;
  /** Whether rows beyond the whiskers are ringed. */
  rings: boolean;
  lines: (typeof RISING)[number][];
  /** Whether shares are of the rows at or above a value. */
  atLeast: boolean;
  orderMarks: (typeof ORDER_MARKS)[number][];
  unit: (typeof UNITS_OF_TIME)[number] | null;
  family: (typeof FAMILIES)[number];
  plot: (typeof PLOTS)[number];
  /** The variable that sets the order in which values are looked at; null for the rows. */
  along: string | null;
  chart: Chart;
  subgroup: string | null;
  baseline: number | null;
  scaling: Scaling;
  /** Where the number slip lies, as shares of the picture; null where there is none. */
  slip: readonly [number, number] | null;
};
export type BoxSettings = Pick<SpreadSettings, "reach" | "whiskers" | "share">;

function numberIn(query: URLSearchParams, name: string): number | undefined {
  const text = query.get(name);
  return text !== null && text !== "" && Number.isFinite(Number(text)) ? Number(text) : undefined;
}

function boundariesIn(query: URLSearchParams): number[] | undefined {
  const typed = boundariesTyped(query.get("boundaries") ?? "");
  return typeof typed === "string" ? undefined : typed;
}

export const CLASS_RULES = keysOf(records.CLASS_RULES);
export const KERNELS = keysOf(records.KERNELS);
export const BANDWIDTH_RULES = keysOf(records.BANDWIDTH_RULES);

export function readSpread(query: URLSearchParams): Omit<SpreadChoices, "percents"> {
  const definition = query.get("definition");
  const bandwidth = numberIn(query, "bandwidth");
  const axis = oneOf(query.get("axis"), ["log"] as const);
  const [across, down] = (query.get("slip") ?? "").split(" ").map(Number);
  const listed = <T extends string>(name: string, all: readonly T[], usual: readonly T[] = all) =>
    query.has(name) ? all.filter((choice) => query.get(name)?.split(",").includes(choice)) : [...usual];
  return {
    variable: query.get("variable"),
    view: oneOf(query.get("as"), VIEWS, "shape"),
    by: query.get("by"),
    layers: query.has("layers")
      ? [...LAYERS, ...BOX_MARKS].filter((layer) => query.get("layers")?.split(" ").includes(layer))
      : query.get("by")
        ? USUAL_OF_LEVELS
        : USUAL_LAYERS,
    measure: oneOf(query.get("measure"), MEASURES, "density"),
    classes: {
      rule: oneOf(query.get("rule"), CLASS_RULES),
      count: numberIn(query, "count"),
      width: numberIn(query, "width"),
      start: numberIn(query, "start"),
      boundaries: boundariesIn(query),
      closed: oneOf(query.get("closed"), ["left", "right"] as const),
      axis,
    },
    density: {
      bandwidth: bandwidth ?? oneOf(query.get("bandwidth"), BANDWIDTH_RULES),
      kernel: oneOf(query.get("kernel"), KERNELS),
      axis,
    },
    axis: axis ?? "linear",
    box: {
      reach: numberIn(query, "reach"),
      whiskers: oneOf(query.get("whiskers"), ["range", "percentiles"] as const),
      share: numberIn(query, "share"),
    },
    form: oneOf(query.get("form"), FORMS, "lanes"),
    upright: query.get("upright") === "yes",
    each: query.get("each"),
    freeAxes: query.get("axes") === "free",
    rings: query.get("rings") !== "no",
    lines: listed("lines", RISING),
    atLeast: query.get("side") === "above",
    orderMarks: listed("marks", ORDER_MARKS),
    unit: oneOf(query.get("unit"), UNITS_OF_TIME) ?? null,
    family: oneOf(query.get("family"), FAMILIES, "normal"),
    plot: oneOf(query.get("plot"), PLOTS, "quantiles"),
    along: query.get("along"),
    chart: oneOf(query.get("chart"), CHARTS_OFFERED, "individuals"),
    subgroup: query.get("subgroup"),
    baseline: wholeFrom(numberIn(query, "baseline"), 2),
    scaling: oneOf(query.get("scaling"), SCALINGS, "area"),
    slip: query.has("slip") && Number.isFinite(across) && Number.isFinite(down) ? [across ?? 0, down ?? 0] : null,
    definition:
      definition === "hinges"
        ? "hinges"
        : (([1, 2, 3, 4, 5, 6, 8, 9] as const).find((d) => String(d) === definition) ?? 7),
  };
}

/** What the first look at a variable is asked with. */
export function firstLook({ definition, percents, classes, density, box }: SpreadChoices): SpreadSettings {
  return {
    quantile_definition: definition,
    ...(percents.length > 0 ? { percents } : {}),
    closed: classes.closed,
    kernel: density.kernel,
    axis: density.axis,
    ...box,
  };
}

/** What the reader chose, in the address; and the percent points that he wants everywhere. */
export function useSpreadChoices() {
  const { choices, change } = useAddress(readSpread);
  const percents = usePreferences((state) => listHere(state).percents);
  return { choices: useMemo(() => ({ ...choices, percents }), [choices, percents]), change };
}

/** Another variable keeps the layers and the measure, and drops what was set for the one before. */
export const ANOTHER_VARIABLE: Change = {
  width: null,
  start: null,
  count: null,
  rule: null,
  boundaries: null,
  bandwidth: null,
  axis: null,
};

export const setsNoClasses: Change = { rule: null, count: null, width: null, start: null, boundaries: null };
