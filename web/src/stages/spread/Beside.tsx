import { spreadOf } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import { DetectionCard } from "./DetectionCard";
import { NormalityCard, useNormality } from "./NormalityCard";
import { ReadingCard } from "./ReadingCard";
import { useSteady } from "./useFollowing";
import { firstLook, type useSpreadChoices } from "./useSpreadChoices";

type BesideProps = ReturnType<typeof useSpreadChoices> & {
  table: Table;
  variable: Variable;
};

/** Beside a picture of a number: its statistics, and whether a normal model is defensible. */
export function Beside({ table, variable, choices, change }: BesideProps) {
  const spread = useSteady(spreadOf(table, variable.symbol, firstLook(choices)));
  const normality = useNormality(table, variable.symbol, "", choices, true);
  return (
    <div className="flex min-h-0 min-w-0 flex-col gap-3.5 overflow-y-auto">
      {spread.data && (
        <ReadingCard table={table} spread={spread.data} onDefinition={(definition) => change({ definition })} />
      )}
      {spread.data && <DetectionCard table={table} spread={spread.data} />}
      {normality && (
        <NormalityCard {...{ table, choices, change }} symbol={variable.symbol} by="" reading={normality} />
      )}
    </div>
  );
}
