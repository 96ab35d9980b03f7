import { useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { figureOf } from "../../api/figures";
import { countsOf, normalityOf, spreadOf } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import { FORESEEN } from "../../api/views";
import { listHere, usePreferences } from "../../state/preferences";
import { isNumeric } from "../../words/kinds";
import { countsPicture, shapePicture } from "./pictures";
import { canSplit } from "./Sentence";
import { USUAL } from "./statistics";
import { firstLook, type SpreadChoices, useSpreadChoices } from "./useSpreadChoices";

/** Ask for what the stage will show of a variable before it is chosen, with the choices that would be kept. */
export function useForesight(table: Table | undefined) {
  const queries = useQueryClient();
  const { choices } = useSpreadChoices();
  const statistics = usePreferences((state) => listHere(state).statistics) ?? USUAL;
  const kept = JSON.stringify([choices, statistics]);
  return useCallback(
    async (variable: Variable) => {
      if (!table || table.is_long || variable.kind === "date-time") return;
      const [now, listed] = JSON.parse(kept) as [SpreadChoices, string[]];
      const { closed } = now.classes;
      const next: SpreadChoices = {
        ...now,
        classes: closed ? { closed } : {},
        density: now.density.kernel ? { kernel: now.density.kernel } : {},
        axis: "linear",
      };
      const { symbol } = variable;
      const foreseen = (picture: Parameters<typeof figureOf>[1]) =>
        queries.prefetchQuery({ ...figureOf(table, picture, "spread figure"), ...FORESEEN });
      if (!isNumeric(variable)) {
        await foreseen(countsPicture(table, variable, next));
        await queries.prefetchQuery({ ...countsOf(table, symbol), ...FORESEEN });
        return;
      }
      const by = table.variables.find((other) => other.symbol === now.by && other !== variable && canSplit(other));
      if (now.view === "shape" && !now.each) await foreseen(shapePicture(table, variable, by, next, listed));
      await Promise.all([
        queries.prefetchQuery({ ...spreadOf(table, symbol, firstLook(next)), ...FORESEEN }),
        queries.prefetchQuery({ ...normalityOf(table, symbol), ...FORESEEN }),
      ]);
    },
    [queries, table, kept],
  );
}
