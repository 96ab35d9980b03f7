import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { writeNumbersAs } from "../words/numbers";
import { csvOf } from "./copyTable";

/** The cells of a CSV text whose cells hold no line end. */
const cellsOf = (csv: string) =>
  csv
    .split("\r\n")
    .slice(0, -1)
    .map((line) =>
      [...line.matchAll(/(?:^|,)(?:"((?:[^"]|"")*)"|([^,]*))/g)].map(([, a, b]) => (a ?? b ?? "").replace(/""/g, '"')),
    );

describe("a table that is taken", () => {
  it("comes as CSV with hyphens for minus and closed thousands", () => {
    const csv = csvOf({
      head: ["group", "mean"],
      body: [
        ["a, b", "−12\u202f345.6"],
        ['say "x"', "−0.5 to 1.2"],
      ],
    });
    expect(csv).toBe('group,mean\r\n"a, b",-12345.6\r\n"say ""x""",-0.5 to 1.2\r\n');
  });

  it("comes as CSV with points whatever marks numbers have on the screen", () => {
    writeNumbersAs("point-comma");
    expect(csvOf({ head: ["a"], body: [["−12.345,60"], ["1,5 to 2,5"], ["in 1,5, 2"]] })).toBe(
      'a\r\n-12345.60\r\n1.5 to 2.5\r\n"in 1,5, 2"\r\n',
    );
    writeNumbersAs("space-point");
  });

  it("leaves no cell that a spreadsheet would run", () => {
    for (const evil of ["=1+1", "+cmd", "-2+3", "@x", "\t=1", "'=1", "\uff1d1"])
      expect(cellsOf(csvOf({ head: ["x"], body: [[evil]] }))[1]?.[0]).toBe(`'${evil}`);
    fc.assert(
      fc.property(fc.stringMatching(/^[=+@'\-a1. ,"]{0,8}$/), (text) => {
        const [cell = ""] = cellsOf(csvOf({ head: ["x"], body: [[text]] }))[1] ?? [];
        expect(/^[=@]|^[+-].*[=+@"a,']/.test(cell)).toBe(false);
      }),
    );
  });
});
