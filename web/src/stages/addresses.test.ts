// @vitest-environment jsdom
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { answers } from "../testing/answers";
import { readCompare } from "./compare/useCompareChoices";
import { readRelate } from "./relate/useRelateChoices";
import { otherWays, power, recipeAddress, wayIn } from "./rescale/ways";
import { readScreen } from "./screen/useScreenChoices";
import { ANOTHER_VARIABLE, readSpread, setsNoClasses } from "./spread/useSpreadChoices";

const READERS = { spread: readSpread, compare: readCompare, relate: readRelate, screen: readScreen };
const of = (text: string) => new URLSearchParams(text);

describe("an address is read", () => {
  it("whatever stands in it: what is no choice becomes the usual one", () => {
    const names = Object.keys({
      ...{ as: 0, by: 0, layers: 0, rule: 0, count: 0, width: 0, boundaries: 0, closed: 0, bandwidth: 0, slip: 0 },
      ...{ centre: 0, bars: 0, level: 0, low: 0, high: 0, trim: 0, marks: 0, points: 0, violin: 0, hand: 0, hidden: 0 },
      ...{
        form: 0,
        sparse: 0,
        opacity: 0,
        window: 0,
        lines: 0,
        bands: 0,
        xs: 0,
        rules: 0,
        mode: 0,
        plot: 0,
        measure: 0,
      },
    });
    const text = fc.oneof(
      fc.string(),
      fc.double().map(String),
      fc.constantFrom("1e999", "-1", "NaN", "null", "0 0 0 0"),
    );
    const queries = fc.array(fc.tuple(fc.constantFrom(...names), text), { maxLength: 6 });
    for (const [stage, read] of Object.entries(READERS)) {
      const usual = Object.keys(read(of("")));
      fc.assert(
        fc.property(queries, (pairs) => {
          const result = read(new URLSearchParams(pairs));
          expect(Object.keys(result), stage).toEqual(usual);
          for (const value of Object.values(result))
            if (typeof value === "number") expect(Number.isNaN(value)).toBe(false);
        }),
      );
    }
  });

  it("classes by rule, number, width or boundaries, one at a time", () => {
    expect(readSpread(of("rule=sturges&closed=right")).classes).toMatchObject({ rule: "sturges", closed: "right" });
    expect(readSpread(of("boundaries=30+40+55")).classes.boundaries).toEqual([30, 40, 55]);
    expect(readSpread(of("boundaries=30+x")).classes.boundaries).toBeUndefined();
    const none = readSpread(of("")).classes;
    for (const typed of ["count=12", "width=2.5&start=0", "rule=scott", "boundaries=1+2"]) {
      const query = of(typed);
      expect(readSpread(query).classes).not.toEqual(none);
      for (const name of Object.keys(setsNoClasses)) query.delete(name);
      expect(readSpread(query).classes).toEqual(none);
    }
    expect(Object.keys(ANOTHER_VARIABLE)).toEqual(expect.arrayContaining(Object.keys(setsNoClasses)));
  });

  it("a window of pairs only where its ends are in order", () => {
    expect(readRelate(of("window=20+80+1+60")).window).toEqual([20, 80, 1, 60]);
    for (const odd of ["80+20+1+60", "1+2+3", "a+b+c+d", ""]) expect(readRelate(of(`window=${odd}`)).window).toBeNull();
  });

  it("bars only where they suit the centre", () => {
    expect(readCompare(of("centre=median&bars=se")).bars).not.toBe("se");
    expect(readCompare(of("centre=mean&bars=se")).bars).toBe("se");
    expect(readCompare(of("low=90&high=10")).percents).toEqual([5, 95]);
  });

  it("a way of rescaling as it was written", () => {
    const [mass, tray] = ["shell_mass", "tray_type"].map((symbol) =>
      answers.table.variables.find((variable) => variable.symbol === symbol),
    );
    if (!mass || !tray) throw new Error("no such variable");
    for (const { way } of otherWays(answers.table, mass)) {
      expect(wayIn(JSON.stringify(way))).toEqual(way);
      const made = { ...mass, recipe: { ...way, of: ["shell_mass"], label: "x", unit: "g" } };
      const query = new URL(recipeAddress(answers.table, made), "http://x").searchParams;
      expect([query.get("variable"), wayIn(query.get("way")), query.get("instead")]).toEqual([
        "shell_mass",
        way,
        mass.symbol,
      ]);
    }
    expect([wayIn(null), wayIn("{"), wayIn("7"), wayIn("{}")]).toEqual(Array(4).fill(power(0)));
    const recoded = { ...tray, recipe: { how: "recode", of: "tray_type", label: "y", unit: "", labels: {} } };
    expect(recipeAddress(answers.table, recoded)).toBe("/tables/nursery/spread?variable=tray_type&recode=tray_type");
  });
});
