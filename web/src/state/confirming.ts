import { create } from "zustand";

type Confirming = {
  /** What is told of the answer, while a password is asked for. */
  tell: ((confirmed: boolean) => void) | null;
  ask: () => Promise<boolean>;
  answer: (confirmed: boolean) => void;
};

/** Some things take the password again: it is asked for where they were asked for, and they go on. */
export const useConfirming = create<Confirming>((set, get) => ({
  tell: null,
  ask: () => new Promise((tell) => set({ tell })),
  answer: (confirmed) => {
    get().tell?.(confirmed);
    set({ tell: null });
  },
}));
