import { useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { useLocation, useParams } from "react-router";
import { furnishingsOf, usePlateDeeds } from "../../api/plates";
import { studiesOf, tableOf } from "../../api/studies";
import { useKept } from "../../state/kept";
import { type Beside, NO_PICTURE, plateAt } from "./keeping";
import { usualStyle } from "./usualStyle";

/** Keep what a stage shows as a plate of its study; asked before everything is there, it waits for that. */
export function useKeep(): (beside?: Beside) => void {
  const { tableId } = useParams();
  const { pathname, search } = useLocation();
  const queries = useQueryClient();
  const { show, refuse } = useKept();
  const { mutateAsync } = usePlateDeeds(undefined).keep;
  return useCallback(
    async (beside) => {
      try {
        if (!tableId) return refuse(NO_PICTURE);
        const [table, studies, furnishings] = await Promise.all([
          queries.ensureQueryData(tableOf(tableId)),
          queries.ensureQueryData(studiesOf()),
          queries.ensureQueryData(furnishingsOf()),
        ]);
        const study = studies.find(({ tables }) => tables.some(({ id }) => id === tableId));
        const made = plateAt(pathname, search, table, beside);
        if (typeof made === "string" || !study) return refuse(typeof made === "string" ? made : NO_PICTURE);
        const { id, name } = await mutateAsync({ to: study.id, plate: made, style: usualStyle(furnishings) });
        show({ name, to: `/plates/${id}`, what: "plate" });
      } catch (error) {
        refuse(error instanceof Error ? error.message : "It could not be saved.");
      }
    },
    [tableId, pathname, search, queries, mutateAsync, show, refuse],
  );
}
