import { create } from "zustand";

type LookingBack = {
  /** The table that is seen as it stood at an earlier revision; null where all is as it stands now. */
  past: { table: string; at: number; entry: number } | null;
  setPast: (past: LookingBack["past"]) => void;
};

export const useLookingBack = create<LookingBack>((set) => ({ past: null, setPast: (past) => set({ past }) }));

/** The revision at which a table is looked back at. */
export const pastOf = (table: string): number | undefined => {
  const { past } = useLookingBack.getState();
  return past?.table === table ? past.at : undefined;
};
