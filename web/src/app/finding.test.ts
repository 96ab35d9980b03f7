import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { found, isOneOff, match } from "./finding";
import { FUNCTIONS as OF_TABLES, studyFunctions } from "./functions";

const FUNCTIONS = [...OF_TABLES, ...studyFunctions("s")];
const first = (typed: string) => found(FUNCTIONS, typed, [])[0]?.label;

describe("finding", () => {
  it("knows functions by the names that people have for them", () => {
    expect(first("bin")).toBe("Classes of a histogram");
    expect(first("whisker")).toBe("Whiskers of a box plot");
    expect(first("qq")).toBe("Q-Q plot");
    expect(first("boxplot")).toBe("Box plot");
    expect(first("jitter")).toBe("Scatter of points");
    expect(first("error bar")).toBe("Bars of groups");
    expect(first("simulate")).toBe("Simulate a table");
    expect(first("export")).toMatch(/Download|package|Report/i);
    expect(first("delete rows")).toBe("Set rows aside");
    expect(first("log")).toBe("Logarithm of a variable");
    expect(first("pivot")).toBe("Rearrange a table");
    expect(first("help")).toBe("Help");
  });
  it("forgives one letter", () => {
    for (const typed of ["histgram", "histogrm", "hsitogram", "histogramm", "corelation", "outleir", "violn"])
      expect(found(FUNCTIONS, typed, []).length, typed).toBeGreaterThan(0);
    expect(isOneOff("abcd", "abxd")).toBe(true);
    expect(isOneOff("abcd", "wxyz")).toBe(false);
  });
  it("asks for every word", () => {
    expect(match("box zebra", { label: "Box plot", note: "" })).toBe(0);
  });
  it("shows what was used last first, and everything", () => {
    const things = ["a", "b", "c"].map((label) => ({ label, note: "" }));
    expect(found(things, "", ["c"]).map(({ label }) => label)).toEqual(["c", "a", "b"]);
  });
  it("finds each thing by its own name", () => {
    fc.assert(
      fc.property(fc.constantFrom(...FUNCTIONS), (thing) => {
        expect(found(FUNCTIONS, thing.label, []).slice(0, 3)).toContain(thing);
      }),
    );
  });
});
