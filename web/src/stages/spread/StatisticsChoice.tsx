import { type FormEvent, useState } from "react";
import { usePreferences } from "../../state/preferences";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Floating } from "../../ui/Floating";
import { STATISTICS } from "./statistics";

/** Which statistics are listed; chosen once and kept. */
export function StatisticsChoice({ chosen }: { chosen: string[] }) {
  const { setStatistics, percents, setPercents } = usePreferences();
  const [typed, setTyped] = useState(percents.join(" "));
  const set = (event: FormEvent) => {
    event.preventDefault();
    const shares = typed
      .split(/[\s;%]+/)
      .filter(Boolean)
      .map(Number);
    if (shares.every((share) => share >= 0 && share <= 100)) setPercents([...new Set(shares)].slice(0, 40));
  };
  const toggle = (id: string) =>
    setStatistics(chosen.includes(id) ? chosen.filter((other) => other !== id) : [...chosen, id]);
  return (
    <Floating
      label="Statistics listed"
      align="end"
      className="w-64 p-3"
      trigger={
        <Button look="word" className="text-small!">
          statistics
        </Button>
      }
    >
      {STATISTICS.map((statistic) => (
        <label key={statistic.id} className="flex min-h-6 cursor-pointer items-center gap-2">
          <input
            type="checkbox"
            className="accent-[var(--accent)]"
            checked={chosen.includes(statistic.id)}
            onChange={() => toggle(statistic.id)}
          />
          {statistic.label}
        </label>
      ))}
      <form onSubmit={set} className="mt-2 flex items-end gap-2">
        <Field
          label="Percent points, parted by blanks"
          inputMode="decimal"
          placeholder="5 95"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
        <Button type="submit">Set</Button>
      </form>
      <Button look="link" className="mt-1" onClick={() => setStatistics(null)}>
        as at first
      </Button>
    </Floating>
  );
}
