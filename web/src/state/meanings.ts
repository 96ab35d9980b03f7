import { create } from "zustand";

/** Whether the table of what each number means lies open. */
type Meanings = {
  open: boolean;
  /** What is looked for in it. */
  wanted: string;
  setOpen: (open: boolean, wanted?: string) => void;
  setWanted: (wanted: string) => void;
};

export const useMeanings = create<Meanings>((set) => ({
  open: false,
  wanted: "",
  setOpen: (open, wanted = "") => set({ open, wanted }),
  setWanted: (wanted) => set({ wanted }),
}));
