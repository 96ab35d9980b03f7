import { create } from "zustand";

type Kept = {
  /** The plate that was kept last, and where it stands, until it is looked at or the notice is closed. */
  plate: { name: string; to: string; what: "plate" | "table" } | null;
  /** Why nothing could be kept. */
  trouble: string;
  show: (plate: { name: string; to: string; what: "plate" | "table" }) => void;
  refuse: (trouble: string) => void;
  close: () => void;
};

export const useKept = create<Kept>((set) => ({
  plate: null,
  trouble: "",
  show: (plate) => set({ plate, trouble: "" }),
  refuse: (trouble) => set({ plate: null, trouble }),
  close: () => set({ plate: null, trouble: "" }),
}));
