/** What an address says, by the names of its parts. */
export type Written = Record<string, string>;

export const words = (list: readonly (string | number)[]) => list.join(" ");

/** What is said only where it is not as usual. */
export function said(entries: Record<string, [value: unknown, usual: unknown, text?: string]>): Written {
  const found: Written = {};
  for (const [name, [value, usual, text]] of Object.entries(entries))
    if (value !== usual && value !== null && value !== undefined) found[name] = text ?? String(value);
  return found;
}
