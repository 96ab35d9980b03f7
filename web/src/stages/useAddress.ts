import { useCallback, useEffect, useMemo } from "react";
import { useNavigation, useSearchParams } from "react-router";
import type { Variable } from "../api/studies";
import { keysOf } from "../values";

export type Change = Record<string, string | number | null | undefined>;

/** What the reader chose, kept in the address so that it can be bookmarked, shared and gone back to. */
export function useAddress<Choices>(read: (query: URLSearchParams) => Choices) {
  const [query, setQuery] = useSearchParams();
  const text = query.toString();
  const choices = useMemo(() => read(new URLSearchParams(text)), [read, text]);
  const change = useCallback(
    (changes: Change, replace = false) =>
      setQuery(
        (now) => {
          const next = new URLSearchParams(now);
          for (const [name, value] of Object.entries(changes)) {
            if (value === null || value === undefined) next.delete(name);
            else next.set(name, String(value));
          }
          return next;
        },
        // What is chosen next starts from what was chosen now, however fast a hand is.
        { replace, flushSync: !replace },
      ),
    [setQuery],
  );
  return { choices, change };
}

/** A choice of a list; for any other text the usual one, or undefined where none is. */
export function oneOf<T extends string>(text: string | null, list: readonly T[]): T | undefined;
export function oneOf<T extends string>(text: string | null, list: readonly T[], usual: NoInfer<T>): T;
export function oneOf<T extends string>(text: string | null, list: readonly T[], usual?: T): T | undefined {
  return list.find((choice) => choice === text) ?? usual;
}

/** The same among choices that have words. */
export function among<T extends string>(text: string | null, words: Record<T, unknown>): T | undefined;
export function among<T extends string>(text: string | null, words: Record<T, unknown>, usual: NoInfer<T>): T;
export function among<T extends string>(text: string | null, words: Record<T, unknown>, usual?: T): T | undefined {
  return keysOf(words).find((choice) => choice === text) ?? usual;
}

export const wordsIn = (text: string | null) => (text ?? "").split(" ").filter(Boolean);

/** The address names the variable that is looked at, also where it named none, or one that is not there. */
export function useNamed(
  variable: Variable | undefined,
  chosen: { variable: string | null },
  change: (changes: { variable: string }, replace: boolean) => void,
) {
  const wanted = chosen.variable;
  // Somebody who chose another way meanwhile goes there.
  const staying = useNavigation().state === "idle";
  useEffect(() => {
    if (staying && variable && wanted !== variable.symbol) change({ variable: variable.symbol }, true);
  }, [staying, variable, wanted, change]);
}
