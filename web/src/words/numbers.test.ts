import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  cellShown,
  cellTyped,
  counted,
  decimalsFor,
  exact,
  fixed,
  listTyped,
  percent,
  pValue,
  readNumber,
  readNumbers,
  STYLE_NAMES,
  significant,
  typed,
  unitless,
  whole,
  writeNumbersAs,
} from "./numbers";

/** A number from how it is written. */
const read = (text: string) =>
  Number(
    text
      .replace(/\u2212/g, "-")
      .replace(/\u202f/g, "")
      .replace(/ × 10(.*)$/, (_, power: string) => {
        const digits = [...power].map((sign) => (sign === "⁻" ? "-" : "⁰¹²³⁴⁵⁶⁷⁸⁹".indexOf(sign)));
        return `e${digits.join("")}`;
      }),
  );

describe("numbers in words", () => {
  it("writes true minus, thin spaces and powers of ten", () => {
    expect(fixed(-1234.5, 1)).toBe("−1234.5");
    expect(fixed(-12345.67, 1)).toBe("−12\u202f345.7");
    expect(fixed(-0.0004, 2)).toBe("0.00");
    expect(fixed(2.5e-9, 2)).toBe("2.500 × 10⁻⁹");
    expect(fixed(-6.02e23, 0)).toBe("−6.020 × 10²³");
    expect(whole(1_000_000)).toBe("1\u202f000\u202f000");
    expect(exact(-0.1)).toBe("−0.1");
  });

  it("keeps significant digits, and no tail of zeros", () => {
    expect(significant(0)).toBe("0");
    expect([unitless(2.07e-16), unitless(-0.0312)]).toEqual(["0", "\u22120.031"]);
    expect(significant(12.3456)).toBe("12.3");
    expect(significant(1.5, 4)).toBe("1.5");
    expect(significant(123_456)).toBe("123\u202f456");
    expect(significant(0.000123456, 3)).toBe("0.000123");
  });

  it("reads back as near as its digits say", () => {
    fc.assert(
      fc.property(
        fc.double({ min: -1e12, max: 1e12, noNaN: true }),
        fc.integer({ min: 2, max: 8 }),
        (value, digits) => {
          if (Math.abs(value) < 1e-100) return;
          const least = Math.abs(value) >= 1e9 || Math.abs(value) < 1e-5 ? 1e-3 : 10 ** (1 - digits);
          expect(Math.abs(read(significant(value, digits)) - value)).toBeLessThanOrEqual(
            0.5001 * least * Math.abs(value) * 10 + 1e-12,
          );
        },
      ),
    );
  });

  it("writes numbers with the marks that were chosen, and reads what is typed with them", () => {
    const said = { value: 1.5, list: [0.5, 2, 1000.25] };
    for (const style of STYLE_NAMES) {
      writeNumbersAs(style);
      expect(readNumber(typed(said.value))).toBe(1.5);
      expect(readNumber(fixed(-1_234_567.25, 2))).toBe(-1_234_567.25);
      expect(readNumbers(listTyped(said.list))).toEqual(said.list);
      expect(cellTyped(cellShown("-0.50", true), true).replace("\u2212", "-")).toBe("-0.50");
    }
    writeNumbersAs("point-comma");
    expect([fixed(12_345.6, 1), whole(1234), percent(0.975), pValue(0.04321)]).toEqual([
      "12.345,6",
      "1.234",
      "97,5 %",
      "= 0,043",
    ]);
    expect(fixed(1234.5, 1, "comma-point")).toBe("1,234.5");
    expect([readNumber("1.234"), readNumber("1.5"), readNumber("1,5"), readNumber("1,2,3")]).toEqual([
      1234,
      1.5,
      1.5,
      null,
    ]);
    writeNumbersAs("comma-point");
    expect([readNumber("1,234.5"), readNumber("1,5"), readNumber("")]).toEqual([1234.5, null, null]);
    writeNumbersAs("space-point");
    expect([readNumber("1,5"), readNumber("12\u202f345.6"), readNumber("\u22122")]).toEqual([1.5, 12_345.6, -2]);
  });

  it("counts things, and says p values", () => {
    expect([counted(1, "row"), counted(2, "class", "classes")]).toEqual(["1 row", "2 classes"]);
    expect([pValue(0.0004), pValue(0.04321)]).toEqual(["< 0.001", "= 0.043"]);
    expect([decimalsFor(1, 4), decimalsFor(null, 0.02), decimalsFor(2, 12_345)]).toEqual([2, 5, 0]);
  });
});
