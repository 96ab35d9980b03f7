import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { aired, airedLog, linear, logarithmic, ticksOf } from "./scales";

const finite = fc.double({ noNaN: true, noDefaultInfinity: true });
const moderate = fc.double({ min: -1e12, max: 1e12, noNaN: true });

describe("scales", () => {
  it("carries the ends of a domain to the ends of its range, at any size", () => {
    fc.assert(
      fc.property(finite, finite, (a, b) => {
        const [low, high] = aired(Math.min(a, b), Math.max(a, b));
        if (!(low < high)) return;
        const scale = linear([low, high], 10, 410);
        expect(scale(low)).toBeCloseTo(10, 6);
        expect(scale(high)).toBeCloseTo(410, 6);
        // The middle of the smallest numbers is no number.
        if (high - low > 1e-300) expect(scale(low / 2 + high / 2)).toBeCloseTo(210, 6);
      }),
    );
  });

  it("inverts what it placed", () => {
    fc.assert(
      fc.property(moderate, fc.double({ min: 1e-3, max: 1e9, noNaN: true }), (low, span) => {
        const scale = linear([low, low + span], 0, 800);
        for (const share of [0, 0.25, 1]) {
          const value = low + share * span;
          expect(Math.abs(scale.invert(scale(value)) - value)).toBeLessThanOrEqual(1e-6 * (span + Math.abs(low)));
        }
      }),
    );
  });

  it("puts ticks at rising round values inside, written so that no two read alike", () => {
    fc.assert(
      fc.property(moderate, fc.double({ min: 1e-2, max: 1e9, noNaN: true }), (low, span) => {
        if (span < 1e-6 * Math.abs(low)) return;
        const ticks = ticksOf(linear([low, low + span], 0, 600), 8);
        const values = ticks.map(({ value }) => value);
        expect(values).toEqual([...values].sort((a, b) => a - b));
        for (const value of values) {
          expect(value).toBeGreaterThanOrEqual(low - 1e-9 * span);
          expect(value).toBeLessThanOrEqual(low + span + 1e-9 * span);
        }
        if (low > -1e8 && low + span < 1e8) expect(new Set(ticks.map(({ text }) => text)).size).toBe(ticks.length);
      }),
    );
  });

  it("writes ticks with the decimals of their step", () => {
    const texts = (low: number, high: number) => ticksOf(linear([low, high], 0, 100), 5).map(({ text }) => text);
    expect(texts(0, 1)).toEqual(["0.0", "0.2", "0.4", "0.6", "0.8", "1.0"]);
    expect(texts(-10, 10)).toEqual(["−10", "−5", "0", "5", "10"]);
    expect(texts(0, 100_000).at(-1)).toBe("100\u202f000");
  });

  it("has powers of ten for ticks on a log scale, and equal ratios in equal steps", () => {
    const scale = logarithmic([1, 10_000], 0, 400);
    expect(scale.ticks(10)).toEqual([1, 10, 100, 1000, 10_000]);
    expect(scale(100) - scale(10)).toBeCloseTo(scale(1000) - scale(100), 9);
    expect(logarithmic([1, 100], 0, 100).ticks(10)).toEqual([1, 2, 5, 10, 20, 50, 100]);
  });

  it("leaves air, also about one value and at the largest number", () => {
    expect(aired(0, 100)).toEqual([-2, 102]);
    expect(aired(3, 3)).toEqual([2.5, 3.5]);
    expect(aired(1e16, 1e16)[0]).toBeLessThan(1e16);
    expect(aired(-Number.MAX_VALUE, Number.MAX_VALUE)).toEqual([-Number.MAX_VALUE, Number.MAX_VALUE]);
    expect(airedLog(1, 100, 0.5)).toEqual([expect.closeTo(0.1), expect.closeTo(1000)]);
  });
});
