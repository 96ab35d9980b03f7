import { useQueries } from "@tanstack/react-query";
import type { Way } from "../../api/ledger";
import { triedOf } from "../../api/readings";
import type { Table } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Floating } from "../../ui/Floating";
import { Tick } from "../../ui/Tick";
import { withOrWithout } from "../../values";
import { isNumeric, named } from "../../words/kinds";
import { counted } from "../../words/numbers";

type AlsoForProps = {
  table: Table;
  symbol: string;
  way: Way;
  also: string[];
  onAlso: (also: string[]) => void;
};

/** Other variables that are put on the same scale at once, each under the name proposed. */
export function AlsoFor({ table, symbol, way, also, onAlso }: AlsoForProps) {
  const text = JSON.stringify(way);
  const tried = useQueries({ queries: also.map((other) => triedOf(table, other, text)) });
  const others = table.variables.filter((other) => isNumeric(other) && other.symbol !== symbol);
  if (others.length === 0) return null;
  const lost = (other: string) => {
    const result = tried[also.indexOf(other)];
    if (result?.error) return result.error.message;
    return result?.data && result.data.n_lost > 0 ? `${counted(result.data.n_lost, "value")} cannot stand there` : "";
  };
  return (
    <Floating
      label="Other variables on the same scale"
      side="top"
      align="end"
      className="w-80 p-3.5"
      trigger={
        <Button look="word" className="self-start text-small!">
          {also.length > 0 ? `and ${counted(also.length, "other")} likewise` : "other variables likewise"}
        </Button>
      }
    >
      <p className="mb-1.5 text-muted-ink text-small">
        Each becomes a variable of its own under the name proposed; one entry of the Ledger.
      </p>
      <ul>
        {others.map((other) => (
          <li key={other.symbol}>
            <Tick
              checked={also.includes(other.symbol)}
              onChange={(on) => onAlso(withOrWithout(also, other.symbol, on))}
            >
              <span>{named(other)}</span>
              <span className="text-caution text-small">{lost(other.symbol)}</span>
            </Tick>
          </li>
        ))}
      </ul>
    </Floating>
  );
}
