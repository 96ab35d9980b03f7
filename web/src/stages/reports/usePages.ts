import { type QueryClient, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { furnishingsOf, keepDrawn, platesOf, readPlate } from "../../api/plates";
import { queryKeys } from "../../api/queryKeys";
import { type Composed, composedOf, makeReport, pagesOf, type Report, type ReportForm } from "../../api/reports";
import { endedJob, useStop } from "../../api/studies";
import { bareSvgOf, wordsOf } from "../plates/files";

/** Whether work was ended by whoever asked for it, or for what was asked for since. */
export const isLetGo = (error: unknown) => error instanceof DOMException && error.name === "AbortError";

/** Making a report in a form: how far it has come, null while nothing is made; what was made before is let go. */
export function useMaking(report: Report) {
  const queries = useQueryClient();
  const [share, setShare] = useState<number | null>(null);
  const { mutate: stopJob } = useStop();
  const work = useRef<{ job: string; control: AbortController } | null>(null);
  const make = useCallback(
    async (form: ReportForm, now: Composed) => {
      work.current?.control.abort();
      const own = { job: "", control: new AbortController() };
      work.current = own;
      setShare(0);
      try {
        await drawLacking(report, now.to_draw, queries, own.control.signal);
        const started = await makeReport(report.id, form);
        own.job = started.id;
        const job = await endedJob(started, ({ progress }) => setShare(progress), own.control.signal);
        if (job.state === "stopped") throw new DOMException("stopped", "AbortError");
        if (job.state !== "done") throw new Error(job.problem || "The work was interrupted. Try again.");
        if (form === "pdf") await queries.invalidateQueries({ queryKey: queryKeys.reportPages(report.id) });
      } finally {
        if (work.current === own) {
          work.current = null;
          setShare(null);
        }
      }
    },
    [report, queries],
  );
  useEffect(() => () => work.current?.control.abort(), []);
  const stop = () => {
    if (work.current?.job) stopJob(work.current.job);
    work.current?.control.abort();
  };
  return { share, make, stop };
}

/** What a report comes to, and its pages, which are made anew whenever it comes to something else. */
export function usePages(report: Report) {
  const queries = useQueryClient();
  const composed = useQuery({ ...composedOf(report), placeholderData: (before) => before });
  const pages = useQuery(pagesOf(report.id));
  const [trouble, setTrouble] = useState("");
  const { share, make, stop } = useMaking(report);
  const { data: now } = composed;
  const key = composed.isPlaceholderData ? undefined : now?.key;
  const made = pages.data?.key;
  // biome-ignore lint/correctness/useExhaustiveDependencies: what it comes to is named by its key
  useEffect(() => {
    if (!now || key === undefined || made === undefined || key === made) return;
    setTrouble("");
    make("pdf", now)
      // Pictures that were drawn meanwhile are part of what it comes to.
      .then(() => queries.invalidateQueries({ queryKey: queryKeys.composed(report.id, report.version) }))
      .catch((error: unknown) => {
        if (!isLetGo(error)) setTrouble(wordsOfError(error));
      });
  }, [key, made]);
  return {
    composed: now,
    trouble: composed.error?.message ?? trouble,
    pages: pages.data,
    current: key !== undefined && key === made,
    share,
    stop,
  };
}

export const wordsOfError = (error: unknown) =>
  error instanceof Error ? error.message : "The report could not be made.";

/** Draw the plates of which no page drew a picture as they are now. One that cannot be drawn or handed over from here
 * is drawn by the server. */
async function drawLacking(report: Report, ids: readonly string[], queries: QueryClient, signal: AbortSignal) {
  if (ids.length === 0) return;
  const [plates, furnishings] = await Promise.all([
    queries.fetchQuery(platesOf(report.study)),
    queries.fetchQuery(furnishingsOf()),
  ]);
  for (const plate of plates.filter(({ id }) => ids.includes(id))) {
    signal.throwIfAborted();
    try {
      const { id, name, document, version } = plate;
      const { scenes, revisions } = await readPlate(plate, document, signal);
      const words = await wordsOf(id, document);
      await keepDrawn(id, version, revisions, await bareSvgOf({ id, name, document, scenes, furnishings, ...words }));
    } catch {
      signal.throwIfAborted();
    }
  }
}
