import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { type TogetherReading, togetherOf } from "../../api/screen";
import type { Table } from "../../api/studies";
import { useSelectedRows, useSelection } from "../../state/selection";
import { Card } from "../../ui/Card";
import { Notice } from "../../ui/Notice";
import { type Size, useSize } from "../../ui/useSize";
import { Wave } from "../../ui/Wave";
import { nth } from "../../values";
import { named } from "../../words/kinds";
import { counted, fixed, whole } from "../../words/numbers";
import { LongWork } from "../LongWork";
import { PointPlot } from "../PointPlot";
import { KeepPlate } from "../plates/KeepPlate";
import { NamedRows } from "./NamedRows";
import { SelectedCard } from "./SelectedCard";

/** Several variables together: how far each row lies from their joint middle, robustly and plainly. */
export function Together({ table, symbols }: { table: Table; symbols: string[] }) {
  const {
    data: found,
    error,
    isFetching,
  } = useQuery({
    ...togetherOf(table, symbols),
    placeholderData: keepPreviousData,
  });
  const [room, size] = useSize();
  const remedy = error && "remedy" in error ? String(error.remedy) : "";
  return (
    <div className="screen-grid">
      <div className="flex min-h-0 min-w-0 flex-col gap-3.5">
        <Card title="Robust distance against plain distance" className="min-h-[260px] flex-1" aside={<KeepPlate />}>
          <LongWork view="together" busy={isFetching} words="Looking for the central half of the rows" />
          {error && <Notice problem={error.message} remedy={remedy} className="m-3" />}
          <div ref={room} className="relative min-h-0 flex-1">
            {found && !error && size && size.width > 80 && size.height > 60 && (
              <DistancePlot {...{ table, size }} reading={found} />
            )}
            {!found && !error && (
              <Wave moving className="absolute top-1/2 left-1/2 w-24 -translate-x-1/2 text-primary" />
            )}
          </div>
        </Card>
        {found && !error && <FarRows table={table} reading={found} />}
      </div>
      <div className="flex min-h-0 min-w-0 flex-col gap-3.5 overflow-y-auto">
        <SelectedCard table={table} variable={undefined} limits={null}>
          {(rows) => <DistancesOf rows={rows} reading={found} />}
        </SelectedCard>
        {found && !error && (
          <Card title="Reading" className="shrink-0">
            <p className="px-3.5 py-2 font-serif text-lead">{found.words.join(" ")}</p>
            <p className="border-line border-t px-3.5 py-2 text-muted-ink text-small">
              {counted(found.n, "complete row")}
              {found.n_missing > 0 && `, ${whole(found.n_missing)} left out since a value is missing`}. Minimum
              covariance determinant (Rousseeuw and Van Driessen 1999); squared distances against {found.reference} at
              97.5 %. Rows that hide each other lie low on the plain distance and high on the robust one.
            </p>
          </Card>
        )}
      </div>
    </div>
  );
}

function DistancePlot({ table, reading, size }: { table: Table; reading: TogetherReading; size: Size }) {
  const select = useSelection((state) => state.select);
  const selected = useSelectedRows(table.id);
  const rings = useMemo(() => new Map(reading.rows.map((row) => [row.row, "beyond" as const])), [reading]);
  return (
    <PointPlot
      label="Robust distance against plain distance"
      size={size}
      xs={reading.classical}
      ys={reading.robust}
      rows={reading.positions}
      xTitle="Plain distance (from mean and covariance)"
      yTitle="Robust distance"
      guides={[
        { on: "y", value: reading.cutoff, words: `97.5 %: ${reading.cutoff.toFixed(2)}`, strong: true },
        { on: "x", value: reading.cutoff, words: "" },
      ]}
      reach={{ x: [0, reading.cutoff], y: [0, reading.cutoff] }}
      selected={selected}
      ringed={rings}
      words={(i) => [
        `row ${whole(nth(reading.positions, i))}`,
        `robust ${nth(reading.robust, i).toFixed(2)}`,
        `plain ${nth(reading.classical, i).toFixed(2)}`,
      ]}
      onSelect={(rows, words, add) => select(table.id, rows, words, add)}
    />
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
