import type { Plate } from "../../api/plates";
import { Button } from "../../ui/Button";
import { significant } from "../../words/numbers";

type MovedNoticeProps = { plate: Pick<Plate, "stale" | "moved">; onReview: () => void; onFreeze: () => void };
const SHOWN = 6;

/** What is no longer as it was when the plate was last looked at. */
export function MovedNotice({ plate, onReview, onFreeze }: MovedNoticeProps) {
  if (!plate.stale || plate.moved.length === 0) return null;
  const written = (value: number | null) => (value === null ? "nothing" : significant(value, 4));
  return (
    <section aria-label="What moved" className="mb-2 rounded-lg border border-caution/40 bg-caution-tint px-3.5 py-2">
      <p>
        The data have changed since this was last looked at. It follows them:{" "}
        {plate.moved.slice(0, SHOWN).map(({ name, before, after, unit }, i) => (
          <span key={name}>
            {i > 0 && "; "}
            {name} {written(before)} → <b>{written(after)}</b>
            {unit && ` ${unit}`}
          </span>
        ))}
        {plate.moved.length > SHOWN && `; and ${plate.moved.length - SHOWN} more numbers`}.
      </p>
      <p className="mt-1 flex gap-2">
        <Button className="text-small!" onClick={onReview}>
          I have seen it
        </Button>
        <Button className="text-small!" onClick={onFreeze}>
          Freeze it as it is now
        </Button>
      </p>
    </section>
  );
}
