import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useMemo, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import { type GridView, pageOf, placeOf, SEEKING, soughtIn } from "../../../api/grid";
import { Button } from "../../../ui/Button";
import { Notice } from "../../../ui/Notice";
import { counted, whole } from "../../../words/numbers";
import { LongWork } from "../../LongWork";
import { useTableHere } from "../../TableRoute";
import { AuditChoice } from "./AuditChoice";
import { CorrectionsBar } from "./CorrectionsBar";
import { Grid, type GridHandle } from "./Grid";

function viewIn(query: URLSearchParams): GridView {
  const number = (name: string) => {
    const text = query.get(name);
    return text !== null && text !== "" && Number.isFinite(Number(text)) ? Number(text) : undefined;
  };
  return {
    sort: query.get("sort") ?? "",
    descending: query.get("descending") === "true",
    variable: query.get("where") ?? "",
    low: number("low"),
    high: number("high"),
    level: query.get("level") ?? undefined,
    missing: query.get("missing") === "true",
    set_aside: query.get("set_aside") === "true",
  };
}

/** Every row of a table, in any order, under any condition. */
export function GridStage() {
  const table = useTableHere();
  const [query, setQuery] = useSearchParams();
  const text = query.toString();
  const view = useMemo(() => viewIn(new URLSearchParams(text)), [text]);
  const first = useQuery(pageOf(table, view, 0));
  const handle = useRef<GridHandle>(null);
  const [sought, setSought] = useState("");
  const [trouble, setTrouble] = useState("");
  const change = (changes: Record<string, string | null>) =>
    setQuery((now) => {
      const next = new URLSearchParams(now);
      for (const [name, value] of Object.entries(changes)) {
        if (value === null || value === "") next.delete(name);
        else next.set(name, value);
      }
      return next;
    });
  const [seeking, setSeeking] = useState(false);
  /** What is found, and what is wrong where nothing is. */
  async function lookFor<Found>(asked: Promise<Found>): Promise<Found | undefined> {
    setTrouble("");
    setSeeking(true);
    try {
      return await asked;
    } catch (problem) {
      setTrouble(problem instanceof Error ? problem.message : String(problem));
    } finally {
      setSeeking(false);
    }
  }
  const go = async (event: FormEvent) => {
    event.preventDefault();
    const place = await lookFor(placeOf(table, view, Number(sought)));
    if (place === null) setTrouble(`Row ${sought} is not among these.`);
    else if (place !== undefined) handle.current?.goTo(place);
  };
  const [words, setWords] = useState("");
  const after = useRef(-1);
  const seek = async (event: FormEvent) => {
    event.preventDefault();
    const result = await lookFor(soughtIn(table, view, words, after.current));
    if (!result) return;
    if (result.place === null) setTrouble(`${words} stands in none of these rows.`);
    else {
      setTrouble(`${counted(result.n, "row")} with it`);
      after.current = result.place;
      handle.current?.goTo(result.place, result.variable);
    }
  };
  const n = first.data?.n ?? table.n_rows;
  const label = (symbol: string | undefined) => table.variables.find((variable) => variable.symbol === symbol)?.label;
  return (
    <div className="flex h-full min-h-0 flex-col px-4.5 pb-3.5">
      <div className="flex min-h-[56px] flex-wrap items-center justify-between gap-x-6 gap-y-1 py-2">
        <h1 className="text-head">
          Rows of <span className="text-accent">{table.name}</span>
          {view.sort ? `, by ${label(view.sort)}, ${view.descending ? "largest" : "smallest"} first` : ", as they came"}
          {conditionWords(view, label(view.variable))}
        </h1>
        <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
          <form onSubmit={seek} className="flex items-center gap-2">
            {trouble && (
              <span role="status" className="text-caution">
                {trouble}
              </span>
            )}
            <label className="flex items-center gap-2 text-muted-ink">
              Find
              <input
                required
                maxLength={200}
                value={words}
                placeholder="text or number"
                onChange={(event) => {
                  setWords(event.target.value);
                  setTrouble("");
                  after.current = -1;
                }}
                className="min-h-6 w-36 rounded-lg border border-line-strong/60 bg-surface px-2 text-ink"
              />
            </label>
            <Button type="submit">Next</Button>
          </form>
          <form onSubmit={go} className="flex items-center gap-2">
            <label className="flex items-center gap-2 text-muted-ink">
              Go to row
              <input
                inputMode="numeric"
                required
                pattern="[0-9]+"
                value={sought}
                onChange={(event) => setSought(event.target.value)}
                className="figures min-h-6 w-24 rounded-lg border border-line-strong/60 bg-surface px-2 text-ink"
              />
            </label>
            <Button type="submit">Go</Button>
          </form>
          {text && <Button onClick={() => setQuery({})}>All rows, as they came</Button>}
        </div>
      </div>
      {first.error && <Notice problem={first.error.message} className="mb-3" />}
      <div className="figures mb-1 flex items-center gap-3 text-muted-ink text-small" aria-live="polite">
        {n === table.n_rows ? counted(n, "row") : `${whole(n)} of ${counted(table.n_rows, "row")}`}
        {table.n_aside > 0 && ` · ${whole(table.n_aside)} set aside, struck through`}
        <AuditChoice table={table} />
        <span className="ml-auto">Enter or a double click corrects a cell; Space selects its row</span>
      </div>
      <LongWork view={SEEKING} busy={seeking} words={`Looking for ${words || `row ${sought}`}`} />
      {n === 0 ? (
        <p className="m-auto font-serif text-lead text-muted-ink">No row meets this. Show all rows again, above.</p>
      ) : (
        <Grid key={JSON.stringify(view)} ref={handle} table={table} view={view} n={n} onChange={change} />
      )}
      <CorrectionsBar table={table} />
    </div>
  );
}

function conditionWords(view: GridView, label: string | undefined): string {
  const parts: string[] = [];
  if (view.set_aside) parts.push("set aside");
  if (label && view.missing) parts.push(`with ${label} missing`);
  if (label && view.level !== undefined && view.level !== null) parts.push(`with ${label} ${view.level}`);
  if (label && (view.low !== undefined || view.high !== undefined)) {
    parts.push(
      `with ${label} ${view.low !== undefined ? `from ${view.low}` : ""} ${view.high !== undefined ? `to ${view.high}` : ""}`,
    );
  }
  return parts.length > 0 ? `, ${parts.join(" and ")}` : "";
}
