import type { ReactNode } from "react";
import type { Comparison } from "../../api/compare";
import { Card } from "../../ui/Card";
import { NumbersTable } from "../../ui/NumbersTable";
import { TakeTable } from "../../ui/TakeTable";
import { decimalsFor, fixed, whole } from "../../words/numbers";

type GroupNumbersProps = {
  reading: Comparison;
  decimals: number | null;
  /** The group at hand, here or in the picture. */
  marked: number | null;
  onMark: (group: number | null) => void;
  /** A way to keep it as a table. */
  keep: ReactNode;
};

/** What is drawn, in numbers; a line that is pointed at shows in the picture where its numbers stand on the axis. */
export function GroupNumbers({ reading, decimals, marked, onMark, keep }: GroupNumbersProps) {
  const suited = decimalsFor(decimals, reading.groups[0]?.centred.summary.sd ?? null);
  const write = (value: number | null) => (value === null ? "none" : fixed(value, suited));
  const gaps = reading.groups.some(({ centred }) => centred.n_missing > 0);
  const head = [
    reading.second ? `${reading.by}, ${reading.second}` : reading.by,
    "n",
    ...(gaps ? ["missing"] : []),
    "centre",
    "low",
    "high",
    "SD",
    "SE",
  ];
  const lines = reading.groups.map(({ label, second, centred }) => [
    second ? `${label}, ${second}` : label,
    whole(centred.n),
    ...(gaps ? [whole(centred.n_missing)] : []),
    write(centred.centre),
    write(centred.low),
    write(centred.high),
    write(centred.summary.sd),
    write(centred.summary.se),
  ]);
  return (
    <Card
      help="groups"
      title="Numbers"
      className="max-h-[55%] min-h-[140px] shrink-0"
      aside={
        <span className="flex gap-2">
          {keep}
          <TakeTable name={`${reading.subject.label} by ${reading.by}`} table={() => ({ head, body: lines })} />
        </span>
      }
    >
      <NumbersTable {...{ head, marked, onMark }} body={lines} strong="centre" />
    </Card>
  );
}
