import { useCorrect, useDescribe } from "../api/ledger";
import type { Table, Variable } from "../api/studies";
import { isNumeric } from "../words/kinds";

/** How names of groups are changed where they stand. rename: by the name that stands there and the group's number; no
 *  words put back what the file has. */
export type Renaming = {
  can: (name: string) => boolean;
  rename: (name: string, group: number, words: string) => Promise<unknown>;
  /** Whether what the file has is known by itself. */
  putsBack: boolean;
};

/** New words for the levels of a variable: a decision of the Ledger, for whoever looks at it. */
export function useRenaming(table: Table, variable: Variable | undefined): Renaming | undefined {
  const describe = useDescribe(table);
  if (!variable || isNumeric(variable) || variable.levels.length === 0) return undefined;
  return {
    can: (name) => variable.levels.includes(name),
    rename: (name, _group, words) =>
      describe.mutateAsync({ variables: [variable.symbol], changes: { level_labels: { [name]: words } } }),
    putsBack: true,
  };
}

/** New words in the cells by which rows are named. rowOf: the row of a group. */
export function useRowRenaming(
  table: Table,
  variable: Variable | undefined,
  rowOf: (group: number) => number | undefined,
): Renaming | undefined {
  const correct = useCorrect(table);
  const levels = useRenaming(table, variable);
  if (levels) return levels;
  if (!variable || isNumeric(variable)) return undefined;
  return {
    can: () => true,
    rename: async (_name, group, words) => {
      const row = rowOf(group);
      if (row !== undefined && words.trim())
        await correct.mutateAsync({
          cells: [{ row, variable: variable.symbol, text: words.trim() }],
          reason: "renamed on the picture",
        });
    },
    putsBack: false,
  };
}
