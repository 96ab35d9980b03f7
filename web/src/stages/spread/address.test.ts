// @vitest-environment jsdom
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Panel, Source } from "../../api/plates";
import { answers } from "../../testing/answers";
import { nth } from "../../values";
import { type Beside, plateAt } from "../plates/keeping";
import { spreadAddress } from "./address";
import {
  BANDWIDTH_RULES,
  BOX_MARKS,
  CHARTS_OFFERED,
  CLASS_RULES,
  FAMILIES,
  KERNELS,
  LAYERS,
  ORDER_MARKS,
  PLOTS,
  RISING,
  SCALINGS,
  UNITS_OF_TIME,
} from "./useSpreadChoices";

const { table } = answers;
const of = { table: fc.constant(table.id) };
const some = <T>(list: readonly T[]) => fc.subarray([...list]);
/** What a reader may say or leave as usual, which is then not said. */
const maybe = <T>(one: fc.Arbitrary<T>) => fc.option(one, { nil: undefined });
const classes = fc.oneof(
  fc.constant({}),
  fc.record({ rule: fc.constantFrom(...CLASS_RULES) }),
  fc.record({ count: fc.integer({ min: 1, max: 99 }) }),
  fc.record({ width: fc.constantFrom(2.5, 10), start: fc.constantFrom(0, -1.5) }),
  fc.record({ boundaries: fc.constantFrom([0, 10, 25], [-1.5, 1e6]) }),
);
const closed = maybe(fc.constant("right"));
const shape = fc
  .record({
    kind: fc.constant("shape"),
    ...of,
    only: fc.constant(null),
    variable: fc.constant("shell_length"),
    by: fc.constantFrom("", "tray_type"),
    layers: some(LAYERS),
    box_marks: some(BOX_MARKS),
    rings: fc.boolean(),
    measure: fc.constantFrom("density", "counts", "percents"),
    axis: fc.constantFrom("linear", "log"),
    form: fc.constantFrom("lanes", "ridges", "overlay"),
    scaling: fc.constantFrom(...SCALINGS),
    upright: fc.boolean(),
    classes,
    closed,
    bandwidth: maybe(fc.constantFrom(...BANDWIDTH_RULES.slice(1), 1.25)),
    kernel: maybe(fc.constantFrom(...KERNELS.slice(1))),
    quantile_definition: fc.constantFrom(7, 1, "hinges"),
    reach: maybe(fc.constantFrom(3, 0)),
    whiskers: maybe(fc.constantFrom("range", "percentiles")),
    share: maybe(fc.constant(0.1)),
  })
  .map(({ classes: cut, ...source }) => ({
    ...source,
    ...cut,
    // One shape alone has no levels to set together.
    ...(source.by ? {} : { form: "overlay", scaling: "area" }),
  }));
const numeric = { variable: fc.constant("shell_mass"), ...of };
const cumulative = fc
  .record({
    kind: fc.constant("cumulative"),
    ...numeric,
    lines: some(RISING),
    measure: fc.constantFrom("counts", "percents"),
    at_least: fc.boolean(),
    classes,
    closed,
  })
  .map(({ classes: cut, ...source }) => ({ ...source, ...cut }));
const ordered = fc.record({
  kind: fc.constant("ordered"),
  ...numeric,
  along: fc.constantFrom("", "shell_length"),
  marks: some(ORDER_MARKS),
});
const control = fc
  .record({
    kind: fc.constant("control"),
    ...numeric,
    along: fc.constantFrom("", "shell_length"),
    chart: fc.constantFrom(...CHARTS_OFFERED),
    subgroup: fc.constant("tray_type"),
    baseline: fc.constantFrom(null, 20),
    plot: fc.constant("centres"),
  })
  .map((source) => (source.chart === "individuals" ? { ...source, subgroup: "" } : source));
const quantiles = fc
  .record({
    kind: fc.constant("quantiles"),
    ...numeric,
    by: fc.constantFrom("", "tray_type"),
    family: fc.constantFrom(...FAMILIES),
    plot: fc.constantFrom(...PLOTS),
    bands: fc.constant(["pointwise", "simultaneous"]),
  })
  // What is left of groups is set against normal scores alone.
  .map((source) => (source.by ? { ...source, family: "normal", plot: "off the line" } : source));
