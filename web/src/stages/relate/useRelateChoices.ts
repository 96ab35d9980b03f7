import * as records from "../../api/choices.gen";
import { DIFFERENCE_SCALES, FIT_SCALES, LINE_BANDS, PAIR_FORMS } from "../../api/choices.gen";
import type { FitScale } from "../../api/relate";
import { eachOf, labelsOf, typedNumber, without } from "../../values";
import { among, useAddress, wordsIn } from "../useAddress";

export const VIEWS = {
  scatter: "one pair",
  board: "straighten",
  matrix: "every pair",
  agreement: "agreement",
} as const;
/** How many pairs are shown: each alone, or counted together. */
export const FORMS = labelsOf(PAIR_FORMS);
export type Form = keyof typeof FORMS;
export const LINES = labelsOf(records.LINES);
export type Line = keyof typeof LINES;
export const BANDS = labelsOf(LINE_BANDS);
export const MARGINS = labelsOf(records.MARGINS);
export const JOINS = labelsOf(without(records.JOINS, "no"));
export const DRAGS = { box: "a box selects", outline: "an outline selects", move: "the view moves" } as const;
export const WIDTH_RULES = labelsOf(records.WIDTH_RULES);
export const SHADES = labelsOf(records.SHADES);
export const SCALES: Record<FitScale, string> = labelsOf(FIT_SCALES);
/** How many cells stand across by themselves: they show more where they are small. */
export const ACROSS: Record<Form, number> = { ...eachUsual(40), cells: 120 };
export const USUAL = { aspect: 0.7, grid: 200, span: 0.67, level: 0.95 } as const;

function eachUsual(across: number): Record<Form, number> {
  return { points: across, counts: across, hexagons: across, cells: across, density: across, contours: across };
}

const within = (text: string | null, usual: number, low: number, high: number) =>
  Math.min(Math.max(typedNumber(text) ?? usual, low), high);
const aboveZero = (text: string | null) => {
  const typed = typedNumber(text);
  return typed !== null && typed > 0 ? typed : null;
};
const share = (text: string | null) => within(text, 0, 0, 1);
const whole = (text: string | null, usual: number, low: number, high: number) =>
  Math.trunc(within(text, usual, low, high));

export type Window = [number, number, number, number];

function windowIn(text: string | null): Window | null {
  const ends = wordsIn(text).map(Number);
  const [x0 = 0, x1 = 0, y0 = 0, y1 = 0] = ends;
  return ends.length === 4 && ends.every(Number.isFinite) && x0 < x1 && y0 < y1 ? [x0, x1, y0, y1] : null;
}

export function readRelate(query: URLSearchParams) {
  const get = (name: string) => query.get(name);
  const form = among(get("form"), FORMS, "points");
  const level = typedNumber(get("level")) ?? USUAL.level;
  const opacity = typedNumber(get("opacity"));
  return {
    view: among(get("view"), VIEWS, "scatter"),
    variable: get("variable"),
    x: get("x"),
    also: wordsIn(get("also")),
    by: get("by"),
    size: get("size"),
    bars: eachOf(["xbars", "ybars"], (name) => (query.has(name) ? wordsIn(get(name)).slice(0, 2) : null)),
    form,
    sparse: whole(get("sparse"), 0, 0, 5_000),
    opacity: opacity === null ? null : Math.min(Math.max(opacity, 0.03), 1),
    scatter: eachOf(["jx", "jy"], (name) => share(get(name))),
    across: whole(get("across"), ACROSS[form], 4, 200),
    aspect: within(get("aspect"), USUAL.aspect, 0.1, 10),
    shade: among(get("shade"), SHADES, "heron"),
    rule: among(get("wr"), WIDTH_RULES, "normal-reference"),
    widths: eachOf(["wx", "wy"], (name) => aboveZero(get(name))),
    grid: whole(get("grid"), USUAL.grid, 32, 400),
    joined: query.has("joined") ? among(get("joined"), JOINS, "x") : null,
    lines: wordsIn(get("lines")).filter((line): line is Line => line in LINES),
    each: get("each") === "yes",
    span: within(get("span"), USUAL.span, 0.05, 1),
    level: level > 0 && level < 1 ? level : USUAL.level,
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
    partial: get("partial") === "yes",
    differences: among(get("differences"), DIFFERENCE_SCALES, "as-is"),
    margin: aboveZero(get("margin")),
  };
}

export type RelateChoices = ReturnType<typeof readRelate>;

/** What was set for a pair, and goes when another is looked at. */
export const OTHER_PAIR = {
  window: null,
  xs: null,
  ys: null,
  wx: null,
  wy: null,
  wr: null,
  also: null,
  xbars: null,
  ybars: null,
};

const SWAPPED = [
  ["variable", "x"],
  ["jx", "jy"],
  ["wx", "wy"],
  ["xlog", "ylog"],
  ["xs", "ys"],
  ["xbars", "ybars"],
] as const;

/** The address of the same pair with x and y in each other's place. */
export function swapped(query: URLSearchParams): URLSearchParams {
  const next = new URLSearchParams(query);
  const put = (name: string, value: string | null) => (value === null ? next.delete(name) : next.set(name, value));
  for (const [one, other] of SWAPPED) {
    put(one, query.get(other));
    put(other, query.get(one));
  }
  next.delete("also");
  const window = windowIn(query.get("window"));
  if (window) next.set("window", [window[2], window[3], window[0], window[1]].join(" "));
  return next;
}

export const useRelateChoices = () => useAddress(readRelate);
