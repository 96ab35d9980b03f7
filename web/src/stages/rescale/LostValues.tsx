import type { Way } from "../../api/ledger";
import type { Tried } from "../../api/readings";
import type { Table } from "../../api/studies";
import { useSelection } from "../../state/selection";
import { Button } from "../../ui/Button";
import { counted, fixed, significant } from "../../words/numbers";
import { RowLinks } from "../RowLinks";

type LostValuesProps = { table: Table; tried: Tried; onWay: (way: Way) => void };

/** The values that the scale cannot take, and the ways out. */
export function LostValues({ table, tried, onWay }: LostValuesProps) {
  const select = useSelection((state) => state.select);
  const lost = tried.lost.map((row) => row ?? 0);
  const { offsets } = tried;
  const log = (offset: number) => onWay({ how: "scale", setting: { way: "log", base: "10", offset } });
  const straight = (correlation: number | null | undefined) =>
    typeof correlation === "number" ? `Q-Q correlation ${fixed(correlation, 3)}` : "";
  return (
    <div className="rounded-lg bg-caution-tint px-2.5 py-1.5">
      <p>
        {counted(tried.n_lost, "value")} cannot stand on this scale. {tried.why}{" "}
        <RowLinks table={table} rows={Float64Array.from(lost)} />
      </p>
      <p className="mt-1 flex flex-wrap gap-1.5">
        {[offsets?.half_least, offsets?.straightest].map(
          (offset, i) =>
            typeof offset === "number" &&
            (i === 0 || offset !== offsets?.half_least) && (
              <Button key={offset} className="text-small!" onClick={() => log(offset)}>
                log(x + {significant(offset, 4)})
              </Button>
            ),
        )}
        {tried.ways_out.some((out) => out.includes("pull 0 and 1")) && (
          <Button
            className="text-small!"
            onClick={() => onWay({ how: "scale", setting: { way: "logit", squeeze: true } })}
          >
            Pull 0 and 1 in
          </Button>
        )}
        <Button
          className="text-small!"
          onClick={() => select(table.id, lost, "values that this scale cannot take", false)}
        >
          Select these rows
        </Button>
      </p>
      {typeof offsets?.half_least === "number" && (
        <p className="mt-1 text-muted-ink text-small">
          {significant(offsets.half_least, 4)} is half the smallest step above the lowest value (
          {straight(offsets.half_least_correlation)}).{" "}
          {typeof offsets.straightest === "number" &&
            `${significant(offsets.straightest, 4)} makes the logs straightest (${straight(offsets.straightest_correlation)}). `}
          What is added is a choice: results on the logs depend on it, so say it with them.
        </p>
      )}
    </div>
  );
}
