import { useState } from "react";
import type { Table, Variable } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Choices } from "../../ui/Choices";
import { Floating } from "../../ui/Floating";
import { Tick } from "../../ui/Tick";
import { withOrWithout } from "../../values";
import { isNumeric, named } from "../../words/kinds";

const WAYS = { difference: "difference", ratio: "ratio", sum: "sum", mean: "mean" } as const;
type Combined = keyof typeof WAYS;

function combined(way: Combined, symbols: string[]): string {
  if (way === "mean") return `mean(${symbols.join(", ")})`;
  return symbols.join({ difference: " - ", ratio: " / ", sum: " + " }[way]);
}

type CombineChoiceProps = { table: Table; variable: Variable; onText: (text: string) => void };

/** Several variables put together into an expression, which can be changed afterwards. */
export function CombineChoice({ table, variable, onText }: CombineChoiceProps) {
  const [open, setOpen] = useState(false);
  const [way, setWay] = useState<Combined>("difference");
  const [others, setOthers] = useState<string[]>([]);
  const pair = way === "difference" || way === "ratio";
  const chosen = pair ? others.slice(-1) : others;
  const show = () => {
    onText(combined(way, [variable.symbol, ...chosen]));
    setOpen(false);
  };
  return (
    <Floating
      label="Put variables together"
      open={open}
      onOpenChange={setOpen}
      align="end"
      className="w-80 p-3.5"
      trigger={
        <Button look="word" className="shrink-0 text-small!">
          put variables together
        </Button>
      }
    >
      <Choices label="Put together as" options={WAYS} chosen={way} onChoose={setWay} />
      <p className="mt-2 mb-1 text-muted-ink text-small">
        {pair ? `${variable.label} and one other` : `${variable.label} and all chosen`}
      </p>
      <ul className="max-h-56 overflow-y-auto">
        {table.variables
          .filter((other) => isNumeric(other) && other.symbol !== variable.symbol)
          .map((other) => (
            <li key={other.symbol}>
              <Tick
                checked={chosen.includes(other.symbol)}
                onChange={(on) => setOthers(withOrWithout(others, other.symbol, on))}
              >
                {named(other)}
              </Tick>
            </li>
          ))}
      </ul>
      {chosen.length > 0 && (
        <Button look="primary" className="mt-2" onClick={show}>
          Write it
        </Button>
      )}
    </Floating>
  );
}
