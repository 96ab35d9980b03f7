// @vitest-environment jsdom
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Panel, Source } from "../../api/plates";
import { answers } from "../../testing/answers";
import { keysOf, nth } from "../../values";
import { type Beside, plateAt } from "../plates/keeping";
import { screenAddress } from "./address";
import { DIAGNOSTICS, MEASURES, RULES, STATISTICS } from "./useScreenChoices";

const { table } = answers;
const of = { table: fc.constant(table.id) };
const variable = fc.constantFrom("shell_length", "shell_mass");
const maybe = <T>(one: fc.Arbitrary<T>) => fc.option(one, { nil: undefined });
const rules = fc.record({
  kind: fc.constant("rules"),
  ...of,
  variable,
  rules: fc.subarray(keysOf(RULES)),
  by: fc.constantFrom("", "tray_type"),
  form: fc.constant("lanes"),
  reach: maybe(fc.constantFrom(3, 0)),
  suspects: maybe(fc.constant(4)),
  level: maybe(fc.constant(0.01)),
  quantile_definition: maybe(fc.constant("hinges")),
});
const leftOut = fc.record({
  kind: fc.constant("left-out"),
  ...of,
  variable,
  statistic: fc.constantFrom(...keysOf(STATISTICS)),
});
const distances = fc.record({
  kind: fc.constant("distances"),
  ...of,
  variables: fc.constantFrom(["shell_length", "shell_mass"], ["shell_mass", "shell_width", "shell_length"]),
});
const influence = fc.record({
  kind: fc.constant("influence"),
  ...of,
  response: fc.constant("shell_mass"),
  predictors: fc.constantFrom(["shell_length"], ["shell_length", "tray_type"]),
  product: fc.constantFrom([], ["shell_length", "tray_type"]),
  view: fc.constantFrom(...keysOf(DIAGNOSTICS), "fit"),
  row_measure: fc.constantFrom(...keysOf(MEASURES)),
  coefficient: fc.nat(4),
});
const bare = (source: object) => Object.fromEntries(Object.entries(source).filter(([, value]) => value !== undefined));

function panelAt(address: string, beside?: Beside) {
  const [pathname = "", search = ""] = address.split("?");
  const result = plateAt(pathname, `?${search}`, table, beside);
  if (typeof result === "string") throw new Error(result);
  return nth(result.panels, 0);
}

describe("an address of Screen holds all that was chosen", () => {
  it("and a panel comes back from its address as it was", () => {
    fc.assert(
      fc.property(fc.oneof(rules, leftOut, distances, influence), (source) => {
        const address = screenAddress({ source: source as unknown as Source } as Panel) ?? "";
        const back = panelAt(address, "view" in source && source.view === "fit" ? "fit" : undefined);
        // A plot beside another keeps which one that is.
        const other = "view" in source && source.view === "fit";
        expect(other ? { ...back.source, view: "fit" } : back.source).toEqual(bare(source));
        expect(back.address).toBe(address);
      }),
      { numRuns: 200 },
    );
  });
});
