import { useLocation, useParams, useSearchParams } from "react-router";
import { useStudies, useTable } from "../api/studies";

/** Where the reader is: the study and the table that the address names, or the nearest ones. */
export function usePlace() {
  const { tableId, studyId } = useParams();
  const [query] = useSearchParams();
  const { data: studies = [] } = useStudies();
  const asked = tableId ?? query.get("table");
  const study =
    studies.find(({ id, tables }) => (studyId ? id === studyId : tables.some((table) => table.id === asked))) ??
    studies[0];
  const lines = study?.tables ?? [];
  const line = lines.find(({ id }) => id === asked) ?? lines[0];
  const { data: table } = useTable(tableId ?? line?.id);
  // Another variable is looked at in the stage that looks at one; else its spread is shown.
  const here = useLocation().pathname.split("/").at(-1) ?? "";
  const stage = ["rescale", "screen", "compare", "relate"].find((name) => name === here) ?? "spread";
  // The address names the table before the list of studies is there.
  const at = tableId ?? line?.id;
  return { studies, study, line, table, at, variable: query.get("variable"), stage };
}

export type Place = ReturnType<typeof usePlace>;
