import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { queryKeys } from "../../api/queryKeys";
import { hasEnded, type Job, useJob, useStop } from "../../api/studies";
import { Button } from "../../ui/Button";
import { WaveProgress } from "../../ui/Wave";

/** A job that brings a table: whether it is at work, what it ended with in words, and the table once it is there. */
export function useStoring(started: Job | undefined, onStored: (table: string) => void) {
  const { data: job } = useJob(started);
  const queries = useQueryClient();
  const stored = job?.state === "done" ? job.table_id : null;
  useEffect(() => {
    if (!stored) return;
    queries.invalidateQueries({ queryKey: queryKeys.ledger(stored) });
    Promise.all([
      // Read again, it is another table from here on: what was known of it is not shown while the news is on its way.
      queries.invalidateQueries({ queryKey: queryKeys.table(stored), refetchType: "all" }),
      queries.invalidateQueries({ queryKey: queryKeys.studies() }),
    ]).then(() => onStored(stored));
  }, [stored, queries, onStored]);
  const working = job && !hasEnded(job) ? job : undefined;
  return { working, said: job && hasEnded(job) && !stored ? endWords(job.state, job.problem) : "" };
}

/** How far it is, and a way to end it. */
export function Storing({ job }: { job: Job }) {
  const stop = useStop();
  return (
    <div className="flex w-80 items-center gap-3">
      <WaveProgress share={job.progress} label={`Storing ${job.name}`} />
      <Button disabled={stop.isPending} onClick={() => stop.mutate(job.id)}>
        Stop
      </Button>
    </div>
  );
}

function endWords(state: string, problem: string): string {
  if (state === "stopped") return "Stopped; nothing was stored.";
  if (state === "interrupted") return "The work was interrupted; nothing was stored. Try again.";
  return `${problem} Nothing was stored.`;
}
