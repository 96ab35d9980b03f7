/** Readers of arrays and of fixed lists: what the types cannot know is looked at once, here, and said when it is not so. */

/** The value at place `i`, counted from 0. */
export function nth<T>(values: ArrayLike<T>, i: number): T {
  const value = values[i] as T;
  if (value === undefined && !(i in values)) throw new RangeError(`There is no place ${i} among ${values.length}.`);
  return value;
}

export const last = <T>(values: ArrayLike<T>): T => nth(values, values.length - 1);

/** The names in a fixed list of choices, in their order. */
export const keysOf = <Key extends string>(list: Readonly<Partial<Record<Key, unknown>>>) => Object.keys(list) as Key[];

/** A function of each of a few values, which stay as many. */
export const eachOf = <const Values extends readonly unknown[], Result>(
  values: Values,
  made: (value: Values[number], i: number) => Result,
) => values.map(made) as { -readonly [Place in keyof Values]: Result };

/** Two numbers, the smaller first. */
export const ordered = (a: number, b: number): [number, number] => (a <= b ? [a, b] : [b, a]);

/** A list that came with an answer as one of several things. */
export const listIn = (value: unknown): readonly unknown[] => (Array.isArray(value) ? value : []);

/** Choices with the words that name them, as a list to choose from. */
export const choicesOf = <Key extends string>(words: Readonly<Record<Key, string>>) =>
  keysOf(words).map((value) => ({ value, label: words[value] }));

/** Records of choices, written by scripts/choices.py. */
type Records = Readonly<Record<string, { readonly label: string; readonly help: string }>>;

/** What choices are called, by their ids. */
export const labelsOf = <Given extends Records>(records: Given) =>
  Object.fromEntries(Object.entries(records).map(([id, { label }]) => [id, label])) as {
    readonly [Id in keyof Given & string]: string;
  };

/** Choices as a list to choose from, with what each does. */
export const optionsOf = <Given extends Records>(records: Given) =>
  keysOf<keyof Given & string>(records).map((value) => ({
    value,
    label: records[value]?.label ?? value,
    note: records[value]?.help ?? "",
  }));

/** Choices without some of them. */
export const without = <Given extends object, const Left extends keyof Given>(records: Given, ...left: Left[]) =>
  Object.fromEntries(Object.entries(records).filter(([id]) => !(left as PropertyKey[]).includes(id))) as Omit<
    Given,
    Left
  >;

/** A list with a value in it, or without. */
export const withOrWithout = <T>(list: readonly T[], value: T, on: boolean): T[] => {
  const others = list.filter((other) => other !== value);
  return on ? [...others, value] : others;
};

/** What was typed as a number; null for what is none. */
export const typedNumber = (text: string | null): number | null =>
  text?.trim() && Number.isFinite(Number(text)) ? Number(text) : null;
