import { describe, expect, it } from "vitest";
import { jitter } from "./jitter";

describe("the place of a row that is spread out", () => {
  it("is its own, the same at each look, and anywhere with equal chance", () => {
    const places = Array.from({ length: 20_000 }, (_, row) => jitter(row + 1));
    expect(places.slice(0, 100)).toEqual(Array.from({ length: 100 }, (_, row) => jitter(row + 1)));
    expect(Math.min(...places)).toBeGreaterThanOrEqual(-1);
    expect(Math.max(...places)).toBeLessThanOrEqual(1);
    const tenths = Array.from({ length: 10 }, () => 0);
    for (const place of places) {
      const tenth = Math.min(Math.floor((place + 1) * 5), 9);
      tenths[tenth] = (tenths[tenth] ?? 0) + 1;
    }
    // 2,000 in each, give or take six SDs.
    for (const count of tenths) expect(Math.abs(count - 2_000)).toBeLessThan(6 * Math.sqrt(2_000 * 0.9));
    const neighbours = places.slice(1).reduce((sum, place, i) => sum + place * (places[i] ?? 0), 0);
    expect(Math.abs(neighbours / places.length)).toBeLessThan(0.02);
  });
});
