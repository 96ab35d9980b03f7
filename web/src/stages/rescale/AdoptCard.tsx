import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useEffect, useState } from "react";
import { Link } from "react-router";
import { useDerive, type Way } from "../../api/ledger";
import { triedOf } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { Field } from "../../ui/Field";
import { Notice } from "../../ui/Notice";
import { counted } from "../../words/numbers";
import { RowLinks } from "../RowLinks";
import { AlsoFor } from "./AlsoFor";
import { LostValues } from "./LostValues";

type AdoptCardProps = {
  table: Table;
  symbol: string;
  way: Way;
  /** The variable that follows and whose recipe is being changed. */
  instead: Variable | undefined;
  onWay: (way: Way) => void;
};

const LINK = "text-primary underline decoration-primary/40 underline-offset-3";

/** What would be made: what it cannot take and the ways out, its first rows, and the name under which it is adopted. */
export function AdoptCard({ table, symbol, way, instead, onWay }: AdoptCardProps) {
  const ready = way.how !== "classes" || way.boundaries.length > 1;
  const attempt = useQuery({ ...triedOf(table, symbol, JSON.stringify(way)), enabled: ready });
  const { data: tried, error, isFetching } = attempt;
  const derive = useDerive(table);
  const [also, setAlso] = useState<string[]>([]);
  const [label, setLabel] = useState("");
  const [unit, setUnit] = useState("");
  useEffect(() => {
    if (tried) {
      setLabel(instead ? instead.typed_label : way.how === "expression" ? "" : tried.label);
      setUnit(tried.unit);
    }
  }, [tried, way.how, instead]);
  const make = (over: string) => {
    if (label.trim())
      derive.mutate({ of: symbol, also: over ? [] : also, instead: over, label: label.trim(), unit: unit.trim(), way });
  };
  const adopt = (event: FormEvent) => {
    event.preventDefault();
    make(instead?.symbol ?? "");
  };
  const refusal = derive.error ?? (way.how === "expression" ? null : error);
  const remedy = refusal && "remedy" in refusal ? String(refusal.remedy) : "";
  const [made, next] = derive.data ? [derive.data.symbol, ...derive.data.also] : [];
  return (
    <Card title={instead ? `Change ${instead.label}` : "Adopt this scale"} className="shrink-0">
      <div className="flex flex-col gap-2.5 p-3.5">
        {tried && tried.n_lost > 0 && way.how !== "classes" && <LostValues {...{ table, tried, onWay }} />}
        {tried?.doubts.map(({ problem, at }) => (
          <p key={`${at} ${problem}`} role="status" className="rounded-lg bg-caution-tint px-2.5 py-1.5">
            Units: {problem} <span className="text-muted-ink">(character {at + 1})</span>
          </p>
        ))}
        {tried && tried.n_tied > 0 && (
          <p className="rounded-lg bg-caution-tint px-2.5 py-1.5">
            {counted(tried.n_tied, "row")} share their place in this order with another; there the order of the rows
            decides: <RowLinks table={table} rows={Float64Array.from(tried.tied.map((row) => row ?? 0))} />
          </p>
        )}
        {isFetching && !tried && <div className="h-17" />}
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
              {tried.rows.slice(0, 3).map((row) => (
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
              {instead ? "Change it" : also.length > 0 ? `Adopt ${also.length + 1}` : "Adopt"}
            </Button>
          </span>
          {!instead && tried && way.how !== "expression" && (
            <AlsoFor {...{ table, symbol, way, also }} onAlso={setAlso} />
          )}
        </form>
        {made && (
          <p role="status" ref={(node) => node?.scrollIntoView({ block: "nearest" })}>
            {derive.data?.also.length
              ? `${counted(derive.data.also.length + 1, "variable")} stand among the others and follow their sources; the first:`
              : "It stands among the variables and follows its source:"}{" "}
            <Link to={`/tables/${table.id}/spread?variable=${encodeURIComponent(made)}`} className={LINK}>
              its spread
            </Link>
            {next && (
              <>
                ,{" "}
                <Link
                  to={`/tables/${table.id}/relate?variable=${encodeURIComponent(made)}&x=${encodeURIComponent(next)}`}
                  className={LINK}
                >
                  its relation to the second
                </Link>
              </>
            )}
            .
          </p>
        )}
        {refusal && <Notice problem={refusal.message} remedy={remedy} />}
      </div>
    </Card>
  );
}
