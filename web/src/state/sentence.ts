import { create } from "zustand";

/** Whether the first word of the sentence is open, to be typed. */
export const useSentence = create<{ typing: boolean; setTyping: (typing: boolean) => void }>((set) => ({
  typing: false,
  setTyping: (typing) => set({ typing }),
}));
