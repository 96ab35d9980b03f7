import { useCallback, useMemo } from "react";
import { useSearchParams } from "react-router";
import type { ClassesAsked, Definition, DensityAsked, SpreadAsked } from "../../api/readings";

export const LAYERS = ["classes", "density", "normal", "box", "fences", "points"] as const;
export type Layer = (typeof LAYERS)[number];
export const MEASURES = ["density", "count", "percent"] as const;
export type Measure = (typeof MEASURES)[number];

export const VIEWS = ["shape", "table", "cumulative"] as const;
/** How a variable is looked at: its shape on one axis, a table of frequencies, shares that lie below. */
export type View = (typeof VIEWS)[number];

const USUAL_LAYERS: Layer[] = ["classes", "density", "normal", "box", "points"];

export type SpreadChoices = {
  variable: string | null;
  view: View;
  /** The variable whose levels are set side by side. */
  by: string | null;
  layers: Layer[];
  measure: Measure;
  classes: ClassesAsked;
  density: DensityAsked;
  definition: Definition;
};

function numberIn(query: URLSearchParams, name: string): number | undefined {
  const text = query.get(name);
  return text !== null && text !== "" && Number.isFinite(Number(text)) ? Number(text) : undefined;
}

function boundariesIn(query: URLSearchParams): number[] | undefined {
  const typed = (query.get("boundaries") ?? "").split(" ").filter(Boolean).map(Number);
  return typed.length > 1 && typed.every(Number.isFinite) ? typed : undefined;
}

function among<T extends string>(text: string | null, allowed: readonly T[]): T | undefined {
  return allowed.find((choice) => choice === text);
}

export const CLASS_RULES = ["freedman-diaconis", "scott", "sturges", "square-root", "integers"] as const;
export type Rule = (typeof CLASS_RULES)[number];
export const KERNELS = ["gaussian", "epanechnikov", "triangular", "uniform", "biweight"] as const;
export const BANDWIDTH_RULES = ["silverman", "scott", "plug-in"] as const;

function read(query: URLSearchParams): SpreadChoices {
  const definition = query.get("definition");
  const bandwidth = numberIn(query, "bandwidth");
  return {
    variable: query.get("variable"),
    view: among(query.get("as"), VIEWS) ?? "shape",
    by: query.get("by"),
    layers: query.has("layers")
      ? LAYERS.filter((layer) => query.get("layers")?.split(" ").includes(layer))
      : USUAL_LAYERS,
    measure: among(query.get("measure"), MEASURES) ?? "density",
    classes: {
      rule: among(query.get("rule"), CLASS_RULES),
      count: numberIn(query, "count"),
      width: numberIn(query, "width"),
      start: numberIn(query, "start"),
      boundaries: boundariesIn(query),
      closed: among(query.get("closed"), ["left", "right"] as const),
    },
    density: {
      bandwidth: bandwidth ?? among(query.get("bandwidth"), BANDWIDTH_RULES),
      kernel: among(query.get("kernel"), KERNELS),
    },
    definition:
      definition === "hinges"
        ? "hinges"
        : (([1, 2, 3, 4, 5, 6, 8, 9] as const).find((d) => String(d) === definition) ?? 7),
  };
}

/** What the first look at a variable is asked with. */
export function firstLook({ definition, classes, density }: SpreadChoices): SpreadAsked {
  return { quantile_definition: definition, closed: classes.closed, kernel: density.kernel };
}

/** Whether classes, or the curve, are the usual ones that the first look brings. */
export const isUsual = ({ rule, count, width, start, boundaries }: ClassesAsked) =>
  [rule, count, width, start, boundaries].every((choice) => choice === undefined || choice === null);

export type Change = Record<string, string | number | null | undefined>;

/** What the reader chose, kept in the address so that it can be bookmarked, shared and gone back to. */
export function useSpreadChoices() {
  const [query, setQuery] = useSearchParams();
  const text = query.toString();
  const choices = useMemo(() => read(new URLSearchParams(text)), [text]);
  const change = useCallback(
    (changes: Change, replace = false) =>
      setQuery(
        (now) => {
          const next = new URLSearchParams(now);
          for (const [name, value] of Object.entries(changes)) {
            if (value === null || value === undefined) next.delete(name);
            else next.set(name, String(value));
          }
          return next;
        },
        { replace },
      ),
    [setQuery],
  );
  return { choices, change };
}

/** Another variable keeps the layers and the measure, and drops what was set for the one before. */
export const ANOTHER_VARIABLE: Change = {
  width: null,
  start: null,
  count: null,
  rule: null,
  boundaries: null,
  bandwidth: null,
};

export const setsNoClasses: Change = { rule: null, count: null, width: null, start: null, boundaries: null };
