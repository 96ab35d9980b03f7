import { useQuery } from "@tanstack/react-query";
import { countsOf, spreadOf } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import { isNumeric, missingWords } from "../../words/kinds";
import { counted, whole } from "../../words/numbers";
import { useMarkSelection } from "../useMarkSelection";
import { DescribeVariable } from "./DescribeVariable";
import { firstLook, type SpreadChoices } from "./useSpreadChoices";

type UsedRowsProps = { table: Table; variable: Variable; choices: SpreadChoices };

/** How many rows the reading uses, how many are missing or set aside; each count opens the list of those rows. */
export function UsedRows({ table, variable, choices }: UsedRowsProps) {
  const onSelect = useMarkSelection(table, variable.symbol);
  const numeric = isNumeric(variable);
  const spread = useQuery({
    ...spreadOf(table, variable.symbol, firstLook(choices)),
    enabled: numeric,
  });
  const counts = useQuery({ ...countsOf(table, variable.symbol), enabled: !numeric && variable.kind !== "date-time" });
  const used = spread.data?.used ?? counts.data?.used;
  const n = used?.n ?? table.n_rows - variable.n_missing;
  const missing = used?.missing ?? variable.n_missing;
  const aside = used?.set_aside ?? 0;
  const link = "underline decoration-current/40 underline-offset-3 hover:decoration-current";
  return (
    <p className="figures shrink-0 text-muted-ink">
      {used?.weighted_by ? `${whole(n)} counted by ${used.weighted_by}` : `${counted(n, "row")} used`}
      {used && used.weightless > 0 && `, ${counted(used.weightless, "row")} without weight`}
      {used && used.sampled > 0 && `, told from ${counted(used.sampled, "row")} drawn at random`}
      {" · "}
      {missing > 0 ? (
        <button
          type="button"
          className={`text-caution ${link}`}
          onClick={() => onSelect({ words: [`missing in ${variable.label}`], within: { missing: true } }, false)}
        >
          {whole(missing)} missing: {missingWords(used?.missing_counts ?? variable.missing_counts)}
        </button>
      ) : (
        "none missing"
      )}
      {aside > 0 && (
        <>
          {" · "}
          <button
            type="button"
            className={`text-danger ${link}`}
            onClick={() => onSelect({ words: ["set aside"], within: { set_aside: true } }, false)}
          >
            {whole(aside)} set aside
          </button>
        </>
      )}
      {" · "}
      <DescribeVariable table={table} variable={variable} />
    </p>
  );
}
