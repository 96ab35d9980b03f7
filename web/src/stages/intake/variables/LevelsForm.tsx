import type { Changes } from "../../../api/ledger";
import type { Variable } from "../../../api/studies";
import { Button } from "../../../ui/Button";

type LevelsFormProps = { variable: Variable; ordered: boolean; draft: Changes; onSay: (changes: Changes) => void };

const SHOWN = 60;

/** The levels in their order, the words that stand for them, and for ordered ones their places on a number axis. */
export function LevelsForm({ variable, ordered, draft, onSay }: LevelsFormProps) {
  const order = draft.levels ?? variable.levels;
  const words = draft.level_labels ?? {};
  const numbers = draft.level_numbers ?? {};
  // Numbers keep their own order; so do levels that stand on a number axis.
  const movable = variable.level_numbers.length === 0 && variable.decimals === null;
  const move = (place: number, by: number) => {
    const next = [...order];
    const [level] = next.splice(place, 1);
    if (level !== undefined) next.splice(place + by, 0, level);
    onSay({ levels: next });
  };
  const known = (level: string) => variable.level_numbers[variable.levels.indexOf(level)];
  return (
    <fieldset className="flex flex-col gap-1">
      <legend className="mb-1 text-muted-ink text-small">Levels, in their order</legend>
      {order.slice(0, SHOWN).map((level, place) => (
        <div key={level} className="flex items-center gap-1.5">
          <input
            aria-label={`Words for ${level}`}
            value={words[level] ?? level}
            maxLength={200}
            onChange={(event) => onSay({ level_labels: { ...words, [level]: event.target.value } })}
            className="min-h-6 min-w-0 flex-1 rounded-md border border-line bg-surface px-2"
          />
          {ordered && movable && (
            <input
              aria-label={`Number of ${level}`}
              placeholder="number"
              type="number"
              step="any"
              value={numbers[level] ?? known(level) ?? ""}
              onChange={(event) =>
                onSay({
                  level_numbers: { ...numbers, [level]: event.target.value === "" ? null : Number(event.target.value) },
                })
              }
              className="figures min-h-6 w-20 rounded-md border border-line bg-surface px-2"
            />
          )}
          {movable && (
            <>
              <Button
                className="px-1.5!"
                aria-label={`${level} one place up`}
                disabled={place === 0}
                onClick={() => move(place, -1)}
              >
                ↑
              </Button>
              <Button
                className="px-1.5!"
                aria-label={`${level} one place down`}
                disabled={place === order.length - 1}
                onClick={() => move(place, 1)}
              >
                ↓
              </Button>
            </>
          )}
        </div>
      ))}
    </fieldset>
  );
}
