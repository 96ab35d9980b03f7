import { create } from "zustand";
import { persist } from "zustand/middleware";

type Theme = "light" | "dark" | "system";

type Preferences = {
  theme: Theme;
  /** The statistics that a reading lists; null until the reader has chosen. */
  statistics: string[] | null;
  /** Percents whose points a reading lists besides. */
  percents: number[];
  singleKeys: boolean;
  /** The study last open. */
  study: string;
  /** Reasons for a decision that are offered. */
  reasons: string[];
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

export const usePreferences = create<Preferences>()(
  persist(
    (set) => ({
      theme: "system",
      statistics: null,
      percents: [],
      singleKeys: true,
      study: "",
      reasons: ["entry mistake", "measurement failed", "not of this population", "too far from all else to judge"],
      plateStyle: "",
      setPlateStyle: (plateStyle) => set({ plateStyle }),
      setStudy: (study) => set({ study }),
      setReasons: (reasons) => set({ reasons }),
      setPercents: (percents) => set({ percents }),
      setTheme: (theme) => set({ theme }),
      setStatistics: (statistics) => set({ statistics }),
      setSingleKeys: (singleKeys) => set({ singleKeys }),
    }),
    { name: "velvet-heron" },
  ),
);

const night = window.matchMedia("(prefers-color-scheme: dark)");

/** The theme in force, for what is painted and not styled. */
export const useShownTheme = create<{ shown: "light" | "dark" }>(() => ({ shown: "light" }));

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
