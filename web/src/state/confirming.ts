import { create } from "zustand";

/** By what it is told who is before the screen: a password, or another sign-in through the institution. */
type Way = "password" | "institution";

type Confirming = {
  way: Way;
  /** What is told of the answer, while a password is asked for. */
  tell: ((confirmed: boolean) => void) | null;
  ask: (way: Way) => Promise<boolean>;
  answer: (confirmed: boolean) => void;
};

/** Some things take the password again: it is asked for where they were asked for, and they go on. */
export const useConfirming = create<Confirming>((set, get) => ({
  way: "password",
  tell: null,
  ask: (way) => new Promise((tell) => set({ tell, way })),
  answer: (confirmed) => {
    get().tell?.(confirmed);
    set({ tell: null });
  },
}));
