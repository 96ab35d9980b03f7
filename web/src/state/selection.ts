import { create } from "zustand";

type Selection = {
  /** The table whose rows are selected; another table starts with none. */
  table: string;
  rows: ReadonlySet<number>;
  /** What was selected, in words: "class [10, 12.5) g". */
  words: string;
  select: (table: string, rows: Iterable<number>, words: string, add?: boolean) => void;
  clear: () => void;
};

const NONE: ReadonlySet<number> = new Set();

export const useSelection = create<Selection>((set, get) => ({
  table: "",
  rows: NONE,
  words: "",
  select: (table, rows, words, add = false) => {
    const now = get();
    if (!add || now.table !== table) {
      set({ table, rows: new Set(rows), words });
      return;
    }
    const next = new Set(now.rows);
    const given = [...rows];
    // A mark whose rows are all selected already is taken out again.
    const known = given.every((row) => next.has(row));
    for (const row of given) {
      if (known) next.delete(row);
      else next.add(row);
    }
    set({ table, rows: next, words: next.size > 0 ? "several marks" : "" });
  },
  clear: () => set({ rows: NONE, words: "" }),
}));

export function useSelectedRows(table: string): ReadonlySet<number> {
  return useSelection((state) => (state.table === table ? state.rows : NONE));
}
