import { create } from "zustand";

type LedgerPanel = {
  open: boolean;
  /** Whether a reason is being asked for, to set the selected rows aside. */
  asking: boolean;
  setOpen: (open: boolean) => void;
  setAsking: (asking: boolean) => void;
};

export const useLedgerPanel = create<LedgerPanel>((set) => ({
  open: false,
  asking: false,
  setOpen: (open) => set({ open }),
  setAsking: (asking) => set({ asking }),
}));
