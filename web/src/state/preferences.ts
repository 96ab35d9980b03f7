import { create } from "zustand";
import { persist } from "zustand/middleware";
import { type NumberStyle, writeNumbersAs } from "../words/numbers";

type Theme = "light" | "dark" | "system";

/** What a reading lists. statistics: null for the usual ones; percents: those whose points are listed besides. */
type List = { statistics: string[] | null; percents: number[] };

type Preferences = {
  theme: Theme;
  /** How numbers are written on the screen. */
  numbers: NumberStyle;
  setNumbers: (numbers: NumberStyle) => void;
  /** What readings list in each study; under "" what was chosen before studies had lists of their own. */
  lists: Record<string, List>;
  singleKeys: boolean;
  /** The study last open. */
  study: string;
  /** Reasons for a decision that are offered. */
  reasons: string[];
  /** What was found or done last, the newest first. */
  recent: string[];
  done: (label: string) => void;
  /** What was tried of the tasks of the demo study, and whether their list is closed. */
  tried: string[];
  triesClosed: boolean;
  addTried: (ids: readonly string[]) => void;
  closeTries: () => void;
  /** The style that new plates take, by its name. */
  plateStyle: string;
  setPlateStyle: (plateStyle: string) => void;
  setStudy: (study: string) => void;
  setReasons: (reasons: string[]) => void;
  setPercents: (percents: number[]) => void;
  setTheme: (theme: Theme) => void;
  setStatistics: (statistics: string[] | null) => void;
  setSingleKeys: (on: boolean) => void;
};

const MOST_RECENT = 6;
const USUAL_LIST: List = { statistics: null, percents: [] };

/** What readings list in the study that is open. */
export const listHere = ({ lists, study }: Pick<Preferences, "lists" | "study">): List =>
  lists[study] ?? lists[""] ?? USUAL_LIST;

type Kept = Partial<List & Preferences>;

export const usePreferences = create<Preferences>()(
  persist(
    (set) => ({
      theme: "system",
      numbers: "space-point",
      setNumbers: (numbers) => set({ numbers }),
      lists: {},
      singleKeys: true,
      study: "",
      reasons: ["entry mistake", "measurement failed", "not of this population", "too far from all else to judge"],
      plateStyle: "",
      tried: [],
      triesClosed: false,
      addTried: (ids) => set(({ tried }) => ({ tried: [...new Set([...tried, ...ids])] })),
      closeTries: () => set({ triesClosed: true }),
      recent: [],
      done: (label) =>
        set(({ recent }) => ({ recent: [label, ...recent.filter((other) => other !== label)].slice(0, MOST_RECENT) })),
      setPlateStyle: (plateStyle) => set({ plateStyle }),
      setStudy: (study) => set({ study }),
      setReasons: (reasons) => set({ reasons }),
      setPercents: (percents) =>
        set((now) => ({ lists: { ...now.lists, [now.study]: { ...listHere(now), percents } } })),
      setTheme: (theme) => set({ theme }),
      setStatistics: (statistics) =>
        set((now) => ({ lists: { ...now.lists, [now.study]: { ...listHere(now), statistics } } })),
      setSingleKeys: (singleKeys) => set({ singleKeys }),
    }),
    {
      name: "velvet-heron",
      version: 1,
      migrate: (kept) => {
        const { statistics = null, percents = [], ...rest } = (kept ?? {}) as Kept;
        return (
          statistics || percents.length > 0 ? { ...rest, lists: { "": { statistics, percents } } } : rest
        ) as never;
      },
    },
  ),
);

const night = window.matchMedia("(prefers-color-scheme: dark)");

/** The theme in force, for what is painted and not styled. */
export const useShownTheme = create<{ shown: "light" | "dark" }>(() => ({ shown: "light" }));

/** Write numbers as was chosen, now and whenever that changes. */
export function followNumbers(): void {
  writeNumbersAs(usePreferences.getState().numbers);
  usePreferences.subscribe(({ numbers }) => writeNumbersAs(numbers));
}

/** Put the chosen theme on the page, now and whenever it or the system's changes. */
export function followTheme(): void {
  const apply = () => {
    const { theme } = usePreferences.getState();
    const shown = theme === "system" ? (night.matches ? "dark" : "light") : theme;
    document.documentElement.dataset.theme = shown;
    useShownTheme.setState({ shown });
  };
  apply();
  usePreferences.subscribe(apply);
  night.addEventListener("change", apply);
}
