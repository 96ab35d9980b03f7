// @vitest-environment jsdom
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { DIFFERENCE_SCALES } from "../../api/choices.gen";
import type { Panel, Source } from "../../api/plates";
import { answers } from "../../testing/answers";
import { keysOf, nth } from "../../values";
import { plateAt } from "../plates/keeping";
import { relateAddress } from "./address";
import { BANDS, FORMS, JOINS, LINES, MARGINS, SCALES, SHADES, WIDTH_RULES } from "./useRelateChoices";

const { table } = answers;
const share = fc.constantFrom(0, 1, 0.25);
const width = fc.constantFrom(null, 0.3, 12);
const axis = fc.constantFrom("linear", "log");
const scale = fc.constantFrom(...keysOf(SCALES));
const pair = {
  kind: fc.constant("pair"),
  table: fc.constant(table.id),
  y: fc.constant("shell_mass"),
  x: fc.constantFrom("shell_length", "day"),
  size: fc.constantFrom("", "week"),
  jitter_x: share,
  jitter_y: share,
  across: fc.constantFrom(12, 40, 120),
  aspect: fc.constantFrom(0.7, 1),
  width_rule: fc.constantFrom(...keysOf(WIDTH_RULES)),
  width_x: width,
  width_y: width,
  grid: fc.constantFrom(200, 64),
  sparse: fc.constantFrom(0, 250),
  shade: fc.constantFrom(...keysOf(SHADES)),
  x_axis: axis,
  y_axis: axis,
  joined: fc.constantFrom("no", ...keysOf(JOINS)),
  each: fc.boolean(),
  bars_x: fc.constantFrom([], ["shell_width"]),
  bars_y: fc.constantFrom([], ["week"], ["week", "shell_width"]),
  x_scale: scale,
  y_scale: scale,
  span: fc.constantFrom(0.67, 0.3),
  level: fc.constantFrom(0.95, 0.9),
  bands: fc.constantFrom(...keysOf(BANDS)),
  equation: fc.boolean(),
  margins: fc.constantFrom(...keysOf(MARGINS)),
  plot: fc.constant("pairs"),
};
const alone = fc.record({
  ...pair,
  also: fc.constant([]),
  by: fc.constantFrom("", "tray_type"),
  shown: fc.constantFrom(...keysOf(FORMS)),
  lines: fc.subarray(keysOf(LINES)),
});
const several = fc.record({
  ...pair,
  also: fc.constantFrom(["shell_width"], ["shell_width", "week"]),
  by: fc.constant(""),
  shown: fc.constant("points"),
  lines: fc.constant([]),
});
const window = fc.constantFrom(null, [10, 20.5, -3, 1e6]);
const opacity = fc.constantFrom(null, 0.25);

function panelsAt(address: string) {
  const [pathname = "", search = ""] = address.split("?");
  const result = plateAt(pathname, `?${search}`, table);
  if (typeof result === "string") throw new Error(result);
  return result.panels;
}

describe("an address of Relate holds all that was chosen", () => {
  it("and a panel comes back from its address as it was", () => {
    fc.assert(
      fc.property(fc.oneof(alone, several), window, opacity, fc.boolean(), (chosen, ends, opaque, rest) => {
        const [x0, x1, y0, y1] = ends ?? [null, null, null, null];
        const source = {
          ...chosen,
          window: chosen.shown === "cells" && ends ? ends : [],
          // Bars belong to points, along numbers, and to one variable.
          bars_x: chosen.shown === "points" && chosen.x !== "day" ? chosen.bars_x : [],
          bars_y: chosen.shown === "points" && chosen.also.length === 0 ? chosen.bars_y : [],
        };
        const left = rest && (source.lines as string[]).includes("least-squares");
        const panel = {
          source: { ...source, plot: left ? "residuals" : "pairs" } as unknown as Source,
          across: { low: x0, high: x1 },
          up: { low: y0, high: y1 },
          marks: opaque === null ? {} : { points: { opacity: opaque } },
        };
        const address = relateAddress(panel as unknown as Panel) ?? "";
        const first = { ...panel, source } as unknown as Panel;
        expect(relateAddress(first, [first, panel as unknown as Panel])).toBe(address);
        const back = panelsAt(address);
        expect(nth(back, 0)).toMatchObject({ ...panel, source, address });
        expect(back.length).toBe(left ? 2 : 1);
        const { up: _, ...below } = panel;
        if (left) expect(nth(back, 1)).toMatchObject({ ...below, address });
      }),
      { numRuns: 200 },
    );
  });

  it("of agreement too", () => {
    const agreement = fc.record({
      kind: fc.constant("agreement"),
      table: fc.constant(table.id),
      x: fc.constant("shell_length"),
      y: fc.constant("shell_mass"),
      scale: fc.constantFrom(...keysOf(DIFFERENCE_SCALES)),
      margin: fc.constantFrom(null, 1.5),
      level: fc.constantFrom(0.95, 0.9),
    });
    fc.assert(
      fc.property(agreement, (source) => {
        const ends = { low: null, high: null };
        const address = relateAddress({ source, across: ends, up: ends, marks: {} } as unknown as Panel) ?? "";
        expect(panelsAt(address)).toMatchObject([{ source, address }]);
      }),
    );
  });
});
