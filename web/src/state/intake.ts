import { create } from "zustand";
import type { Preview } from "../api/studies";

type Looked = { study: string; found: Preview };

/** The file being looked at: it stays while the reader visits another stage. */
export const useIntake = create<{ preview: Looked | null; setPreview: (preview: Looked | null) => void }>((set) => ({
  preview: null,
  setPreview: (preview) => set({ preview }),
}));
