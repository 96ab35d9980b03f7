import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { AxisSettings, SceneAxis } from "../api/plates";
import type { NumberStyle } from "../words/numbers";
import { axisOf, endsOf } from "./axis";

const scene = (said: Partial<SceneAxis>) =>
  ({ kind: "number", scale: "linear", low: 0, high: 10, levels: [], foot: null, above_zero: 1, ...said }) as SceneAxis;
const own = (said: Partial<AxisSettings> = {}) => ({ minor: 0, format: "plain", ...said }) as AxisSettings;
const texts = (axis: SceneAxis, settings: AxisSettings, style: NumberStyle = "space-point", length = 200) =>
  axisOf(axis, settings, 0, length, style).ticks.map(({ text }) => text);

describe("an axis of a plate", () => {
  it("inverts what it places, broken or whole, on every scale", () => {
    const scales = fc.constantFrom("linear", "log10", "log2");
    fc.assert(
      fc.property(scales, fc.boolean(), fc.double({ min: 0, max: 1, noNaN: true }), (scale, broken, share) => {
        const gap = broken ? { gap_from: 20, gap_to: 60 } : {};
        const axis = axisOf(
          scene({ low: 1, high: 100 }),
          own({ scale: scale as AxisSettings["scale"], ...gap }),
          300,
          20,
          "space-point",
        );
        const value = 1 + 99 * share;
        expect(axis.invert(axis.place(value))).toBeCloseTo(value, 6);
        expect(axis.place(value)).toBeGreaterThanOrEqual(20 - 1e-6);
        expect(axis.place(value)).toBeLessThanOrEqual(300 + 1e-6);
      }),
    );
  });

  it("has ticks that rise, lie inside, and are written apart", () => {
    fc.assert(
      fc.property(
        fc.double({ min: -1e6, max: 1e6, noNaN: true }),
        fc.double({ min: 0.01, max: 1e6, noNaN: true }),
        (low, span) => {
          const { ticks } = axisOf(scene({ low, high: low + span }), own(), 0, 240, "space-point");
          const values = ticks.map(({ value }) => value);
          expect(values).toEqual([...values].sort((a, b) => a - b));
          for (const value of values) {
            expect(value).toBeGreaterThanOrEqual(low - 1e-6 * span);
            expect(value).toBeLessThanOrEqual(low + span * 1.000001);
          }
          if (span > 1e-6 * Math.abs(low)) expect(new Set(ticks.map(({ text }) => text)).size).toBe(ticks.length);
        },
      ),
    );
  });

  it("writes percents, thousands, powers and the decimals that were asked for", () => {
    expect(texts(scene({ high: 1 }), own({ format: "percent", every: 0.5 }))).toEqual([
      "0\u202f%",
      "50\u202f%",
      "100\u202f%",
    ]);
    expect(texts(scene({ high: 20_000 }), own({ every: 10_000 }))).toEqual(["0", "10\u202f000", "20\u202f000"]);
    expect(texts(scene({ high: 2 }), own({ every: 1, decimals: 2 }))).toEqual(["0", "1.00", "2.00"]);
    expect(texts(scene({ high: 2 }), own({ every: 1, decimals: 1 }), "point-comma")).toEqual(["0", "1,0", "2,0"]);
    expect(texts(scene({ high: 20_000 }), own({ every: 10_000 }), "point-comma")).toEqual(["0", "10.000", "20.000"]);
    expect(texts(scene({ low: 1, high: 1e6, scale: "log10" }), own()).at(-1)).toBe("10^{6}");
    expect(texts(scene({ kind: "levels", low: -0.6, high: 1.6, levels: ["a", "b"] }), own())).toEqual(["a", "b"]);
  });

  it("leaves out what lies in a gap, and takes ends that cannot be as they follow from the data", () => {
    const axis = axisOf(scene({ high: 100 }), own({ gap_from: 25, gap_to: 75 }), 0, 300, "space-point");
    for (const { value } of axis.ticks) expect(value <= 25 || value >= 75).toBe(true);
    expect(endsOf(scene({}), own({ low: 5, high: 2 }))).toEqual([0, 10]);
    expect(endsOf(scene({ low: -5, above_zero: 0.11, scale: "log10" }), own())[0]).toBeCloseTo(0.1);
  });
});
