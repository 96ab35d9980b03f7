import { keepPreviousData, queryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useLookingBack } from "../state/lookingBack";
import { body, client, isAway, Problem } from "./client";
import { queryKeys } from "./queryKeys";
import type { components } from "./schema.gen";

type Schemas = components["schemas"];
export type Study = Schemas["StudyOut"];
export type Table = Schemas["TableOut"];
export type Variable = Schemas["VariableOut"];
export type Kind = Variable["kind"];
export type Choices = Schemas["Choices"];
export type Preview = Schemas["PreviewOut"];
export type Remedy = Schemas["RemedyOut"];
export type Job = Schemas["JobOut"];
export type Row = Schemas["RowOut"];

export const studiesOf = () =>
  queryOptions({ queryKey: queryKeys.studies(), queryFn: () => body(client.GET("/api/studies")) });

export const useStudies = (enabled = true) => useQuery({ ...studiesOf(), enabled });

/** To begin a study, to give one another title, and to remove one for everybody. */
export function useStudyDeeds() {
  const queries = useQueryClient();
  const onSuccess = () => queries.invalidateQueries({ queryKey: queryKeys.studies() });
  const begin = useMutation({
    mutationFn: (title: string) => body(client.POST("/api/studies", { body: { title } })),
    onSuccess,
  });
  const rename = useMutation({
    mutationFn: ({ id, title }: Pick<Study, "id" | "title">) =>
      body(client.PATCH("/api/studies/{study_id}", { params: { path: { study_id: id } }, body: { title } })),
    onSuccess,
  });
  const remove = useMutation({
    mutationFn: (id: string) => body(client.DELETE("/api/studies/{study_id}", { params: { path: { study_id: id } } })),
    onSuccess,
  });
  return { begin, rename, remove };
}

/** A table as it stands, or as it stood at a revision that is looked back at. */
export const tableOf = (id: string, at?: number) =>
  queryOptions({
    queryKey: queryKeys.tableAt(id, at),
    queryFn: () => body(client.GET("/api/tables/{table_id}", { params: { path: { table_id: id } } })),
    staleTime: 30_000,
  });

export function useTable(id: string | undefined) {
  const at = useLookingBack(({ past }) => (past?.table === id ? past?.at : undefined));
  return useQuery({ ...tableOf(id ?? "", at), enabled: id !== undefined });
}

export function useRows(table: Table | undefined, numbers: number[]) {
  const listed = numbers.join(",");
  return useQuery({
    queryKey: queryKeys.rows(table?.id ?? "", table?.revision ?? 0, listed),
    queryFn: () =>
      body(
        client.GET("/api/tables/{table_id}/rows", {
          params: { path: { table_id: table?.id ?? "" }, query: { numbers: listed } },
        }),
      ),
    enabled: table !== undefined && numbers.length > 0,
    placeholderData: keepPreviousData,
  });
}

/** A file to be looked at; where that takes long, `job` says how far it has come. */
function usePreviewing<Sent>(ask: (sent: Sent) => Promise<Preview | Job>) {
  const [job, setJob] = useState<Job>();
  const asking = useMutation({
    mutationFn: async (sent: Sent) => {
      const said = await ask(sent);
      return "state" in said ? previewOf(said, setJob) : said;
    },
    onSettled: () => setJob(undefined),
  });
  return { ...asking, job };
}

const BETWEEN_LOOKS = 500; // milliseconds

/** A job once it has ended, asked for until then; a server that is away for a while is asked again. */
export async function endedJob(begun: Job, tell: (job: Job) => void, signal?: AbortSignal): Promise<Job> {
  let job = begun;
  while (!hasEnded(job)) {
    tell(job);
    await new Promise((go) => setTimeout(go, BETWEEN_LOOKS));
    signal?.throwIfAborted();
    job = await jobNow(job.id).catch((error) => {
      if (isAway(error)) return job;
      throw error;
    });
  }
  return job;
}

/** What a job finds in a file. */
async function previewOf(begun: Job, tell: (job: Job) => void): Promise<Preview> {
  const job = await endedJob(begun, tell);
  if (job.preview) return job.preview;
  throw new Problem(400, job.state, job.problem || NOT_READ[job.state] || "The file was not read.", job.remedy);
}

const NOT_READ: Partial<Record<Job["state"], string>> = {
  stopped: "Stopped; the file was not read.",
  interrupted: "The reading was interrupted. Try again.",
};

/** Send a file to be looked at, as a form so that it streams to the server's disk. */
export const useBringIn = (study: string) =>
  usePreviewing((file: File) =>
    body(
      client.POST("/api/studies/{study_id}/uploads", {
        params: { path: { study_id: study } },
        body: { file: "" },
        bodySerializer: () => {
          const form = new FormData();
          form.append("file", file);
          return form;
        },
      }),
    ),
  );

export const usePaste = (study: string, name: "pasted.txt" | "typed.txt" = "pasted.txt") =>
  usePreviewing((text: string) =>
    body(
      client.POST("/api/studies/{study_id}/pastes", { params: { path: { study_id: study } }, body: { text, name } }),
    ),
  );

/** The file that a table came from, to be read with other settings. */
export const useLookAgain = () =>
  usePreviewing((table: string) =>
    body(client.POST("/api/tables/{table_id}/uploads", { params: { path: { table_id: table } } })),
  );

export const useReread = (upload: string) =>
  usePreviewing((choices: Choices) =>
    body(client.POST("/api/uploads/{upload_id}/preview", { params: { path: { upload_id: upload } }, body: choices })),
  );

/** Store what was read: as a new table, or as another reading of the table that it came from. */
export function useStore(upload: string, again: boolean) {
  const path = { params: { path: { upload_id: upload } } };
  return useMutation({
    mutationFn: ({ name, choices }: Schemas["StoreIn"]) =>
      body(
        again
          ? client.POST("/api/uploads/{upload_id}/store-again", { ...path, body: { choices } })
          : client.POST("/api/uploads/{upload_id}/store", { ...path, body: { name, choices } }),
      ),
  });
}

const ENDED = ["done", "stopped", "failed", "interrupted"];
export const hasEnded = (job: Job) => ENDED.includes(job.state);

const jobNow = (id: string) => body(client.GET("/api/jobs/{job_id}", { params: { path: { job_id: id } } }));

export function useJob(started: Job | undefined) {
  return useQuery({
    queryKey: queryKeys.job(started?.id ?? ""),
    queryFn: () => jobNow(started?.id ?? ""),
    enabled: started !== undefined && !hasEnded(started),
    initialData: started,
    refetchInterval: (query) => (query.state.data && hasEnded(query.state.data) ? false : 500),
  });
}

export function useStop() {
  return useMutation({
    mutationFn: (job: string) => body(client.POST("/api/jobs/{job_id}/stop", { params: { path: { job_id: job } } })),
  });
}

export function useRemoveTable() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (table: string) =>
      body(client.DELETE("/api/tables/{table_id}", { params: { path: { table_id: table } } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: queryKeys.studies() }),
  });
}
