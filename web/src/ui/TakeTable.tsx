import { Button } from "./Button";
import { type Copied, copyTable, csvOf } from "./copyTable";
import { handOver } from "./handOver";

type TakeTableProps = { name: string; table: () => Copied };

/** A table taken away: on the clipboard as a real table, or as a CSV file. */
export function TakeTable({ name, table }: TakeTableProps) {
  const file = () =>
    handOver(
      new Blob([csvOf(table())], { type: "text/csv" }),
      `${name.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, "-")}.csv`,
    );
  return (
    <span className="flex gap-2">
      <Button look="word" className="text-small!" onClick={() => copyTable(table())}>
        copy
      </Button>
      <Button look="word" className="text-small!" onClick={file}>
        CSV
      </Button>
    </span>
  );
}
