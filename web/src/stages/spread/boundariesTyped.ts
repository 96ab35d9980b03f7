import { commaIsDecimal } from "../../words/numbers";

const MOST = 513;

/** Boundaries of classes as somebody typed them, between commas, semicolons or blanks; else what is wrong with them. */
export function boundariesTyped(text: string): number[] | string {
  // Between semicolons or blanks a comma within a number is its decimal mark.
  const decimals = commaIsDecimal() || (/\d,\d/.test(text) && /;|\d\s+[-\d]/.test(text.replace(/,\s+/g, ";")));
  const parts = text.split(decimals ? /[;\s]+|,\s+/ : /[;,\s]+/).filter(Boolean);
  const numbers = parts.map((part) => Number((decimals ? part.replace(",", ".") : part).replace("\u2212", "-")));
  const strange = parts.find((_, i) => !Number.isFinite(numbers[i]));
  if (strange !== undefined) return `“${strange}” is no number.`;
  if (numbers.length < 2) return "It takes two boundaries or more.";
  if (numbers.length > MOST) return `There are ${numbers.length} boundaries; at most ${MOST} can be drawn.`;
  const falls = numbers.findIndex((edge, i) => i > 0 && edge <= (numbers[i - 1] ?? edge));
  if (falls > 0) return `${parts[falls]} does not lie above ${parts[falls - 1]}, which stands before it.`;
  return numbers;
}
