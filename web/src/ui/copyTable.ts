import { unmarked } from "../words/numbers";

export type Copied = { head: string[]; body: string[][] };

const escaped = (text: string) => text.replace(/&/g, "&amp;").replace(/</g, "&lt;").replace(/>/g, "&gt;");
const row = (cells: string[], tag: string) =>
  `<tr>${cells.map((cell) => `<${tag}>${escaped(cell)}</${tag}>`).join("")}</tr>`;

// A number, an interval of two, or a dash alone, with a percent sign or without.
const NUMBERS = /^[-+]?[\d.]*([eE][-+]?\d+)?( to [-+]?[\d.]+([eE][-+]?\d+)?)?( ?%)?$/;

/** A cell with an apostrophe before it where a spreadsheet would run it as a formula, as the server writes them too. */
const safe = (text: string) =>
  /^'*[=+\-@\t\r\n\uff0b\uff0d\uff1d\uff20]/.test(text) && !NUMBERS.test(unmarked(text)) ? `'${text}` : text;

/** Put a table on the clipboard, as text separated by tabs and as a real table for a word processor. */
export async function copyTable(copied: Copied): Promise<void> {
  const head = copied.head.map(safe);
  const body = copied.body.map((cells) => cells.map(safe));
  const text = [head, ...body].map((cells) => cells.join("\t")).join("\n");
  const html = `<table>${row(head, "th")}${body.map((cells) => row(cells, "td")).join("")}</table>`;
  const parts = {
    "text/plain": new Blob([text], { type: "text/plain" }),
    "text/html": new Blob([html], { type: "text/html" }),
  };
  await navigator.clipboard.write([new ClipboardItem(parts)]);
}

/** The table as CSV: numbers as programs read them, whatever marks they have on the screen, and no cell that a spreadsheet would run. */
export function csvOf({ head, body }: Copied): string {
  const write = (text: string) => {
    const figures = unmarked(text);
    const cell = safe(NUMBERS.test(figures) ? figures : text.replace(/\u2212(?=\d)/g, "-"));
    return /[",\n]/.test(cell) ? `"${cell.replace(/"/g, '""')}"` : cell;
  };
  return [head, ...body].map((cells) => `${cells.map(write).join(",")}\r\n`).join("");
}
