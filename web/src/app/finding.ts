/** What can be found by name. words: other names for it; note: what it is. */
export type Findable = { label: string; note: string; words?: string };

const FAR = 0;
const ALIKE = 1;
const WITHIN = 2;
const BEGINS = 4;
const IS = 6;
/** Words of so many letters may be typed with one letter wrong. */
const LONG_ENOUGH = 4;

const wordsOf = (text: string) =>
  text
    .toLowerCase()
    .normalize("NFKD")
    .replace(/[^\p{L}\p{N}%]+/gu, " ")
    .trim()
    .split(" ");

/** How well each typed word is found; none where one of them is not. Its own name counts more than other names. */
export function match(typed: string, { label, note, words = "" }: Findable): number {
  const own = wordsOf(label);
  const others = wordsOf(`${words} ${note}`);
  let sum = 0;
  for (const word of wordsOf(typed)) {
    if (!word) continue;
    const best = Math.max(2 * likeness(word, own), likeness(word, others));
    if (best === FAR) return FAR;
    sum += best;
  }
  return sum;
}

const likeness = (typed: string, words: readonly string[]) => Math.max(...words.map((word) => like(typed, word)));

function like(typed: string, word: string): number {
  if (word === typed) return IS;
  if (word.startsWith(typed)) return BEGINS;
  if (typed.length > 2 && word.includes(typed)) return WITHIN;
  return typed.length >= LONG_ENOUGH && isOneOff(typed, word.slice(0, typed.length + 1)) ? ALIKE : FAR;
}

/** Whether a word as typed is one letter from how another begins: one too many, one missing, one wrong, two changed. */
export function isOneOff(typed: string, word: string): boolean {
  let i = 0;
  while (i < typed.length && typed[i] === word[i]) i++;
  const [rest, other] = [typed.slice(i), word.slice(i)];
  const begins = (a: string, b: string) => b.startsWith(a);
  return (
    begins(rest.slice(1), other.slice(1)) ||
    begins(rest.slice(1), other) ||
    begins(rest, other.slice(1)) ||
    (rest[0] === other[1] && rest[1] === other[0] && begins(rest.slice(2), other.slice(2)))
  );
}

/** The best first, among equals as they are listed; without words all, those used last first. */
export function found<Thing extends Findable>(
  things: readonly Thing[],
  typed: string,
  recent: readonly string[],
): Thing[] {
  if (!typed.trim()) {
    const lately = recent.flatMap((label) => things.find((thing) => thing.label === label) ?? []);
    return [...lately, ...things.filter((thing) => !lately.includes(thing))];
  }
  return things
    .map((thing) => ({ thing, score: match(typed, thing) }))
    .filter(({ score }) => score > FAR)
    .sort((a, b) => b.score - a.score)
    .map(({ thing }) => thing);
}
