import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { largestApart, spreadApart } from "./spreadApart";

const places = fc.array(fc.double({ min: 0, max: 300, noNaN: true }), { maxLength: 120 });

describe("points set apart", () => {
  it("lie none over another, and inside their room", () => {
    fc.assert(
      fc.property(places, fc.double({ min: 0.5, max: 4, noNaN: true }), (along, radius) => {
        const off = spreadApart(along, radius, 160);
        if (!off) return;
        for (let i = 0; i < along.length; i++) {
          expect(Math.abs(off[i] as number)).toBeLessThanOrEqual(80 - radius + 1e-9);
          for (let j = 0; j < i; j++) {
            const [dx, dy] = [(off[i] as number) - (off[j] as number), (along[i] as number) - (along[j] as number)];
            expect(Math.hypot(dx, dy)).toBeGreaterThanOrEqual(2 * radius - 1e-9);
          }
        }
      }),
    );
  });

  it("stand in the middle where there is room, and nowhere where there is none", () => {
    expect(Array.from(spreadApart([0, 100, 200], 2, 50) ?? [])).toEqual([0, 0, 0]);
    expect(spreadApart([1, 1, 1, 1, 1, 1, 1], 2, 12)).toBeNull();
    expect(spreadApart([], 5, 2)).toEqual(new Float64Array());
    expect(largestApart([{ along: [1, 1, 1], room: 100 }])?.radius).toBe(2.4);
  });
});
