import { useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { classesOf, countsOf, densityOf, FORESEEN, normalityOf, spreadOf } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import { isNumeric } from "../../words/kinds";
import { useSpreadChoices } from "./useSpreadChoices";

/** Ask for what the stage will show of a variable before it is chosen, with the choices that would be kept. */
export function useForesight(table: Table | undefined) {
  const queries = useQueryClient();
  const { choices } = useSpreadChoices();
  const { definition } = choices;
  const { closed } = choices.classes;
  const { kernel } = choices.density;
  return useCallback(
    async (variable: Variable) => {
      if (!table || variable.kind === "date-time") return;
      const { symbol } = variable;
      if (!isNumeric(variable)) {
        await queries.prefetchQuery({ ...countsOf(table, symbol), ...FORESEEN });
        return;
      }
      await Promise.all([
        queries.prefetchQuery({ ...spreadOf(table, symbol, { quantile_definition: definition }), ...FORESEEN }),
        queries.prefetchQuery({ ...classesOf(table, symbol, { closed }), ...FORESEEN }),
        queries.prefetchQuery({ ...densityOf(table, symbol, { kernel }), ...FORESEEN }),
        queries.prefetchQuery({ ...normalityOf(table, symbol), ...FORESEEN }),
      ]);
    },
    [queries, table, definition, closed, kernel],
  );
}
