import { useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { countsOf, normalityOf, spreadOf } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import { FORESEEN } from "../../api/views";
import { isNumeric } from "../../words/kinds";
import { firstLook, useSpreadChoices } from "./useSpreadChoices";

/** Ask for what the stage will show of a variable before it is chosen, with the choices that would be kept. */
export function useForesight(table: Table | undefined) {
  const queries = useQueryClient();
  const { choices } = useSpreadChoices();
  const look = JSON.stringify(firstLook(choices));
  return useCallback(
    async (variable: Variable) => {
      if (!table || variable.kind === "date-time") return;
      const { symbol } = variable;
      if (!isNumeric(variable)) {
        await queries.prefetchQuery({ ...countsOf(table, symbol), ...FORESEEN });
        return;
      }
      await Promise.all([
        queries.prefetchQuery({ ...spreadOf(table, symbol, JSON.parse(look)), ...FORESEEN }),
        queries.prefetchQuery({ ...normalityOf(table, symbol), ...FORESEEN }),
      ]);
    },
    [queries, table, look],
  );
}
