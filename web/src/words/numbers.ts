/** Numbers as they stand in figures and sentences: true minus, no noise digits, and the marks of whoever reads them. */

import { NUMBER_STYLES } from "../api/choices.gen";
import { keysOf } from "../values";

export type NumberStyle = keyof typeof NUMBER_STYLES;

export const STYLE_NAMES = keysOf(NUMBER_STYLES);

const MINUS = "\u2212";

let onScreen: NumberStyle = "space-point";

/** From now on numbers on the screen are written in a style. */
export function writeNumbersAs(style: NumberStyle): void {
  onScreen = style;
}

/** The style in which numbers on the screen are written. */
export const numbersOnScreen = () => onScreen;

/** Digits with their marks: a point before decimals, as a program writes them, becomes the mark of the style.
 *  always: four digits are grouped too. */
export function withMarks(digits: string, style = onScreen, always = false): string {
  const { decimal, thousands, least } = NUMBER_STYLES[style];
  const [whole = "", part] = digits.split(".");
  const spaced = whole.length < least && !always ? whole : whole.replace(/\B(?=(\d{3})+$)/g, thousands);
  return part === undefined ? spaced : `${spaced}${decimal}${part}`;
}

const SUPERSCRIPT: Record<string, string> = { "-": "⁻", "+": "" };
function raised(power: string): string {
  return [...power].map((c) => SUPERSCRIPT[c] ?? "⁰¹²³⁴⁵⁶⁷⁸⁹"[Number(c)]).join("");
}

/** A number with so many decimals; beyond 10^9 or below what they can show, as a power of ten. */
export function fixed(value: number, decimals: number, style = onScreen): string {
  const size = Math.abs(value);
  if (size >= 1e9 || (size > 0 && size < 0.5 * 10 ** -Math.min(decimals + 2, 12))) {
    const [mantissa = "", power = ""] = size.toExponential(3).split("e");
    return `${value < 0 ? MINUS : ""}${withMarks(mantissa, style)} × 10${raised(power)}`;
  }
  const digits = size.toFixed(decimals);
  return `${value < 0 && /[1-9]/.test(digits) ? MINUS : ""}${withMarks(digits, style)}`;
}

/** So many significant digits, without a tail of zeros. */
export function significant(value: number, digits = 3, style = onScreen): string {
  if (value === 0) return "0";
  const power = Math.floor(Math.log10(Math.abs(value)));
  if (power >= 9 || power < -5) return fixed(value, 0, style);
  const decimals = Math.min(Math.max(digits - 1 - power, 0), 12);
  const rounded = Math.abs(Number(value.toPrecision(Math.max(digits, power + 1))));
  const bare = rounded
    .toFixed(decimals)
    .replace(/(\.\d*?)0+$/, "$1")
    .replace(/\.$/, "");
  return `${value < 0 ? MINUS : ""}${withMarks(bare, style)}`;
}

/** A statistic without unit, which is 0 where nothing but rounding is left of it. */
export const unitless = (value: number, digits = 2): string => significant(Math.abs(value) < 1e-9 ? 0 : value, digits);

/** A share in percent, to four digits: 95 %. */
export const percent = (share: number) => `${significant(100 * share, 4)} %`;

/** All the digits that a double holds. */
export function exact(value: number): string {
  return typed(value).replace("-", MINUS);
}

export function whole(value: number, style = onScreen): string {
  return value < 0 ? MINUS + withMarks(String(-value), style) : withMarks(String(value), style);
}

/** A number as somebody types it: its digits with the decimal mark, and nothing between thousands. */
export const typed = (value: number, digits = 17): string =>
  String(Number(value.toPrecision(digits))).replace(".", NUMBER_STYLES[onScreen].decimal);

/** What was typed as a number, with either minus, and the marks of the style that holds; null for what is none. A point
 *  that cannot part thousands stands before decimals, and a comma too where nothing else is written with one. */
