import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { aired, linear } from "./scales";

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

  it("leaves air, also about one value and at the largest number", () => {
    expect(aired(0, 100)).toEqual([-2, 102]);
    expect(aired(3, 3)).toEqual([2.5, 3.5]);
    expect(aired(1e16, 1e16)[0]).toBeLessThan(1e16);
    expect(aired(-Number.MAX_VALUE, Number.MAX_VALUE)).toEqual([-Number.MAX_VALUE, Number.MAX_VALUE]);
  });
});
