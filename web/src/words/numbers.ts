/** Numbers as they stand in figures and sentences: true minus, thin-space thousands, no noise digits. */

const MINUS = "\u2212";
const THIN = "\u202f";

function grouped(digits: string): string {
  const [whole = "", part] = digits.split(".");
  const spaced = whole.length > 4 ? whole.replace(/\B(?=(\d{3})+$)/g, THIN) : whole;
  return part === undefined ? spaced : `${spaced}.${part}`;
}

const SUPERSCRIPT: Record<string, string> = { "-": "⁻", "+": "" };
function raised(power: string): string {
  return [...power].map((c) => SUPERSCRIPT[c] ?? "⁰¹²³⁴⁵⁶⁷⁸⁹"[Number(c)]).join("");
}

/** A number with so many decimals; beyond 10^9 or below what they can show, as a power of ten. */
export function fixed(value: number, decimals: number): string {
  const size = Math.abs(value);
  if (size >= 1e9 || (size > 0 && size < 0.5 * 10 ** -Math.min(decimals + 2, 12))) {
    const [mantissa = "", power = ""] = size.toExponential(3).split("e");
    return `${value < 0 ? MINUS : ""}${mantissa} × 10${raised(power)}`;
  }
  const text = grouped(size.toFixed(decimals));
  return value < 0 && /[1-9]/.test(text) ? MINUS + text : text;
}

/** So many significant digits, without a tail of zeros. */
export function significant(value: number, digits = 3): string {
  if (value === 0) return "0";
  const power = Math.floor(Math.log10(Math.abs(value)));
  if (power >= 9 || power < -5) return fixed(value, 0);
  const decimals = Math.min(Math.max(digits - 1 - power, 0), 12);
  return fixed(Number(value.toPrecision(Math.max(digits, power + 1))), decimals)
    .replace(/(\.\d*?)0+$/, "$1")
    .replace(/\.$/, "");
}

/** A statistic without unit, which is 0 where nothing but rounding is left of it. */
export const unitless = (value: number, digits = 2): string => significant(Math.abs(value) < 1e-9 ? 0 : value, digits);

/** All the digits that a double holds. */
export function exact(value: number): string {
  return String(value).replace("-", MINUS);
}

export function whole(value: number): string {
  return grouped(String(value));
}

export function counted(n: number, noun: string, plural = `${noun}s`): string {
  return `${whole(n)} ${n === 1 ? noun : plural}`;
}

/** Words as a sentence lists them: a, b and c. */
export const inWords = (words: readonly string[]) =>
  words.length < 2 ? words.join("") : `${words.slice(0, -1).join(", ")} and ${words.at(-1)}`;

/** "p < 0.001" or "p = 0.043": what stands behind the letter. */
export function pValue(p: number): string {
  return p < 0.001 ? "< 0.001" : `= ${p.toFixed(3)}`;
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
  if (bytes >= 1e9) return `${(bytes / 1e9).toFixed(1)} GB`;
  return bytes < 1e6 ? `${whole(Math.round(bytes / 1000))} kB` : `${(bytes / 1e6).toFixed(1)} MB`;
}
