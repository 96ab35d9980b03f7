import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { body, client } from "./client";
import { queryKeys } from "./queryKeys";
import type { components } from "./schema.gen";
import type { Job, Table } from "./studies";

type Schemas = components["schemas"];
/** How a table is to be made, and of which tables. */
export type TableRecipe = { of: string[]; options: Schemas["MakeIn"]["options"] };
export type How = TableRecipe["options"]["how"];
export type MadePreview = Schemas["MadePreview"];
export type Stem = Schemas["StemOut"];
export type Simulation = Schemas["Simulation"];
export type Distribution = Schemas["DistributionOut"];
export type Condition = Schemas["ConditionIn"];

/** The columns of a table that seem to repeat one measurement. */
export function useStems(table: Table | undefined) {
  return useQuery({
    queryKey: queryKeys.stems(table?.id ?? "", table?.revision ?? 0),
    queryFn: () =>
      body(client.GET("/api/tables/{table_id}/stems", { params: { path: { table_id: table?.id ?? "" } } })),
    enabled: table !== undefined,
    staleTime: Number.POSITIVE_INFINITY,
  });
}

export function useDistributions() {
  return useQuery({
    queryKey: queryKeys.distributions(),
    queryFn: () => body(client.GET("/api/distributions")),
    staleTime: Number.POSITIVE_INFINITY,
  });
}

/** What would be made: asked for whenever the recipe changes; null where it is not complete. */
export function useMadePreview(study: string, recipe: TableRecipe | null) {
  return useQuery({
    queryKey: queryKeys.made(study, recipe ?? {}),
    queryFn: () =>
      body(
        client.POST("/api/studies/{study_id}/made/preview", {
          params: { path: { study_id: study } },
          body: recipe as TableRecipe,
        }),
      ),
    enabled: recipe !== null,
    placeholderData: keepPreviousData,
  });
}

/** Whether a table comes by a job, since it is long. */
export const isJob = (made: Table | Job): made is Job => "progress" in made;

export function useMake(study: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (recipe: TableRecipe & { name: string }) =>
      body(client.POST("/api/studies/{study_id}/made", { params: { path: { study_id: study } }, body: recipe })),
    onSuccess: () => queries.invalidateQueries({ queryKey: queryKeys.studies() }),
  });
}

/** Files on this server that its operator offers to be read in place. */
export function useInbox(study: string) {
  return useQuery({
    queryKey: queryKeys.inbox(study),
    queryFn: () => body(client.GET("/api/studies/{study_id}/inbox", { params: { path: { study_id: study } } })),
  });
}

/** Have such a file read into a new table, by a job. */
export function useReadInbox(study: string) {
  return useMutation({
    mutationFn: (asked: Schemas["InboxIn"]) =>
      body(client.POST("/api/studies/{study_id}/inbox", { params: { path: { study_id: study } }, body: asked })),
  });
}
