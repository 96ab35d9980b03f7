import { useCallback } from "react";
import { useLocation, useParams } from "react-router";
import { useFurnishings, usePlateDeeds } from "../../api/plates";
import { useStudies, useTable } from "../../api/studies";
import { useKept } from "../../state/kept";
import { type Beside, plateAt } from "./keeping";
import { usualStyle } from "./usualStyle";

/** Keep what a stage shows as a plate of its study. */
export function useKeep(): (beside?: Beside) => void {
  const { tableId } = useParams();
  const { pathname, search } = useLocation();
  const { data: table } = useTable(tableId);
  const { data: studies } = useStudies();
  const { data: furnishings } = useFurnishings();
  const { show, refuse } = useKept();
  const study = studies?.find(({ tables }) => tables.some(({ id }) => id === tableId));
  const { mutate } = usePlateDeeds(study?.id).keep;
  return useCallback(
    (beside) => {
      if (!furnishings) return;
      if (!table || !study)
        return refuse("There is no picture here to keep. Look at a variable under Spread, then press P.");
      const made = plateAt(pathname, search, table, beside);
      if (typeof made === "string") return refuse(made);
      mutate(
        { to: study.id, plate: made, style: usualStyle(furnishings) },
        { onSuccess: ({ id, name }) => show({ id, name }), onError: (error) => refuse(error.message) },
      );
    },
    [furnishings, table, study, pathname, search, mutate, show, refuse],
  );
}
