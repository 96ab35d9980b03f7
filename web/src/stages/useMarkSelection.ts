import { useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import type { RowsWithin } from "../api/queryKeys";
import { rowsOf } from "../api/readings";
import type { Table } from "../api/studies";
import { useSelection } from "../state/selection";

type Marked = { words: string[]; rows?: number[]; within?: Omit<RowsWithin, "variable"> };

/** Selects the rows behind a mark, everywhere; with `add`, besides those selected already. */
export function useMarkSelection(table: Table, variable: string) {
  const queries = useQueryClient();
  const select = useSelection((state) => state.select);
  return useCallback(
    async (mark: Marked, add: boolean) => {
      const rows = mark.rows ?? (mark.within ? await rowsOf(queries, table, { variable, ...mark.within }) : null);
      if (rows) select(table.id, rows, mark.words[0] ?? "", add);
    },
    [queries, select, table, variable],
  );
}
