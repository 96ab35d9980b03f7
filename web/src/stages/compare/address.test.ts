// @vitest-environment jsdom
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { CENTRES, EFFECTS } from "../../api/choices.gen";
import type { Panel, Source } from "../../api/plates";
import { answers } from "../../testing/answers";
import { keysOf, nth } from "../../values";
import { plateAt } from "../plates/keeping";
import { compareAddress } from "./address";
import { CENTRE_LABELS, fitting, isOfCentre, MARKS, ORDERS, POINTS, SIDES, SORTS, VIOLINS } from "./useCompareChoices";

const { table } = answers;
const places = fc.uniqueArray(fc.nat(8), { maxLength: 3 });
const some = <T>(list: readonly T[]) => fc.subarray([...list]);
const ends = fc.constantFrom({ low: null, high: null }, { low: 0.5, high: null }, { low: -2, high: 1e6 });
const standing = {
  side: fc.constantFrom(...keysOf(SIDES)),
  caps: fc.boolean(),
  upright: fc.boolean(),
  order: fc.constantFrom(...keysOf(ORDERS)),
  hand: places,
  hidden: places,
  values: fc.option(fc.nat(6), { nil: null }),
};
const level = fc.constantFrom(0.95, 0.9, 0.5);
const unit = fc.constant(false); // the made-up table names no unit

const centred = fc.constantFrom(
  ...keysOf(CENTRE_LABELS).flatMap((centre) => fitting(centre).map((bars) => ({ centre, bars }))),
);
const line = fc.constantFrom("none", "rows", "centres");
const groups = fc
  .record({
    kind: fc.constant("groups"),
    table: fc.constant(table.id),
    variable: fc.constant("shell_length"),
    by: fc.constantFrom("tray_type", "week"),
    second: fc.constantFrom("", "vigour"),
    pair: fc.constantFrom("", "day"),
    level,
    units: unit,
    low_percent: fc.constantFrom(5, 0, 12.5),
    high_percent: fc.constantFrom(95, 99),
    trim: fc.constantFrom(0.1, 0.25, 0),
    log: fc.boolean(),
    rings: fc.boolean(),
    points: fc.constantFrom(...keysOf(POINTS)),
    jitter: fc.constantFrom(0.6, 0, 1, 0.35),
    violin: fc.constantFrom(...keysOf(VIOLINS)),
    marks: some(MARKS.filter((mark) => mark !== "from zero")),
    ...standing,
  })
  .chain((source) =>
    fc.record({ fit: centred, line, on: fc.boolean() }).map(({ fit, line: through, on }) => ({
      ...source,
      ...fit,
      // A line stands on a number axis; what lies among no values is shown alone.
      ...(CENTRES[fit.centre].among_values
        ? { line: through, on_numbers: on || through !== "none" }
        : { line: "none", on_numbers: on, pair: "", marks: source.marks.filter(isOfCentre) }),
    })),
  );
const shares = fc.record({
  kind: fc.constant("shares"),
  table: fc.constant(table.id),
  variable: fc.constant("vigour"),
  by: fc.constant("tray_type"),
  level,
  chosen: fc.uniqueArray(fc.nat(1), { maxLength: 2 }),
  neutral: fc.constant(null),
  stacked: fc.boolean(),
  marks: some(["centre", "joined", "from zero"] as const),
  ...standing,
});
const differences = fc.record({
  kind: fc.constant("differences"),
  table: fc.constant(table.id),
  variable: fc.constant("shell_length"),
  by: fc.constant("tray_type"),
  measure: fc.constantFrom(...keysOf(EFFECTS)),
  reference: fc.constantFrom("", "mesh"),
  level,
  units: unit,
  pair: fc.constantFrom("", "week"),
  together: fc.boolean(),
  spreads: fc.constantFrom("unequal", "equal"),
  trim: fc.constantFrom(0.1, 0.25, 0),
});
const estimates = fc.record({
  kind: fc.constant("estimates"),
  table: fc.constant(table.id),
  of: fc.constantFrom(["shell_length"], ["shell_length", "shell_mass"]),
  limits: fc.constant([]),
  widths: fc.constantFrom([], ["shell_width"]),
  label: fc.constantFrom("", "tray_type"),
  weight: fc.constantFrom("", "shell_mass"),
  heading: fc.constantFrom("", "vigour"),
  sort: fc.constantFrom(...keysOf(SORTS)),
  none: fc.option(fc.constantFrom(0, 1, -2.5), { nil: null }),
  none_words: fc.constantFrom("", "no effect & none=1"),
  combined: fc.uniqueArray(fc.integer({ min: 1, max: 30 }), { maxLength: 3 }),
  log: fc.boolean(),
  on_numbers: fc.boolean(),
  marks: some(["centre", "joined", "from zero"] as const),
  ...standing,
});

/** The panel that an address keeps. */
function panelAt(address: string, beside?: "differences") {
  const [pathname = "", search = ""] = address.split("?");
  const result = plateAt(pathname, `?${search}`, table, beside);
  if (typeof result === "string") throw new Error(result);
  return nth(result.panels, 0);
}

describe("an address of Compare holds all that was chosen", () => {
  it("and a panel comes back from its address as it was", () => {
    fc.assert(
      fc.property(fc.oneof(groups, shares, estimates, differences), ends, (source, cut) => {
        const side = "upright" in source && !source.upright ? "across" : "up";
        const whole = source.kind === "differences" || ("stacked" in source && source.stacked);
        const none = { low: null, high: null };
        const panel = { source: source as unknown as Source, across: none, up: none, [side]: whole ? none : cut };
        const address = compareAddress(panel as unknown as Panel) ?? "";
        const back = panelAt(address, source.kind === "differences" ? "differences" : undefined);
        expect(back.source).toEqual(source);
        expect(back[side] ?? none).toMatchObject(whole ? none : cut);
        expect(back.address).toBe(address);
      }),
      { numRuns: 300 },
    );
  });
});
