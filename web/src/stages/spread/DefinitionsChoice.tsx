import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Definition, definitionsOf, type Spread } from "../../api/readings";
import type { Table } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Floating } from "../../ui/Floating";
import { decimalsFor, fixed } from "../../words/numbers";

type DefinitionsChoiceProps = { table: Table; spread: Spread; onDefinition: (definition: Definition) => void };

const NOTES: Partial<Record<Definition, string>> = {
  6: "(n + 1) p",
  7: "(n − 1) p + 1",
  8: "median-unbiased",
  hinges: "halves with the median",
};

/** Quartiles under every definition side by side, since hands and programs differ; one is chosen. */
export function DefinitionsChoice({ table, spread, onDefinition }: DefinitionsChoiceProps) {
  const [open, setOpen] = useState(false);
  const found = useQuery({ ...definitionsOf(table, spread.subject.symbol), enabled: open });
  const now = spread.summary.quantile_definition;
  const decimals = decimalsFor(spread.subject.decimals, spread.summary.iqr) + 1;
  const write = (value: number) => fixed(value, decimals);
  return (
    <Floating
      label="Quantile definitions"
      align="end"
      open={open}
      onOpenChange={setOpen}
      className="w-[22rem] p-3"
      trigger={
        <Button look="word" className="text-small!">
          definitions
        </Button>
      }
    >
      <table className="figures w-full text-right">
        <caption className="mb-1 text-left text-muted-ink text-small">
          Hyndman and Fan (1996); hinges after Tukey (1977)
        </caption>
        <thead className="text-muted-ink text-small">
          <tr>
            <th className="text-left font-normal">definition</th>
            <th className="font-normal">Q1</th>
            <th className="font-normal">median</th>
            <th className="font-normal">Q3</th>
          </tr>
        </thead>
        <tbody>
          {found.data?.map(({ definition, q1, median, q3 }) => (
            <tr key={definition} className={definition === now ? "bg-accent-tint" : ""}>
              <th className="text-left font-normal">
                <Button
                  look="link"
                  className="no-underline!"
                  aria-pressed={definition === now}
                  onClick={() => onDefinition(definition)}
                >
                  {definition === "hinges" ? "hinges" : definition}
                  <span className="text-muted-ink text-small">{NOTES[definition]}</span>
                </Button>
              </th>
              <td>{write(q1)}</td>
              <td>{write(median)}</td>
              <td>{write(q3)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Floating>
  );
}
