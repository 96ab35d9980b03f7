/** Parts of a text, some of them raised: "x^{2.5} m" is "x", raised "2.5", " m". */
export function raisedParts(text: string): { words: string; raised: boolean }[] {
  return text
    .split(/\^\{([^{}]*)\}/)
    .map((words, i) => ({ words, raised: i % 2 === 1 }))
    .filter(({ words }) => words);
}
