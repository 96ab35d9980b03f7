import { create } from "zustand";

export type Correction = { variable: string; row: number; text: string };

type Corrections = {
  /** New text in cells, not recorded yet; it stays while the reader looks elsewhere. */
  table: string;
  cells: ReadonlyMap<string, Correction>;
  put: (table: string, corrections: Correction[]) => void;
  drop: (correction: Pick<Correction, "variable" | "row">) => void;
  clear: () => void;
};

const NONE: ReadonlyMap<string, Correction> = new Map();
export const cellKey = (row: number, variable: string) => `${row} ${variable}`;

export const useCorrections = create<Corrections>((set, get) => ({
  table: "",
  cells: NONE,
  put: (table, corrections) => {
    const next = new Map(get().table === table ? get().cells : NONE);
    for (const correction of corrections) next.set(cellKey(correction.row, correction.variable), correction);
    set({ table, cells: next });
  },
  drop: ({ variable, row }) => {
    const next = new Map(get().cells);
    next.delete(cellKey(row, variable));
    set({ cells: next });
  },
  clear: () => set({ cells: NONE }),
}));

export const useCorrectionsOf = (table: string) =>
  useCorrections((state) => (state.table === table ? state.cells : NONE));
