import { type FormEvent, useState } from "react";
import { usePreferences } from "../../state/preferences";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Floating } from "../../ui/Floating";
import { Tick } from "../../ui/Tick";
import { withOrWithout } from "../../values";
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
  const toggle = (id: string) => setStatistics(withOrWithout(chosen, id, !chosen.includes(id)));
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
        <Tick
          key={statistic.id}
          className="cursor-pointer"
          checked={chosen.includes(statistic.id)}
          onChange={() => toggle(statistic.id)}
        >
          {statistic.label}
        </Tick>
      ))}
      <form onSubmit={set} className="mt-2 flex items-end gap-2">
        <Field
          label="Percent points, separated by spaces"
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
