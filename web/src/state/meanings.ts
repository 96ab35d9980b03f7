import { create } from "zustand";

/** Whether the table of what each number means lies open. */
export const useMeanings = create<{ open: boolean; setOpen: (open: boolean) => void }>((set) => ({
  open: false,
  setOpen: (open) => set({ open }),
}));
