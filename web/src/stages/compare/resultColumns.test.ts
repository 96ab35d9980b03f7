// @vitest-environment jsdom
import { describe, expect, it } from "vitest";
import type { Table } from "../../api/studies";
import { answers } from "../../testing/answers";
import { nth } from "../../values";
import { columnsOf, looksLikeResults } from "./resultColumns";
import { readCompare } from "./useCompareChoices";

const number = nth(answers.table.variables, 0);
const word = answers.table.variables.find(({ symbol }) => symbol === "tray_type");

/** A table of so many rows with columns of these names; those in capitals hold words. */
function table(n_rows: number, ...names: string[]): Table {
  const variables = names.map((name) => {
    const words = name === name.toUpperCase();
    return {
      ...(words ? word : number),
      symbol: name.toLowerCase(),
      label: name.toLowerCase(),
      n_levels: n_rows,
    } as typeof number;
  });
  return { ...answers.table, n_rows, variables };
}
const usual = (result: Table, address = "") => columnsOf(result, readCompare(new URLSearchParams(address)));

describe("a table of results", () => {
  it("is known by the names of its columns", () => {
    expect(looksLikeResults(table(14, "TRIAL", "ratio", "lower", "upper"))).toBe(true);
    expect(looksLikeResults(table(14, "TRIAL", "mean", "sd"))).toBe(true);
    expect(looksLikeResults(table(400, "TRIAL", "ratio", "lower", "upper"))).toBe(false);
    expect(looksLikeResults(table(14, "TRIAL", "length", "width"))).toBe(false);
  });

  it("has two limits, or widths of which each belongs to its estimate", () => {
    const two = usual(table(14, "TRIAL", "ratio", "lower", "upper"));
    expect(two).toEqual({ of: ["ratio"], how: "two", limits: ["lower", "upper"], label: "trial" });
    const blocks = usual(table(9, "SITE", "spring mean", "autumn mean", "spring sd", "autumn sd"));
    expect(blocks).toMatchObject({
      ...{ of: ["spring mean", "autumn mean"], how: "width", limits: ["spring sd", "autumn sd"], label: "site" },
    });
  });

  it("is read as it was chosen", () => {
    const result = table(14, "TRIAL", "ratio", "lower", "upper");
    expect(usual(result, "of=upper&ends=none&label=none")).toEqual({
      of: ["upper"],
      how: "none",
      limits: [],
      label: "",
    });
    expect(usual(result, "of=nowhere").of).toEqual(["ratio"]);
  });
});
