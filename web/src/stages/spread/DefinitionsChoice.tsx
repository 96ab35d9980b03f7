import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { QUANTILE_DEFINITIONS } from "../../api/choices.gen";
import { type Definition, definitionsOf, type Spread } from "../../api/readings";
import type { Table } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Floating } from "../../ui/Floating";
import { decimalsFor, fixed } from "../../words/numbers";

type DefinitionsChoiceProps = { table: Table; spread: Spread; onDefinition: (definition: Definition) => void };

/** Quartiles under every definition side by side, since hands and programs differ; one is chosen. */
export function DefinitionsChoice({ table, spread, onDefinition }: DefinitionsChoiceProps) {
  const [open, setOpen] = useState(false);
  const useQueryResult = useQuery({ ...definitionsOf(table, spread.subject.symbol), enabled: open });
  const now = spread.summary.quantile_definition;
  const decimals = decimalsFor(spread.subject.decimals, spread.summary.iqr) + 1;
  const usual = useQueryResult.data?.find(({ definition }) => definition === now);
  const agree = useQueryResult.data?.every(
    ({ q1, median, q3 }) => q1 === usual?.q1 && median === usual?.median && q3 === usual?.q3,
  );
  const write = (value: number) => fixed(value, decimals);
  return (
    <Floating
      label="Quantile definitions"
      align="end"
      open={open}
      onOpenChange={setOpen}
      className="w-[26rem] p-3"
      trigger={
        <Button look="word" className="text-small!">
          definitions
        </Button>
      }
    >
      <table className="figures w-full text-right">
        <caption className="mb-1 text-left text-muted-ink text-small">
          Hyndman and Fan (1996); hinges after Tukey (1977).{" "}
          {agree ? "All give the same quartiles here." : "In colour: what differs from the one in use."}
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
          {useQueryResult.data?.map(({ definition, q1, median, q3 }) => (
            <tr key={definition} className={definition === now ? "bg-accent-tint" : ""}>
              <th className="text-left font-normal">
                <Button
                  look="link"
                  className="no-underline!"
                  aria-pressed={definition === now}
                  onClick={() => onDefinition(definition)}
                >
                  {definition === "hinges" ? "hinges" : definition}
                </Button>
                <p className="max-w-56 pb-1 pl-1 font-normal text-muted-ink text-small leading-tight">
                  {QUANTILE_DEFINITIONS[definition].help}
                </p>
              </th>
              {[
                [q1, usual?.q1],
                [median, usual?.median],
                [q3, usual?.q3],
              ].map(([value = 0, other], i) => (
                <td
                  // biome-ignore lint/suspicious/noArrayIndexKey: Q1, median, Q3
                  key={i}
                  className={`px-1 pt-1 align-top ${value === other ? "" : "font-semibold text-accent"}`}
                >
                  {write(value)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </Floating>
  );
}
