import { create } from "zustand";

type SeenPlots = { seen: ReadonlySet<string>; look: (table: string, variable: string) => void };

const keyOf = (table: string, variable: string) => `${table} ${variable}`;

/** Which variables' plots were shown in this window: eyes that have seen the data know them again. */
export const useSeenPlots = create<SeenPlots>((set, get) => ({
  seen: new Set(),
  look: (table, variable) => {
    const key = keyOf(table, variable);
    if (!get().seen.has(key)) set({ seen: new Set(get().seen).add(key) });
  },
}));

export const wasSeen = (table: string, variable: string) => useSeenPlots.getState().seen.has(keyOf(table, variable));
