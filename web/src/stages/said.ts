/** What an address says, by the names of its parts. */
export type Written = Record<string, string>;

export const words = (list: readonly (string | number)[]) => list.join(" ");

/** What is said only where it is not as usual. */
export function said(entries: Record<string, [value: unknown, usual: unknown, text?: string]>): Written {
  const written: Written = {};
  for (const [name, [value, usual, text]] of Object.entries(entries))
    if (value !== usual && value !== null && value !== undefined) written[name] = text ?? String(value);
  return written;
}
