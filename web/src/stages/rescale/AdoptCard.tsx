import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useEffect, useState } from "react";
import { Link } from "react-router";
import { useDerive, type Way } from "../../api/ledger";
import { triedOf } from "../../api/readings";
import type { Table } from "../../api/studies";
import { useSelection } from "../../state/selection";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { Field } from "../../ui/Field";
import { Notice } from "../../ui/Notice";
import { counted } from "../../words/numbers";
import { RowLinks } from "../RowLinks";

type AdoptCardProps = { table: Table; symbol: string; way: Way; offset: number | null; onWay: (way: Way) => void };

/** What would be made: what it cannot take and the ways out, its first rows, and the name under which it is adopted. */
export function AdoptCard({ table, symbol, way, offset, onWay }: AdoptCardProps) {
  const { data: tried, error } = useQuery(triedOf(table, symbol, JSON.stringify(way)));
  const derive = useDerive(table);
  const select = useSelection((state) => state.select);
  const [label, setLabel] = useState("");
  const [unit, setUnit] = useState("");
  useEffect(() => {
    if (tried) {
      setLabel(way.how === "expression" ? "" : tried.label);
      setUnit(tried.unit);
    }
  }, [tried, way.how]);
  const adopt = (event: FormEvent) => {
    event.preventDefault();
    if (label.trim()) derive.mutate({ of: symbol, label: label.trim(), unit: unit.trim(), way });
  };
  const refusal = derive.error ?? (way.how === "expression" ? null : error);
  const remedy = refusal && "remedy" in refusal ? String(refusal.remedy) : "";
  const made = derive.data?.symbol;
  return (
    <Card title="Adopt this scale" className="shrink-0">
      <div className="flex flex-col gap-2.5 p-3.5">
        {tried && tried.n_lost > 0 && (
          <div className="rounded-lg bg-caution-tint px-2.5 py-1.5">
            <p>
              {counted(tried.n_lost, "value")} cannot stand on this scale. {tried.why}{" "}
              <RowLinks table={table} rows={Float64Array.from(tried.lost.map((row) => row ?? 0))} />
            </p>
            <p className="mt-1 flex flex-wrap gap-1.5">
              {offset !== null && tried.ways_out.some((out) => out.includes("offset")) && (
                <Button
                  className="text-small!"
                  onClick={() => onWay({ how: "scale", setting: { way: "log", base: "10", offset } })}
                >
                  log(x + {offset})
                </Button>
              )}
              {tried.ways_out.some((out) => out.includes("pull 0 and 1")) && (
                <Button
                  className="text-small!"
                  onClick={() => onWay({ how: "scale", setting: { way: "logit", squeeze: true } })}
                >
                  Pull 0 and 1 in
                </Button>
              )}
              <Button
                className="text-small!"
                onClick={() =>
                  select(
                    table.id,
                    tried.lost.map((row) => row ?? 0),
                    "values that this scale cannot take",
                    false,
                  )
                }
              >
                Select these rows
              </Button>
            </p>
          </div>
        )}
        {tried && (
          <table className="figures w-full text-right text-small">
            <thead className="text-muted-ink">
              <tr>
                <th className="text-left font-normal">row</th>
                {tried.of.map((name) => (
                  <th key={name} className="max-w-20 truncate font-normal">
                    {name}
                  </th>
                ))}
                <th className="font-normal">new</th>
              </tr>
            </thead>
            <tbody>
              {tried.rows.slice(0, 4).map((row) => (
                <tr key={row.row}>
                  <th className="text-left font-normal text-muted-ink">{row.row}</th>
                  {row.before.map((text, i) => (
                    // biome-ignore lint/suspicious/noArrayIndexKey: a cell is its place
                    <td key={i}>{text}</td>
                  ))}
                  <td className="font-semibold">{row.after}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        <form onSubmit={adopt} className="flex flex-col gap-2">
          <Field
            label="Name of the new variable"
            required
            maxLength={200}
            value={label}
            onChange={(event) => setLabel(event.target.value)}
          />
          <span className="flex items-end gap-2">
            <Field label="Unit" maxLength={60} value={unit} onChange={(event) => setUnit(event.target.value)} />
            <Button type="submit" look="primary" disabled={!tried || derive.isPending}>
              Adopt
            </Button>
          </span>
        </form>
        {made && (
          <p role="status">
            It stands among the variables and follows its source:{" "}
            <Link
              to={`/tables/${table.id}/spread?variable=${encodeURIComponent(made)}`}
              className="text-primary underline decoration-primary/40 underline-offset-3"
            >
              its spread
            </Link>
            .
          </p>
        )}
        {refusal && <Notice problem={refusal.message} remedy={remedy} />}
      </div>
    </Card>
  );
}
