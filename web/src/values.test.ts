import { describe, expect, it } from "vitest";
import { choicesOf, eachOf, last, listIn, nth, ordered } from "./values";

describe("readers of arrays", () => {
  it("give what is there, and say what is not", () => {
    expect([nth([4, 5], 1), last(Float64Array.of(1, 2)), nth([undefined], 0)]).toEqual([5, 2, undefined]);
    expect(() => nth([4, 5], 2)).toThrow("There is no place 2 among 2.");
    expect(() => last([])).toThrow(RangeError);
    expect(() => nth([4], 0.5)).toThrow(RangeError);
  });

  it("keep how many there are", () => {
    const [a, b]: [string, string] = eachOf([1, 2], (value, i) => `${value + i}`);
    expect([a, b, ...ordered(3, -1)]).toEqual(["1", "3", -1, 3]);
    expect(choicesOf({ up: "upright", along: "lying" })).toEqual([
      { value: "up", label: "upright" },
      { value: "along", label: "lying" },
    ]);
    expect([listIn(["x"]), listIn("x"), listIn(null)]).toEqual([["x"], [], []]);
  });
});
