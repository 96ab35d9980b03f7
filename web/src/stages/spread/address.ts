import type { Panel, Source } from "../../api/plates";
import { said, type Written, words } from "../said";
import { ORDER_MARKS, RISING } from "./useSpreadChoices";

type Of<Kind extends Source["kind"]> = Extract<Source, { kind: Kind }>;

const MEASURES = { density: null, counts: "count", percents: "percent" } as const;

const inClasses = ({ rule, count, width, start, boundaries, closed }: Of<"shape"> | Of<"cumulative">): Written =>
  said({
    rule: [rule, null],
    count: [count, null],
    width: [width, null],
    start: [start, null],
    boundaries: [words(boundaries ?? []), ""],
    closed: [closed, "left"],
  });

const shape = (source: Of<"shape">): Written => ({
  layers: words([...source.layers, ...source.box_marks]),
  ...inClasses(source),
  ...said({
    by: [source.by, ""],
    rings: [source.rings, true, "no"],
    measure: [MEASURES[source.measure], null],
    axis: [source.axis, "linear"],
    form: [source.form, source.by ? "lanes" : "overlay"],
    scaling: [source.scaling, "area"],
    upright: [source.upright, false, "yes"],
    bandwidth: [source.bandwidth, "silverman"],
    kernel: [source.kernel, "gaussian"],
    definition: [source.quantile_definition, 7],
    reach: [source.reach, 1.5],
    whiskers: [source.whiskers, "fences"],
    share: [source.share, 0.05],
  }),
});

const cumulative = (source: Of<"cumulative">): Written => ({
  as: "cumulative",
  ...inClasses(source),
  ...said({
    lines: [source.lines.join(","), RISING.join(",")],
    measure: [source.measure, "percents", "count"],
    side: [source.at_least, false, "above"],
  }),
});

const ordered = (source: Of<"ordered">): Written => ({
  as: "order",
  ...said({ along: [source.along, ""], marks: [source.marks.join(","), ORDER_MARKS.join(",")] }),
});

const control = (source: Of<"control">): Written => ({
  as: "control",
  ...said({
    along: [source.along, ""],
    chart: [source.chart, "individuals"],
    subgroup: [source.subgroup, ""],
    baseline: [source.baseline, null],
  }),
});

const quantiles = (source: Of<"quantiles">): Written =>
  said({ by: [source.by, ""], family: [source.family, "normal"], plot: [source.plot, "quantiles"] });

/** The address under which Spread shows a panel, with all that was chosen; null for a panel of another stage, for one
 *  level alone, and for a scale that is tried. */
export function spreadAddress({ source, furniture }: Pick<Panel, "source" | "furniture">): string | null {
  if (source.only || ("as_if" in source && source.as_if)) return null;
  const written =
    source.kind === "shape"
      ? shape(source)
      : source.kind === "cumulative" && !source.by
        ? cumulative(source)
        : source.kind === "ordered"
          ? ordered(source)
          : source.kind === "control"
            ? control(source)
            : source.kind === "quantiles"
              ? quantiles(source)
              : source.kind === "counts"
                ? said({ measure: [MEASURES[source.measure], null] })
                : source.kind === "times"
                  ? said({ unit: [source.unit, null] })
                  : null;
  if (!written || !("variable" in source)) return null;
  const slip = furniture.find(({ kind }) => kind === "slip");
  const at: Written = source.kind === "shape" && slip ? { slip: `${slip.x} ${slip.y}` } : {};
  return `/tables/${source.table}/spread?${new URLSearchParams({ variable: source.variable, ...written, ...at })}`;
}
