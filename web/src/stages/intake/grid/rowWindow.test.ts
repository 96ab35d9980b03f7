import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { heightFor, ROW, scrollFor, windowAt } from "./rowWindow";

const table = fc.tuple(fc.integer({ min: 1, max: 100_000_000 }), fc.integer({ min: 100, max: 2_000 }));

describe("the window on the rows of a grid", () => {
  it("shows as many rows as there is room for, none twice, none beyond the last", () => {
    fc.assert(
      fc.property(table, fc.double({ min: 0, max: 1, noNaN: true }), ([n, room], share) => {
        const scrolled = share * Math.max(heightFor(n) - room, 0);
        const { first, last, top } = windowAt(n, scrolled, room);
        expect(first).toBeGreaterThanOrEqual(0);
        expect(last).toBeLessThanOrEqual(n);
        expect(last).toBeGreaterThan(first);
        expect(top).toBeLessThanOrEqual(scrolled + 1e-6);
        // What is drawn covers what is seen.
        if (n * ROW > room) expect(top + (last - first) * ROW).toBeGreaterThanOrEqual(scrolled + room - ROW - 1e-6);
      }),
    );
  });

  it("meets the first row at the top and the last at the bottom, however many there are", () => {
    for (const n of [50, 400_000, 1_000_000, 100_000_000]) {
      expect(windowAt(n, 0, 600).first).toBe(0);
      expect(windowAt(n, heightFor(n) - 600, 600).last).toBe(n);
    }
    expect(heightFor(100_000_000)).toBeLessThan(33_000_000);
  });

  it("scrolls a row into view and no further than needed", () => {
    fc.assert(
      fc.property(table, fc.double({ min: 0, max: 1, noNaN: true }), fc.nat(), ([n, room], share, any) => {
        const place = any % n;
        const scrolled = share * Math.max(heightFor(n) - room, 0);
        const to = scrollFor(n, place, scrolled, room);
        const { first, last } = windowAt(n, Math.max(to, 0), room);
        expect(place).toBeGreaterThanOrEqual(first - 1);
        expect(place).toBeLessThanOrEqual(last);
        expect(scrollFor(n, place, to, room)).toBeCloseTo(to, 3);
      }),
    );
  });
});
