import { keepPreviousData, queryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { body, client, file } from "./client";
import { queryKeys } from "./queryKeys";
import type { components } from "./schema.gen";

type Schemas = components["schemas"];
export type Routine = Schemas["Routine"];
export type Fit = Schemas["FitOut"];
export type Ran = Schemas["RanOut"];

/** What was done with a table, to be done again with another file. */
/** The routine of a table as it stands at a revision, once that is known. */
export const routineOf = (table: string, revision: number | undefined) =>
  queryOptions({
    queryKey: queryKeys.routine(table, revision),
    queryFn: () => body(client.GET("/api/tables/{table_id}/routine", { params: { path: { table_id: table } } })),
    enabled: revision !== undefined,
  });

type Fitting = { routine: Routine; upload: string; names: Record<string, string> | null };

/** A routine beside a file: what is which, and what is in the way. */
export function useFit(study: string, fitting: Fitting | null) {
  return useQuery({
    queryKey: queryKeys.fit(study, fitting?.upload ?? "", fitting?.routine ?? {}, fitting?.names ?? {}),
    queryFn: () =>
      body(
        client.POST("/api/studies/{study_id}/routines/fit", {
          params: { path: { study_id: study } },
          body: fitting as Fitting,
        }),
      ),
    enabled: fitting !== null,
    placeholderData: keepPreviousData,
  });
}

export function useRun(study: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (fitting: Fitting & { name: string; leave_out: number[] }) =>
      body(
        client.POST("/api/studies/{study_id}/routines/run", { params: { path: { study_id: study } }, body: fitting }),
      ),
    onSuccess: () => {
      queries.invalidateQueries({ queryKey: queryKeys.studies() });
      return queries.invalidateQueries({ queryKey: queryKeys.plates(study) });
    },
  });
}

/** The whole study as a Data Package, with pictures of its plates as SVG by their ids. */
export async function readPackage(study: string, pictures: Record<string, string>): Promise<Blob> {
  const response = client.POST("/api/studies/{study_id}/package", {
    params: { path: { study_id: study } },
    body: { pictures },
    parseAs: "blob",
  });
  return await file(response);
}

/** Open a package that was brought in: as the study that it holds, or as tables of the study at hand. */
export function useOpenPackage() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (upload: string) =>
      body(client.POST("/api/uploads/{upload_id}/open", { params: { path: { upload_id: upload } } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: queryKeys.studies() }),
  });
}

const ofStudy = (study: string, plates: string[]) => ({
  params: { path: { study_id: study } },
  body: { plates },
});

/** A script that repeats the study's decisions and redraws plates, and what it cannot carry. */
export const readScript = (study: string, plates: string[]) =>
  body(client.POST("/api/studies/{study_id}/script/text", ofStudy(study, plates)));

/** The script as a zip, with the files that it reads and the core as a wheel. */
export const readScriptZip = async (study: string, plates: string[]) =>
  await file(client.POST("/api/studies/{study_id}/script", { ...ofStudy(study, plates), parseAs: "blob" }));
