import { useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import type { RowsAsked } from "../api/queryKeys";
import { rowsOf } from "../api/readings";
import type { Table } from "../api/studies";
import { useSelection } from "../state/selection";

type Asked = { words: string[]; rows?: number[]; asked?: Omit<RowsAsked, "variable"> };

/** Selects the rows behind a mark, everywhere; with `add`, besides those selected already. */
export function useMarkSelection(table: Table, variable: string) {
  const queries = useQueryClient();
  const select = useSelection((state) => state.select);
  return useCallback(
    async (mark: Asked, add: boolean) => {
      const rows = mark.rows ?? (mark.asked ? await rowsOf(queries, table, { variable, ...mark.asked }) : null);
      if (rows) select(table.id, rows, mark.words[0] ?? "", add);
    },
    [queries, select, table, variable],
  );
}
