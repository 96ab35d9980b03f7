import { type FormEvent, useState } from "react";
import { listHere, usePreferences } from "../../state/preferences";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Floating } from "../../ui/Floating";
import { Tick } from "../../ui/Tick";
import { withOrWithout } from "../../values";
import { typed as numberTyped, readNumbers } from "../../words/numbers";
import { STATISTICS } from "./statistics";

/** Which statistics are listed; chosen once for a study, and kept. */
export function StatisticsChoice({ chosen }: { chosen: string[] }) {
  const { setStatistics, setPercents, ...now } = usePreferences();
  const { percents } = listHere(now);
  const [typed, setTyped] = useState(percents.map((share) => numberTyped(share)).join(" "));
  const set = (event: FormEvent) => {
    event.preventDefault();
    const shares = readNumbers(typed.replace(/%/g, " ")) ?? [];
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
      <p className="mt-1 flex gap-3">
        <Button look="link" onClick={() => setStatistics(null)}>
          the usual ones
        </Button>
        <Button look="link" onClick={() => setStatistics([])}>
          none
        </Button>
      </p>
    </Floating>
  );
}
