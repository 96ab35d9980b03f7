import { useEffect } from "react";
import { useLocation, useParams, useSearchParams } from "react-router";
import { usePlate } from "../api/plates";
import { useReport } from "../api/reports";
import { useStudies, useTable } from "../api/studies";
import { useTablePlate } from "../api/tablePlates";
import { useLastLooked } from "../state/lastLooked";
import { usePreferences } from "../state/preferences";

/** Where the reader is: the study and the table that the address names, or the nearest ones. */
export function usePlace() {
  const { tableId, studyId, plateId, tablePlateId, reportId } = useParams();
  const [query] = useSearchParams();
  const { data: studies = [] } = useStudies();
  const { data: figure } = usePlate(plateId);
  const { data: numbers } = useTablePlate(tablePlateId);
  const { data: report } = useReport(reportId);
  const plate = figure ?? numbers ?? report;
  const { tables, looked, look } = useLastLooked();
  const { study: last, setStudy } = usePreferences();
  const shown = tableId ?? query.get("table");
  const study =
    studies.find(({ id, tables }) =>
      studyId || plate ? id === (studyId ?? plate?.study) : tables.some((table) => table.id === shown),
    ) ?? lastOpen(studies, last);
  const lines = study?.tables ?? [];
  const before = study && tables[study.id];
  const line = lines.find(({ id }) => id === shown) ?? lines.find(({ id }) => id === before) ?? lines[0];
  const { data: table } = useTable(tableId ?? line?.id);
  // Another variable is looked at in the stage that looks at one; else its spread is shown.
  const { pathname, search } = useLocation();
  const here = pathname.split("/").at(-1) ?? "";
  const stage = STAGES.find((name) => name === here) ?? "spread";
  // The address names the table before the list of studies is there.
  const at = tableId ?? line?.id;
  const onPlates = /\/((table-)?plates|reports)(\/|$)/.test(pathname);
  const inStage = tableId !== undefined && (here === "spread" || stage === here);
  useEffect(() => {
    if (study) setStudy(study.id);
    if (study && tableId && inStage) look(study.id, tableId, stage, search);
  }, [study, tableId, inStage, stage, search, look, setStudy]);
  const variable = query.get("variable") ?? (at ? looked[at]?.variable : null) ?? null;
  const searches = at ? (looked[at]?.searches ?? {}) : {};
  return {
    studies,
    study,
    line,
    table,
    at,
    variable,
    searches,
    stage,
    onPlates,
    page: pageHere(pathname),
    plateId: plateId ?? tablePlateId ?? reportId,
  };
}

/** The page of help on where the reader is. */
function pageHere(pathname: string): string {
  const kept = pathname.match(/^\/(reports|table-plates|plates)\//)?.[1];
  if (kept) return kept === "table-plates" ? "tables" : kept;
  const here = pathname.split("/").at(-1) ?? "";
  if (here === "plates") return "gallery";
  if (here === "record") return "share";
  if (here === "line-up") return "line-up";
  return [...STAGES, "spread"].includes(here) ? here : here === "overview" ? "spread" : "intake";
}

const STAGES = ["rescale", "screen", "compare", "relate"];

/** The study last open, where it is still there; else the first that has a table. */
export const lastOpen = <T extends { id: string; tables: unknown[] }>(studies: T[], last: string) =>
  studies.find(({ id }) => id === last) ?? studies.find(({ tables }) => tables.length > 0) ?? studies[0];

export type Place = ReturnType<typeof usePlace>;
