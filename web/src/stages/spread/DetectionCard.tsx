import { useQuery } from "@tanstack/react-query";
import { detectionOf, type Spread } from "../../api/readings";
import type { Table } from "../../api/studies";
import { Card } from "../../ui/Card";
import { NumbersTable } from "../../ui/NumbersTable";
import { TakeTable } from "../../ui/TakeTable";
import { significant } from "../../words/numbers";

const HEAD = ["by", "mean", "SD", "median"];
const isLimit = (code: string) => /^\s*</.test(code);

/** Whether some values of a variable are only known to lie below a limit. */
const hasLimits = ({ subject, used }: Spread) =>
  subject.n_limited > 0 || Object.keys(used.missing_counts).some(isLimit);

/** What is said of all values, those below a limit with them; nothing where there are none. */
export function DetectionCard({ table, spread }: { table: Table; spread: Spread }) {
  const { data: result } = useQuery({ ...detectionOf(table, spread.subject.symbol), enabled: hasLimits(spread) });
  if (!result || !hasLimits(spread)) return null;
  const written = (value: number | null) => (value === null ? "none" : significant(value, 4));
  const body = result.found.ways.map(({ name, mean, sd, median }) => [
    name,
    written(mean),
    written(sd),
    written(median),
  ]);
  return (
    <Card
      title="Below a limit"
      className="shrink-0"
      aside={<TakeTable name={`${spread.subject.label} below a limit`} table={() => ({ head: HEAD, body })} />}
    >
      <p className="px-3.5 py-2 font-serif text-lead">{result.words.join(" ")}</p>
      {body.length > 0 && <NumbersTable head={HEAD} body={body} />}
      {result.found.ways
        .filter(({ why }) => why)
        .map(({ name, why }) => (
          <p key={name} className="px-3.5 py-1 text-muted-ink text-small">
            {name}: {why}
          </p>
        ))}
    </Card>
  );
}
