import type { ReactNode } from "react";
import type { Table, Variable } from "../../api/studies";
import { useSelectedRows, useSelection } from "../../state/selection";
import { Card } from "../../ui/Card";
import { counted, whole } from "../../words/numbers";
import { DecisionForm, type Limits } from "./DecisionForm";

type SelectedCardProps = {
  table: Table;
  variable: Variable | undefined;
  limits: Limits | null;
  /** What would change without the rows. */
  children: (rows: number[]) => ReactNode;
};

const MOST = 5_000;

/** The selected rows: what would change without them, and what becomes of them. */
export function SelectedCard({ table, variable, limits, children }: SelectedCardProps) {
  const selected = useSelectedRows(table.id);
  const clear = useSelection((state) => state.clear);
  const rows = [...selected].sort((a, b) => a - b);
  if (rows.length === 0) {
    return (
      <Card help="rules" title="No row selected" className="shrink-0">
        <p className="px-3.5 py-3 font-serif text-lead text-muted-ink">
          Choose a row of the table, or a mark of the plot: what would change without it stands here, and what you
          decide.
        </p>
      </Card>
    );
  }
  const title = rows.length === 1 ? `Row ${whole(rows[0] ?? 0)} selected` : `${counted(rows.length, "row")} selected`;
  return (
    <Card help="rules" title={title} label="Decision on these rows" className="shrink-0">
      {rows.length <= MOST ? children(rows) : <p className="p-3.5">Choose at most {whole(MOST)} rows to weigh.</p>}
      <DecisionForm key={rows.join()} {...{ table, variable, rows, limits }} onDone={clear} />
    </Card>
  );
}
