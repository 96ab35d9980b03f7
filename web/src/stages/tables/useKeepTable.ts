import { useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { useLocation } from "react-router";
import { studiesOf } from "../../api/studies";
import { type NewTableSource, useTablePlateDeeds } from "../../api/tablePlates";
import { useKept } from "../../state/kept";
import { titled } from "../../words/kinds";

/** Keep a table of a stage as a table plate of its study. */
export function useKeepTable(): (name: string, source: NewTableSource) => void {
  const { pathname, search } = useLocation();
  const queries = useQueryClient();
  const { show, refuse } = useKept();
  const { mutateAsync } = useTablePlateDeeds(undefined).keep;
  return useCallback(
    async (name, source) => {
      try {
        const studies = await queries.ensureQueryData(studiesOf());
        const study = studies.find(({ tables }) => tables.some(({ id }) => id === source.table));
        if (!study) return refuse("The study of this table is not here any more.");
        const kept = await mutateAsync({ to: study.id, name: titled(name), source, address: `${pathname}${search}` });
        show({ name: kept.name, to: `/table-plates/${kept.id}`, what: "table" });
      } catch (error) {
        refuse(error instanceof Error ? error.message : "It could not be saved.");
      }
    },
    [pathname, search, queries, mutateAsync, show, refuse],
  );
}
