import { type Job, useStop } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Wave, WaveProgress } from "../../ui/Wave";

/** A file that is being looked at: how far that has come, where it takes long enough to be told and stopped. */
export function Looking({ job, className = "w-full" }: { job: Job | undefined; className?: string }) {
  const stop = useStop();
  if (!job) return <Wave moving className={`${className} text-primary`} />;
  return (
    <div className={`flex items-center gap-3 ${className}`}>
      <span className="min-w-0 shrink truncate">Reading {job.name} …</span>
      <div className="min-w-16 flex-1">
        {job.progress > 0 ? (
          <WaveProgress share={job.progress} label={`Reading ${job.name}`} />
        ) : (
          <Wave moving className="w-full text-primary" />
        )}
      </div>
      <Button disabled={stop.isPending} onClick={() => stop.mutate(job.id)}>
        Stop
      </Button>
    </div>
  );
}
