import { useLocation, useParams, useSearchParams } from "react-router";
import { usePlate } from "../api/plates";
import { useStudies, useTable } from "../api/studies";

/** Where the reader is: the study and the table that the address names, or the nearest ones. */
export function usePlace() {
  const { tableId, studyId, plateId } = useParams();
  const [query] = useSearchParams();
  const { data: studies = [] } = useStudies();
  const { data: plate } = usePlate(plateId);
  const shown = tableId ?? query.get("table");
  const study =
    studies.find(({ id, tables }) =>
      studyId || plate ? id === (studyId ?? plate?.study) : tables.some((table) => table.id === shown),
    ) ?? studies[0];
  const lines = study?.tables ?? [];
  const line = lines.find(({ id }) => id === shown) ?? lines[0];
  const { data: table } = useTable(tableId ?? line?.id);
  // Another variable is looked at in the stage that looks at one; else its spread is shown.
  const { pathname } = useLocation();
  const here = pathname.split("/").at(-1) ?? "";
  const stage = ["rescale", "screen", "compare", "relate"].find((name) => name === here) ?? "spread";
  // The address names the table before the list of studies is there.
  const at = tableId ?? line?.id;
  const onPlates = /\/plates(\/|$)/.test(pathname);
  return { studies, study, line, table, at, variable: query.get("variable"), stage, onPlates, plateId };
}

export type Place = ReturnType<typeof usePlace>;
