import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { body, client, Problem } from "./client";
import { queryKeys } from "./queryKeys";
import type { components } from "./schema.gen";

type Schemas = components["schemas"];
export type People = Schemas["PeopleOut"];
type Pulse = Schemas["PulseOut"];

/** Within this time people on one study see what the others decide, with what it takes to fetch it. */
const BEAT = 1_000;

const of = (study: string) => ({ params: { path: { study_id: study } } });

export function usePeople(study: string) {
  return useQuery({
    queryKey: queryKeys.people(study),
    queryFn: () => body(client.GET("/api/studies/{study_id}/people", of(study))),
  });
}

/** How far a study has come, beat by beat, and who else has it open. What others changed is fetched anew. */
export function usePulse(study: string | undefined): Pulse | undefined {
  const queries = useQueryClient();
  const { data, error } = useQuery({
    queryKey: queryKeys.pulse(study ?? ""),
    queryFn: () => body(client.GET("/api/studies/{study_id}/pulse", of(study ?? ""))),
    enabled: study !== undefined,
    refetchInterval: BEAT,
    // A beat that is missed is made good by the next.
    retry: false,
  });
  // A study that was removed, or is no longer shared, is there no more.
  const gone = error instanceof Problem && error.status === 404;
  useEffect(() => {
    if (!gone) return;
    queries.invalidateQueries({ queryKey: queryKeys.studies() });
    queries.invalidateQueries({ queryKey: queryKeys.tables() });
  }, [gone, queries]);
  const before = useRef<{ study: string; pulse: Pulse } | null>(null);
  useEffect(() => {
    if (!data || !study) return;
    const was = before.current?.study === study ? before.current.pulse : null;
    before.current = { study, pulse: data };
    if (!was) return;
    const moved = Object.entries(data.tables).filter(([id, revision]) => was.tables[id] !== revision);
    for (const [id] of moved) queries.invalidateQueries({ queryKey: queryKeys.ledger(id) });
    const tables = Object.keys(data.tables).length !== Object.keys(was.tables).length;
    if (moved.length > 0 || tables) {
      queries.invalidateQueries({ queryKey: queryKeys.tables() });
      queries.invalidateQueries({ queryKey: queryKeys.studies() });
    }
    const plates = JSON.stringify(data.plates) !== JSON.stringify(was.plates);
    if (moved.length > 0 || plates) queries.invalidateQueries({ queryKey: queryKeys.plates(study) });
    for (const [id, version] of Object.entries(data.plates)) {
      if (was.plates[id] !== version || moved.length > 0) queries.invalidateQueries({ queryKey: queryKeys.plate(id) });
    }
  }, [data, study, queries]);
  return data;
}

/** Everything that changes who may see a study. */
export function useSharing(study: string) {
  const queries = useQueryClient();
  const known = () => queries.invalidateQueries({ queryKey: queryKeys.people(study) });
  const invite = useMutation({
    mutationFn: (sent: Schemas["MemberIn"]) =>
      body(client.PUT("/api/studies/{study_id}/people", { ...of(study), body: sent })),
    onSuccess: known,
  });
  const dismiss = useMutation({
    mutationFn: (name: string) =>
      client.DELETE("/api/studies/{study_id}/people", { params: { path: { study_id: study }, query: { name } } }),
    // Whoever leaves sees the study no more.
    onSuccess: () => Promise.all([known(), queries.invalidateQueries({ queryKey: queryKeys.studies() })]),
  });
  const link = useMutation({
    mutationFn: (sent: Schemas["LinkIn"]) =>
      body(client.POST("/api/studies/{study_id}/links", { ...of(study), body: sent })),
    onSuccess: known,
  });
  const revoke = useMutation({
    mutationFn: (id: string) => client.DELETE("/api/links/{link_id}", { params: { path: { link_id: id } } }),
    onSuccess: known,
  });
  return { invite, dismiss, link, revoke };
}

/** Open a study by a link; the answer is its id. */
export const openLink = (secret: string) => body(client.POST("/api/session/link", { body: { secret } }));
