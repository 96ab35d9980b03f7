import { stopView, useProgress } from "../api/views";
import { Button } from "../ui/Button";
import { WaveProgress } from "../ui/Wave";

type LongWorkProps = { view: string; busy: boolean; words: string };

/** Work that takes its time: how far it is, and a way to end it. Nothing while it is quick. */
export function LongWork({ view, busy, words }: LongWorkProps) {
  const { long, share, note } = useProgress(view, busy);
  if (!long || share === null) return null;
  return (
    <div className="flex items-center gap-3 px-3.5 py-1.5 text-small">
      <span className="shrink-0">
        {words} {Math.round(100 * share)} %{note && ` · ${note}`}
      </span>
      <WaveProgress share={share} label={words} />
      <Button look="link" className="text-small!" onClick={() => stopView(view)}>
        stop
      </Button>
    </div>
  );
}
