import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Scene } from "../../api/plates";
import { nth } from "../../values";
import { linesOf, shareAt, valueAt } from "./cumulative";

const values = fc.array(fc.double({ min: -1e6, max: 1e6, noNaN: true }), { minLength: 1, maxLength: 40 });

/** The picture of steps at each value, or of a polygon, as the server sends it. */
function lineOf(role: "steps" | "polygon", spots: [number, number][], atLeast = false) {
  const [x, y] = [0, 1].map((i) => Float64Array.from(spots, (spot) => nth(spot, i)));
  const scene = { layers: [{ role, x, y }], facts: { n: [["", 40]] }, up: { unit: "%" } };
  return nth(linesOf(scene as unknown as Scene, atLeast), 0);
}
const stepsOf = (all: number[]) => {
  const sorted = [...new Set(all)].sort((a, b) => a - b);
  const share = (x: number) => (100 * all.filter((value) => value <= x).length) / all.length;
  return lineOf(
    "steps",
    sorted.flatMap((x, i): [number, number][] => [
      [x, i === 0 ? 0 : share(nth(sorted, i - 1))],
      [x, share(x)],
    ]),
  );
};

describe("shares that lie below", () => {
  it("count the values strictly below x", () => {
    fc.assert(
      fc.property(values, fc.double({ min: -1e6, max: 1e6, noNaN: true }), (all, x) => {
        const result = shareAt(stepsOf(all), x);
        expect(result).toBeCloseTo(all.filter((value) => value < x).length / all.length, 12);
      }),
    );
  });

  it("are cut off by the smallest value with so large a share", () => {
    fc.assert(
      fc.property(values, fc.double({ min: 0.01, max: 1, noNaN: true }), (all, share) => {
        const sorted = [...all].sort((a, b) => a - b);
        const place = Math.ceil(share * all.length - 1e-9) - 1;
        expect(valueAt(stepsOf(all), share)).toBeCloseTo(nth(sorted, Math.max(place, 0)), 9);
      }),
    );
  });

  it("rise evenly within a class, and fall where rows at or above are shown", () => {
    const spots: [number, number][] = [
      [0, 10],
      [10, 50],
      [30, 90],
    ];
    const line = lineOf("polygon", spots);
    const falling = lineOf(
      "polygon",
      spots.map(([x, y]) => [x, 100 - y]),
      true,
    );
    const shares = { 0: 0.1, 5: 0.3, 10: 0.5, 25: 0.8, 30: 0.9 };
    for (const [x, share] of Object.entries(shares)) {
      expect(shareAt(line, Number(x))).toBeCloseTo(share, 12);
      expect(valueAt(line, share)).toBeCloseTo(Number(x), 9);
      expect(shareAt(falling, Number(x))).toBeCloseTo(1 - share, 12);
      expect(valueAt(falling, 1 - share)).toBeCloseTo(Number(x), 9);
    }
    expect([shareAt(line, -1), shareAt(line, 99)]).toEqual([0, 0.9]);
  });
});
