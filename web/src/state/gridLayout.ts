import { create } from "zustand";
import { persist } from "zustand/middleware";
import { withOrWithout } from "../values";

export type Layout = { widths: Record<string, number>; pinned: string[] };

type GridLayout = {
  layouts: Record<string, Layout>;
  setWidth: (table: string, symbol: string, width: number | null) => void;
  togglePin: (table: string, symbol: string) => void;
};

const PLAIN: Layout = { widths: {}, pinned: [] };

/** How wide the columns of each table are drawn, and which stay in sight; kept on this machine. */
export const useGridLayout = create<GridLayout>()(
  persist(
    (set) => ({
      layouts: {},
      setWidth: (table, symbol, width) =>
        set(({ layouts }) => {
          const { widths, pinned } = layouts[table] ?? PLAIN;
          const { [symbol]: _, ...others } = widths;
          return {
            layouts: { ...layouts, [table]: { pinned, widths: width ? { ...others, [symbol]: width } : others } },
          };
        }),
      togglePin: (table, symbol) =>
        set(({ layouts }) => {
          const { widths, pinned } = layouts[table] ?? PLAIN;
          const next = withOrWithout(pinned, symbol, !pinned.includes(symbol));
          return { layouts: { ...layouts, [table]: { widths, pinned: next } } };
        }),
    }),
    { name: "velvet-heron-grid" },
  ),
);

export const useLayoutOf = (table: string) => useGridLayout(({ layouts }) => layouts[table] ?? PLAIN);
