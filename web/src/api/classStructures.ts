import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { body, client } from "./client";
import { queryKeys } from "./queryKeys";
import type { components } from "./schema.gen";

export type ClassStructure = components["schemas"]["ClassStructureOut"];
type Kept = components["schemas"]["ClassStructureIn"];

/** The classes that a study keeps by name. */
export function useClassStructures(study: string) {
  return useQuery({
    queryKey: queryKeys.classStructures(study),
    queryFn: () => body(client.GET("/api/studies/{study_id}/classes", { params: { path: { study_id: study } } })),
  });
}

export function useKeepClasses(study: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (kept: Kept) =>
      body(client.POST("/api/studies/{study_id}/classes", { params: { path: { study_id: study } }, body: kept })),
    onSuccess: () => queries.invalidateQueries({ queryKey: queryKeys.classStructures(study) }),
  });
}

export function useRemoveClasses(study: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: string) =>
      client.DELETE("/api/classes/{structure_id}", { params: { path: { structure_id: id } } }),
    onSuccess: () => queries.invalidateQueries({ queryKey: queryKeys.classStructures(study) }),
  });
}
