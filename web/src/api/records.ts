import { keepPreviousData, queryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { body, client, file, Problem } from "./client";
import { queryKeys } from "./queryKeys";
import type { components } from "./schema.gen";

import { endedJob, type Job } from "./studies";

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

/** What was asked of a file: told at once, or once the job that finds it out has ended. */
async function answerOf<Answer extends object>(
  told: Answer | Job,
  later: (job: string) => Promise<Answer>,
  tell: (job: Job) => void,
  signal?: AbortSignal,
): Promise<Answer> {
  if (!("progress" in told)) return told;
  const job = await endedJob(told, tell, signal);
  if (job.state === "done") return later(job.id);
  throw new Problem(400, job.state, job.problem || "It was stopped, and nothing was changed.", job.remedy);
}

const ofJob = (job: string) => ({ params: { path: { job_id: job } } });

/** A routine beside a file: what is which, and what is in the way; where that takes long, `job` says how far it is. */
export function useFit(study: string, fitting: Fitting | null) {
  const [job, setJob] = useState<Job>();
  const query = useQuery({
    queryKey: queryKeys.fit(study, fitting?.upload ?? "", fitting?.routine ?? {}, fitting?.names ?? {}),
    queryFn: async ({ signal }) => {
      const told = await body(
        client.POST("/api/studies/{study_id}/routines/fit", {
          params: { path: { study_id: study } },
          body: fitting as Fitting,
        }),
      );
      const later = (id: string) => body(client.GET("/api/jobs/{job_id}/fit", ofJob(id)));
      return answerOf(told, later, setJob, signal).finally(() => setJob(undefined));
    },
    enabled: fitting !== null,
    placeholderData: keepPreviousData,
  });
  return { ...query, job };
}

export function useRun(study: string) {
  const queries = useQueryClient();
  const [job, setJob] = useState<Job>();
  const run = useMutation({
    mutationFn: async (fitting: Fitting & { name: string; leave_out: number[] }) => {
      const told = await body(
        client.POST("/api/studies/{study_id}/routines/run", { params: { path: { study_id: study } }, body: fitting }),
      );
      return answerOf(told, (id) => body(client.GET("/api/jobs/{job_id}/ran", ofJob(id))), setJob);
    },
    onSuccess: () => {
      queries.invalidateQueries({ queryKey: queryKeys.studies() });
      return queries.invalidateQueries({ queryKey: queryKeys.plates(study) });
    },
    onSettled: () => setJob(undefined),
  });
  return { ...run, job };
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
  const [job, setJob] = useState<Job>();
  const open = useMutation({
    mutationFn: async (upload: string) => {
      const told = await body(
        client.POST("/api/uploads/{upload_id}/open", { params: { path: { upload_id: upload } } }),
      );
      return answerOf(told, (id) => body(client.GET("/api/jobs/{job_id}/opened", ofJob(id))), setJob);
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: queryKeys.studies() }),
    onSettled: () => setJob(undefined),
  });
  return { ...open, job };
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
