export type Copied = { head: string[]; body: string[][] };

const escaped = (text: string) => text.replace(/&/g, "&amp;").replace(/</g, "&lt;").replace(/>/g, "&gt;");
const row = (cells: string[], tag: string) =>
  `<tr>${cells.map((cell) => `<${tag}>${escaped(cell)}</${tag}>`).join("")}</tr>`;

/** Put a table on the clipboard, as text parted by tabs and as a real table for a word processor. */
export async function copyTable({ head, body }: Copied): Promise<void> {
  const text = [head, ...body].map((cells) => cells.join("\t")).join("\n");
  const html = `<table>${row(head, "th")}${body.map((cells) => row(cells, "td")).join("")}</table>`;
  const parts = {
    "text/plain": new Blob([text], { type: "text/plain" }),
    "text/html": new Blob([html], { type: "text/html" }),
  };
  await navigator.clipboard.write([new ClipboardItem(parts)]);
}

/** The table as CSV: true minus signs as hyphens, thousands closed up, and no cell that a spreadsheet would run. */
export function csvOf({ head, body }: Copied): string {
  const write = (cell: string) => {
    const figures = cell.replace(/\u202f(?=\d{3})/g, "").replace(/\u2212(?=\d)/g, "-");
    const safe = /^[=+@\t]|^-(?![\d.])/.test(figures) ? `'${figures}` : figures;
    return /[",\n]/.test(safe) ? `"${safe.replace(/"/g, '""')}"` : safe;
  };
  return [head, ...body].map((cells) => `${cells.map(write).join(",")}\r\n`).join("");
}
