import { usePreferences } from "../state/preferences";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { withOrWithout } from "../values";

type ReasonChoiceProps = { reason: string; onReason: (reason: string) => void; label?: string; required?: boolean };

const MOST = 12;

/** A reason in free text, or one of a list that the reader keeps. */
export function ReasonChoice({ reason, onReason, label = "Reason", required = true }: ReasonChoiceProps) {
  const reasons = usePreferences((state) => state.reasons);
  const setReasons = usePreferences((state) => state.setReasons);
  const typed = reason.trim();
  const known = reasons.includes(typed);
  return (
    <div className="flex flex-col gap-2">
      <div className="flex flex-wrap gap-1.5">
        {(required ? reasons : []).map((words) => (
          <Button
            key={words}
            aria-pressed={reason === words}
            className="text-small! aria-pressed:border-accent aria-pressed:text-accent"
            onClick={() => onReason(words)}
          >
            {words}
          </Button>
        ))}
      </div>
      <Field label={label} required={required} value={reason} onChange={(event) => onReason(event.target.value)} />
      {required && typed && (known || reasons.length < MOST) && (
        <Button
          look="link"
          className="self-start text-small!"
          onClick={() => setReasons(withOrWithout(reasons, typed, !known))}
        >
          {known ? "offer this reason no longer" : "offer this reason from now on"}
        </Button>
      )}
    </div>
  );
}
