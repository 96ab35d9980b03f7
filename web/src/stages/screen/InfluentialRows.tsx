import { ROW_MEASURES } from "../../api/choices.gen";
import type { RelationReading, RelationSettings } from "../../api/screen";
import type { Table } from "../../api/studies";
import { keysOf } from "../../values";
import { named } from "../../words/kinds";
import { counted, significant } from "../../words/numbers";
import { KeepTable } from "../tables/KeepTable";
import { NamedRows } from "./NamedRows";

const MEASURES = keysOf(ROW_MEASURES);

const written = (value: number | null | undefined) => (typeof value === "number" ? significant(value, 3) : "none");

type InfluentialRowsProps = { table: Table; settings: RelationSettings; reading: RelationReading };

/** The rows that pass a cut-off, and those of most influence; what passes stands out. */
export function InfluentialRows({ table, settings, reading }: InfluentialRowsProps) {
  const bound = reading.cutoffs.dfbetas;
  return (
    <NamedRows
      table={table}
      title={reading.n_beyond === 0 ? "No row passes a cut-off" : `${counted(reading.n_beyond, "row")} pass a cut-off`}
      file={`${reading.response.label} influence`}
      keep={
        <KeepTable
          name={`${reading.response.label}, rows of most influence`}
          source={{ kind: "influential", table: table.id, ...settings }}
        />
      }
      head={[
        named(reading.response),
        "fitted",
        ...MEASURES.map((name) => ROW_MEASURES[name].label),
        ...reading.coefficients.map(({ name }) => `DFBETAS ${name}`),
      ]}
      rows={reading.rows}
      cells={(row) => [
        { text: significant(row.response, 5) },
        { text: significant(row.fitted, 5) },
        ...MEASURES.map((name) => ({ text: written(row[name]), beyond: row.beyond.includes(name) })),
        ...row.dfbetas.map((value) => ({ text: written(value), beyond: value !== null && Math.abs(value) > bound })),
      ]}
      footer={
        <span>
          Cut-offs: leverage 3p/n, residual at 5 % over all rows, Cook&apos;s D 4/n, DFFITS 2√(p/n), covariance ratio 1
          ± 3p/n, DFBETAS 2/√n. They flag rows to look at; in the plots those of leverage, residual or D above 1 are
          ringed.
        </span>
      }
    />
  );
}
