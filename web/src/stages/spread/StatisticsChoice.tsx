import { usePreferences } from "../../state/preferences";
import { Button } from "../../ui/Button";
import { Floating } from "../../ui/Floating";
import { STATISTICS } from "./statistics";

/** Which statistics are listed; chosen once and kept. */
export function StatisticsChoice({ chosen }: { chosen: string[] }) {
  const setStatistics = usePreferences((state) => state.setStatistics);
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
      <Button look="link" className="mt-1" onClick={() => setStatistics(null)}>
        as at first
      </Button>
    </Floating>
  );
}
