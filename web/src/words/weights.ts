/** That rows are weighted, as a sentence behind others; nothing where they are not. */
export const weightsWords = (by: string) => (by ? ` Each row counts as often as ${by} says.` : "");
