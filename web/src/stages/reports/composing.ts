import type { PlateLine } from "../../api/plates";
import type { KeptPart, Part, ReportDocument } from "../../api/reports";
import type { TablePlateLine } from "../../api/tablePlates";
import { numbersOnScreen } from "../../words/numbers";

export const isKept = (part: Part): part is KeptPart => part.kind === "figure" || part.kind === "table";

const MOST_OF_KEY = 40;

/** A word by which text refers to something, made of its name: one that nothing in the report has yet. */
export function freeKey(name: string, parts: readonly Part[]): string {
  const taken = new Set(parts.filter(isKept).map(({ key }) => key));
  const plain = name.normalize("NFKD").replace(/[^\x20-\x7e]/g, "");
  const base =
    plain
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, "-")
      .slice(0, MOST_OF_KEY)
      .replace(/^-+|-+$/g, "") || "shown";
  for (let i = 1; ; i++) {
    const key = i === 1 ? base : `${base}-${i}`;
    if (!taken.has(key)) return key;
  }
}

/** Parts with a figure or table more. */
export const withKept = (
  parts: readonly Part[],
  at: number,
  kind: "figure" | "table",
  { id, name }: { id: string; name: string },
): Part[] => parts.toSpliced(at, 0, { kind, plate: id, key: freeKey(name, parts) });

/** A report of figures and tables, in their order, with all that writes itself. */
export function begun(title: string, figures: readonly PlateLine[], tables: readonly TablePlateLine[]) {
  let parts: Part[] = [];
  for (const table of tables) parts = withKept(parts, parts.length, "table", table);
  for (const figure of figures) parts = withKept(parts, parts.length, "figure", figure);
  const text: Part = { kind: "text", text: "" };
  const document: Partial<ReportDocument> = {
    numbers: numbersOnScreen(),
    title,
    parts: [
      { kind: "heading", text: "Results", level: 1 },
      text,
      ...parts,
      { kind: "methods", heading: "Methods" },
      { kind: "aside", heading: "What was set aside" },
      { kind: "references", heading: "References" },
      { kind: "versions", heading: "Versions" },
    ],
  };
  return document;
}

/** Parts in which a figure or table has another word, wherever text refers to it; a number is added where it is taken. */
export function renamed(parts: readonly Part[], at: number, typed: string): Part[] {
  const part = parts[at];
  if (!part || !isKept(part)) return [...parts];
  const key = freeKey(typed, parts.toSpliced(at, 1));
  return parts.map((other, i) => {
    if (i === at) return { ...part, key };
    return other.kind === "text"
      ? { ...other, text: (other.text ?? "").replaceAll(`{${part.key}}`, `{${key}}`) }
      : other;
  });
}

/** A text with words put in between two places, and where the hand then stands. */
export const putIn = (text: string, from: number, to: number, words: string) => ({
  text: text.slice(0, from) + words + text.slice(to),
  at: from + words.length,
});

/** A list with one of its items a place further up or down. */
export function stepped<T>(items: readonly T[], at: number, by: -1 | 1): T[] {
  const item = items[at];
  if (item === undefined || at + by < 0 || at + by >= items.length) return [...items];
  return items.toSpliced(at, 1).toSpliced(at + by, 0, item);
}
