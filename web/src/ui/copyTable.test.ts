import fc from "fast-check";
import { describe, expect, it } from "vitest";
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
