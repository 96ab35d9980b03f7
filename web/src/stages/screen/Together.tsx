import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { figureOf } from "../../api/figures";
import { type TogetherReading, togetherOf } from "../../api/screen";
import type { Table } from "../../api/studies";
import { Card } from "../../ui/Card";
import { named } from "../../words/kinds";
import { counted, fixed, whole } from "../../words/numbers";
import { LongWork } from "../LongWork";
import { KeepPlate } from "../plates/KeepPlate";
import { useSteady } from "../spread/useFollowing";
import { NamedRows } from "./NamedRows";
import { distancesPicture } from "./pictures";
import { RowsPicture } from "./RowsPicture";
import { SelectedCard } from "./SelectedCard";

/** Several variables together: how far each row lies from their joint middle, robustly and plainly. */
export function Together({ table, symbols }: { table: Table; symbols: string[] }) {
  const figure = useSteady(figureOf(table, distancesPicture(table, symbols), "together"));
  // The picture is worked first; the rows are then there already.
  const { data: result, error } = useQuery({
    ...togetherOf(table, symbols),
    placeholderData: keepPreviousData,
    enabled: figure.isSuccess,
  });
  return (
    <div className="screen-grid">
      <div className="flex min-h-0 min-w-0 flex-col gap-3.5">
        <Card
          help="distances"
          title="Robust distance against plain distance"
          className="min-h-[260px] flex-1"
          aside={<KeepPlate />}
        >
          <LongWork view="together" busy={figure.isFetching} words="Looking for the central half of the rows" />
          <RowsPicture table={table} picture={distancesPicture(table, symbols)} view="together" />
        </Card>
        {result && !error && <FarRows table={table} reading={result} />}
      </div>
      <div className="flex min-h-0 min-w-0 flex-col gap-3.5 overflow-y-auto">
        <SelectedCard table={table} variable={undefined} limits={null}>
          {(rows) => <DistancesOf rows={rows} reading={result} />}
        </SelectedCard>
        {result && !error && (
          <Card help="distances" title="Reading" className="shrink-0">
            <p className="px-3.5 py-2 font-serif text-lead">{result.words.join(" ")}</p>
            <p className="border-line border-t px-3.5 py-2 text-muted-ink text-small">
              {counted(result.n, "complete row")}
              {result.n_missing > 0 && `, ${whole(result.n_missing)} left out since a value is missing`}. Minimum
              covariance determinant (Rousseeuw and Van Driessen 1999); squared distances against {result.reference} at
              97.5 %. Rows that hide each other lie low on the plain distance and high on the robust one.
            </p>
          </Card>
        )}
      </div>
    </div>
  );
}

function DistancesOf({ rows, reading }: { rows: number[]; reading: TogetherReading | undefined }) {
  const own = reading?.rows.filter(({ row }) => rows.includes(row)) ?? [];
  if (own.length === 0 || !reading) return null;
  return (
    <p className="border-line border-b px-3.5 py-2 text-muted-ink">
      {own
        .slice(0, 5)
        .map(
          (row) =>
            `Row ${whole(row.row)}: ${reading.variables.map(({ label }, i) => `${label} ${row.values[i]}`).join(", ")}`,
        )
        .join(". ")}
      .
    </p>
  );
}

function FarRows({ table, reading }: { table: Table; reading: TogetherReading }) {
  return (
    <NamedRows
      table={table}
      title={reading.n_flagged === 0 ? "No row lies beyond" : `${counted(reading.n_flagged, "row")} beyond`}
      file="rows far in several variables"
      head={["robust", "plain", ...reading.variables.map(named)]}
      rows={reading.rows}
      cells={(row) => [
        { text: fixed(row.robust, 2), beyond: true },
        { text: fixed(row.classical, 2) },
        ...row.values.map((text) => ({ text })),
      ]}
    />
  );
}
