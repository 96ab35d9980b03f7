import type { Table, Variable } from "../../api/studies";
import { missingWords } from "../../words/kinds";
import { counted, whole } from "../../words/numbers";
import { useMarkSelection } from "../useMarkSelection";

/** How many rows the reading uses and how many are missing; each count opens the list of those rows. */
export function UsedRows({ table, variable }: { table: Table; variable: Variable }) {
  const onSelect = useMarkSelection(table, variable.symbol);
  const used = table.n_rows - variable.n_missing;
  return (
    <p className="figures shrink-0 text-muted-ink">
      {counted(used, "row")} used{" · "}
      {variable.n_missing > 0 ? (
        <button
          type="button"
          className="text-caution underline decoration-caution/40 underline-offset-3 hover:decoration-caution"
          onClick={() => onSelect({ words: [`missing in ${variable.label}`], asked: { missing: true } }, false)}
        >
          {whole(variable.n_missing)} missing: {missingWords(variable.missing_counts)}
        </button>
      ) : (
        "none missing"
      )}
    </p>
  );
}
