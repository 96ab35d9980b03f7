import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Classes } from "../../api/readings";
import { empiricalOf, polygonOf, shareBelow, valueAt } from "./cumulative";

const values = fc.array(fc.double({ min: -1e6, max: 1e6, noNaN: true }), { minLength: 1, maxLength: 40 });

describe("shares that lie below", () => {
  it("count the values up to and with x", () => {
    fc.assert(
      fc.property(values, fc.double({ min: -1e6, max: 1e6, noNaN: true }), (all, x) => {
        const found = shareBelow(empiricalOf(all), x);
        expect(found).toBeCloseTo(all.filter((value) => value <= x).length / all.length, 12);
      }),
    );
  });

  it("are cut off by the smallest value with so large a share", () => {
    fc.assert(
      fc.property(values, fc.double({ min: 0.01, max: 1, noNaN: true }), (all, share) => {
        const sorted = Float64Array.from(all).sort();
        const place = Math.ceil(share * all.length - 1e-9) - 1;
        expect(valueAt(empiricalOf(all), share)).toBe(sorted[Math.max(place, 0)]);
      }),
    );
  });

  it("rise evenly within a class, and count what lies outside on its side", () => {
    const classes = { n: 10, below: 1, boundaries: [0, 10, 30], cumulative_counts: [4, 8] } as unknown as Classes;
    const line = polygonOf(classes);
    const shares = { 0: 0.1, 5: 0.3, 10: 0.5, 25: 0.8, 30: 0.9 };
    for (const [x, share] of Object.entries(shares)) {
      expect(shareBelow(line, Number(x))).toBeCloseTo(share, 12);
      expect(valueAt(line, share)).toBeCloseTo(Number(x), 9);
    }
    expect([shareBelow(line, -1), shareBelow(line, 99)]).toEqual([0, 0.9]);
  });
});
