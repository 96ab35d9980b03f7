import type { FitScale } from "../../api/relate";
import { eachOf } from "../../values";
import { among, useAddress, wordsIn } from "../useAddress";

export const VIEWS = { scatter: "one pair", board: "straighten", matrix: "every pair" } as const;
/** How many pairs are shown: each alone, or counted together. */
export const FORMS = {
  points: "points",
  counts: "counts at one place",
  hexagons: "hexagons",
  density: "density",
  image: "image",
} as const;
export const LINES = { "least-squares": "least squares", median: "median of slopes", smooth: "smooth" } as const;
export type Line = keyof typeof LINES;
export const BANDS = { none: "no band", line: "of the line", both: "of the line and of one more value" } as const;
export const MARGINS = {
  none: "none",
  histogram: "histograms",
  density: "densities",
  box: "boxes",
  rug: "rugs",
} as const;
export const JOINS = { x: "in the order of x", rows: "in the order of rows" } as const;
export const DRAGS = { box: "a box selects", lasso: "an outline selects", move: "the view moves" } as const;
export const RAMPS = { heron: "heron to plum", moss: "moss" } as const;
export const SCALES: Record<FitScale, string> = {
  "as-is": "as it is",
  "square-root": "root",
  log10: "log",
  reciprocal: "reciprocal",
};

const numberIn = (text: string | null) => (text !== null && text !== "" && Number.isFinite(+text) ? +text : null);
const share = (text: string | null, usual: number) => Math.min(Math.max(numberIn(text) ?? usual, 0), 1);

function windowIn(text: string | null): [number, number, number, number] | null {
  const ends = wordsIn(text).map(Number);
  const [x0 = 0, x1 = 0, y0 = 0, y1 = 0] = ends;
  return ends.length === 4 && ends.every(Number.isFinite) && x0 < x1 && y0 < y1 ? [x0, x1, y0, y1] : null;
}

export function readRelate(query: URLSearchParams) {
  const get = (name: string) => query.get(name);
  return {
    view: among(get("view"), VIEWS, "scatter"),
    variable: get("variable"),
    x: get("x"),
    also: wordsIn(get("also")),
    by: get("by"),
    size: get("size"),
    form: among(get("form"), FORMS, "points"),
    sparse: Math.min(Math.max(Math.trunc(numberIn(get("sparse")) ?? 0), 0), 5_000),
    opacity: Math.max(share(get("opacity"), 0.6), 0.03),
    scatter: eachOf(["jx", "jy"], (name) => share(get(name), 0)),
    across: Math.min(Math.max(Math.trunc(numberIn(get("across")) ?? 40), 4), 200),
    ramp: among(get("ramp"), RAMPS, "heron"),
    widths: eachOf(["wx", "wy"], (name) => numberIn(get(name))),
    grid: Math.min(Math.max(Math.trunc(numberIn(get("grid")) ?? 200), 32), 400),
    joined: query.has("joined"),
    rowOrder: get("joined") === "rows",
    lines: wordsIn(get("lines")).filter((line): line is Line => line in LINES),
    each: get("each") === "yes",
    span: Math.max(share(get("span"), 0.67), 0.05),
    bands: among(get("bands"), BANDS, "none"),
    scales: eachOf(["xs", "ys"], (name): FitScale => among(get(name), SCALES) ?? "as-is"),
    logs: eachOf(["xlog", "ylog"], (name) => get(name) === "yes"),
    window: windowIn(get("window")),
    margins: among(get("margins"), MARGINS, "none"),
    residuals: get("residuals") === "yes",
    equation: get("equation") === "yes",
    drag: among(get("drag"), DRAGS, "box"),
    together: wordsIn(get("together")),
    alike: get("alike") === "yes",
  };
}

export type RelateChoices = ReturnType<typeof readRelate>;

/** What was set for a pair, and goes when another is looked at. */
export const OTHER_PAIR = { window: null, xs: null, ys: null, wx: null, wy: null, also: null };

export const useRelateChoices = () => useAddress(readRelate);