const counts = fc.record({
  kind: fc.constant("counts"),
  ...of,
  variable: fc.constant("tray_type"),
  measure: fc.constantFrom("density", "counts", "percents"),
  written: fc.constant(true),
});
const times = fc.record({
  kind: fc.constant("times"),
  ...of,
  variable: fc.constant("day"),
  unit: fc.option(fc.constantFrom(...UNITS_OF_TIME), { nil: null }),
});

function panelsAt(address: string, beside?: Beside) {
  const [pathname = "", search = ""] = address.split("?");
  const result = plateAt(pathname, `?${search}`, table, beside);
  if (typeof result === "string") throw new Error(result);
  return result;
}
const whole = (source: object) =>
  ({ boundaries: [], box_marks: [], lines: [], marks: [], ...source }) as unknown as Source;
const bare = (source: object) => Object.fromEntries(Object.entries(source).filter(([, value]) => value !== undefined));

describe("an address of Spread holds all that was chosen", () => {
  it("and a panel comes back from its address as it was", () => {
    fc.assert(
      fc.property(
        fc.oneof(shape, cumulative, ordered, control, quantiles, counts, times),
        fc.boolean(),
        (source, slipped) => {
          const slip = { kind: "slip" as const, x: 0.25, y: 0.125 };
          const furniture = slipped && source.kind === "shape" && !("by" in source && source.by) ? [slip] : [];
          const address = spreadAddress({ source: whole(source), furniture } as unknown as Panel) ?? "";
          const back = nth(panelsAt(address, source.kind === "quantiles" ? "quantiles" : undefined).panels, 0);
          expect(back.source).toEqual(bare(source));
          expect(back.furniture ?? []).toMatchObject(furniture);
          expect(back.address).toBe(address);
        },
      ),
      { numRuns: 400 },
    );
  });

  it("and a panel for each level of another, with shared axes or its own", () => {
    const address = `/tables/${table.id}/spread?variable=shell_length&each=tray_type&upright=yes`;
    const { panels, sheet } = panelsAt(address);
    const levels = table.variables.find(({ symbol }) => symbol === "tray_type")?.levels ?? [];
    expect(panels.map(({ source, title }) => [source.only, title])).toEqual(
      levels.map((level) => [{ by: "tray_type", level }, level]),
    );
    expect(sheet).toMatchObject({ share_across: true, share_up: true });
    expect(panelsAt(`${address}&axes=free`).sheet).toMatchObject({ share_across: false });
  });

  it("and each choice that the stage offers changes what is kept", () => {
    const offered: Record<string, string[]> = {
      "variable=shell_length": [
        ...["layers=box", "measure=count", "axis=log", "rule=sturges", "count=5", "width=2", "boundaries=0+9+99"],
        ...["closed=right", "bandwidth=2", "kernel=uniform", "definition=6", "reach=3", "whiskers=range", "share=0.1"],
        ...["rings=no", "upright=yes", "slip=0.1+0.1", "by=tray_type", "each=tray_type", "as=cumulative", "as=order"],
      ],
      "variable=shell_length&by=tray_type": ["form=ridges", "form=overlay", "scaling=count", "layers=density+widths"],
      "variable=shell_length&each=tray_type": ["axes=free", "by=vigour"],
      "variable=shell_length&as=cumulative": ["lines=steps", "measure=count", "side=above", "count=4"],
      "variable=shell_length&as=order": ["along=shell_mass", "marks=run"],
      "variable=tray_type": ["measure=percent"],
      "variable=day": ["unit=week"],
    };
    const keptAt = (query: string, beside?: Beside) => {
      const { panels, sheet } = panelsAt(`/tables/${table.id}/spread?${query}`, beside);
      return JSON.stringify([panels.map(({ address, ...panel }) => panel), sheet]);
    };
    for (const [base, choices] of Object.entries(offered))
      for (const choice of choices) expect(keptAt(`${base}&${choice}`), choice).not.toBe(keptAt(base));
    for (const choice of ["family=gamma", "plot=shares"])
      expect(keptAt(`variable=shell_mass&${choice}`, "quantiles")).not.toBe(keptAt("variable=shell_mass", "quantiles"));
  });
});
