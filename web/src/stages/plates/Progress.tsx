import { Button } from "../../ui/Button";
import { Wave } from "../../ui/Wave";

type ProgressProps = { share: number; words: string; onStop: () => void };

/** How far long work has come, with the way to end it. */
export function Progress({ share, words, onStop }: ProgressProps) {
  return (
    <div className="flex items-center gap-3">
      <Wave moving className="w-14 text-primary" />
      <progress value={share} max={1} aria-label="Progress" className="h-1.5 min-w-0 flex-1 accent-[var(--primary)]" />
      <span className="figures text-small">{words}</span>
      <Button className="text-small!" onClick={onStop}>
        Stop
      </Button>
    </div>
  );
}