export function readNumber(text: string): number | null {
  const { thousands, decimal } = NUMBER_STYLES[onScreen];
  let plain = text
    .trim()
    .replace(/(?<=\d)[\s\u202f\u00a0'\u2019](?=\d{3}(?!\d))/g, "")
    .replace(MINUS, "-");
  if (thousands === "," || thousands === ".")
    plain = plain.replace(thousands === "," ? /(?<=\d),(?=\d{3}(?!\d))/g : /(?<=\d)\.(?=\d{3}(?!\d))/g, "");
  if (decimal === "," || thousands !== ",") plain = plain.replace(/^([^,]*),([^,.]*)$/, "$1.$2");
  return plain !== "" && Number.isFinite(Number(plain)) ? Number(plain) : null;
}

export function counted(n: number, noun: string, plural = `${noun}s`): string {
  return `${whole(n)} ${n === 1 ? noun : plural}`;
}

/** Words as a sentence lists them: a, b and c. */
export const inWords = (words: readonly string[]) =>
  words.length < 2 ? words.join("") : `${words.slice(0, -1).join(", ")} and ${words.at(-1)}`;

/** Whether a comma stands before decimals on the screen. */
export const commaIsDecimal = () => NUMBER_STYLES[onScreen].decimal === ",";

/** Several written numbers, with a sign between them that none of them has. */
export const listed = (written: readonly string[]) => written.join(commaIsDecimal() ? "; " : ", ");

/** Several numbers as somebody types them. */
export const listTyped = (values: readonly number[]) => listed(values.map((value) => typed(value)));

/** Several typed numbers, between blanks, semicolons, or commas that are no decimal mark; null where one is none. */
export function readNumbers(text: string): number[] | null {
  const parts = text.split(commaIsDecimal() ? /[;\s]+|,\s+/ : /[;,\s]+/).filter(Boolean);
  const numbers = parts.map(readNumber);
  return numbers.every((number) => number !== null) ? numbers : null;
}

/** A cell as it stands in a table: the digits that were recorded, with the decimal mark of the screen. */
export const cellShown = (text: string, isNumber: boolean) =>
  (isNumber && /^-?\d+\.\d+$/.test(text) ? text.replace(".", NUMBER_STYLES[onScreen].decimal) : text).replace(
    /^-(?=\d)/,
    MINUS,
  );

/** Numbers in a text as a program reads them: a point before decimals, nothing between thousands, a hyphen as minus. */
export function unmarked(text: string): string {
  const { thousands, decimal } = NUMBER_STYLES[onScreen];
  const closed = thousands ? text.replaceAll(new RegExp(`(?<=\\d)[${thousands}](?=\\d{3}(?!\\d))`, "g"), "") : text;
  return closed.replaceAll(new RegExp(`(?<=\\d)[${decimal}](?=\\d)`, "g"), ".").replace(/\u2212(?=\d)/g, "-");
}

/** What was typed into such a cell, as it is recorded. */
export const cellTyped = (text: string, isNumber: boolean) =>
  isNumber && commaIsDecimal() && /^\s*[-\u2212]?\d+,\d+\s*$/.test(text) ? text.replace(",", ".") : text;

/** "p < 0.001" or "p = 0.043": what stands behind the letter. */
export function pValue(p: number): string {
  return p < 0.001 ? `< ${fixed(0.001, 3)}` : `= ${fixed(p, 3)}`;
}

/** The same as a number in a table. */
export const pNumber = (p: number | null | undefined, none = "none") =>
  typeof p === "number" ? pValue(p).replace(/^= /, "") : none;

/** Decimals that suit a statistic: one more than the values have, but no more than four digits of their spread. */
export function decimalsFor(recorded: number | null, spread: number | null): number {
  const fromSpread =
    spread && Number.isFinite(spread) && spread > 0 ? Math.max(0, 3 - Math.floor(Math.log10(spread))) : 3;
  return Math.min(recorded === null ? fromSpread : Math.min(recorded + 1, fromSpread), 10);
}

/** A date and time in UTC from seconds since 1970, to the minute. */
export function moment(seconds: number): string {
  return new Date(seconds * 1000).toISOString().slice(0, 16).replace("T", " ");
}

/** A number of bytes as people say it. */
export function sizeWords(bytes: number): string {
  if (bytes < 1000) return `${bytes} bytes`;
  if (bytes >= 1e9) return `${fixed(bytes / 1e9, 1)} GB`;
  return bytes < 1e6 ? `${whole(Math.round(bytes / 1000))} kB` : `${fixed(bytes / 1e6, 1)} MB`;
}
