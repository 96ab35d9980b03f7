import type { Table } from "../../../api/studies";
import { Tick } from "../../../ui/Tick";
import { withOrWithout } from "../../../values";
import { about } from "../../../words/kinds";

type SeveralVariablesProps = {
  label: string;
  table: Table;
  chosen: string[];
  onChoose: (symbols: string[]) => void;
};

/** Some of a table's variables, in the order in which they are chosen. */
export function SeveralVariables({ label, table, chosen, onChoose }: SeveralVariablesProps) {
  return (
    <fieldset>
      <legend className="mb-1 text-muted-ink text-small">{label}</legend>
      <div className="flex max-h-44 flex-col overflow-y-auto rounded-lg border border-line bg-surface py-1">
        {table.variables.map((variable) => {
          const place = chosen.indexOf(variable.symbol);
          return (
            <Tick
              key={variable.symbol}
              className="px-2 hover:bg-accent-tint"
              checked={place >= 0}
              onChange={() => onChoose(withOrWithout(chosen, variable.symbol, place < 0))}
            >
              <span className="min-w-0 flex-1 truncate">{variable.label}</span>
              <span className="text-muted-ink text-small">{about(variable)}</span>
            </Tick>
          );
        })}
      </div>
    </fieldset>
  );
}
