import { create } from "zustand";
import { createJSONStorage, persist } from "zustand/middleware";

/** What was looked at in a table last: the variable, and the choices made in each stage, as its address holds them. */
type Looked = { variable: string | null; searches: Record<string, string> };

type LastLooked = {
  /** The table last looked at, of each study. */
  tables: Record<string, string>;
  looked: Record<string, Looked>;
  look: (study: string, table: string, stage: string, search: string) => void;
};

/** Where one was, so that stages lead back there; as long as the window is open. */
export const useLastLooked = create<LastLooked>()(
  persist(
    (set) => ({
      tables: {},
      looked: {},
      look: (study, table, stage, search) =>
        set(({ tables, looked }) => {
          const before = looked[table];
          const variable = new URLSearchParams(search).get("variable") ?? before?.variable ?? null;
          const now = { variable, searches: { ...before?.searches, [stage]: search } };
          return { tables: { ...tables, [study]: table }, looked: { ...looked, [table]: now } };
        }),
    }),
    { name: "velvet-heron-last", storage: createJSONStorage(() => sessionStorage) },
  ),
);
