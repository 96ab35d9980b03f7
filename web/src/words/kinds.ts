import type { Kind, Variable } from "../api/studies";
import { counted, whole } from "./numbers";

export const KIND_WORDS: Record<Kind, string> = {
  continuous: "continuous",
  count: "count",
  ordered: "ordered",
  category: "category",
  "date-time": "date and time",
  text: "text",
  identifier: "identifier",
};

export const isNumeric = (variable: Variable) =>
  variable.kind === "continuous" ||
  variable.kind === "count" ||
  (variable.kind === "ordered" && variable.decimals !== null);

export const named = (subject: { label: string; unit: string }) =>
  subject.unit ? `${subject.label} (${subject.unit})` : subject.label;

/** Capital first letter, for titles and axes. */
export const titled = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** What stands under a variable's name in a list. */
export function about(variable: Variable): string {
  if (variable.kind === "category") return counted(variable.n_levels, "level");
  if (variable.kind === "continuous") return variable.unit || "continuous";
  return variable.unit && variable.unit !== variable.kind
    ? `${KIND_WORDS[variable.kind]}, ${variable.unit}`
    : KIND_WORDS[variable.kind];
}

/** "blank 4, n/r 7" */
export function missingWords(counts: Record<string, number>): string {
  return Object.entries(counts)
    .map(([code, count]) => `${code.replace(/^-(?=\d)/, "\u2212")} ${whole(count)}`)
    .join(", ");
}
