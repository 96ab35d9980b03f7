import { useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { usePick } from "../../api/ledger";
import { type LineUp, lineUpOf } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import { LINE_UP_LOOKS, type LineUpLook, LineUpPanel, lineUpScales } from "../../plot/LineUpPanel";
import { wasSeen } from "../../state/seenPlots";
import { Button } from "../../ui/Button";
import { Notice } from "../../ui/Notice";
import { useSize } from "../../ui/useSize";
import { WordChoice } from "../../ui/WordChoice";
import { isNumeric, named, titled } from "../../words/kinds";
import { whole } from "../../words/numbers";
import { useTableHere } from "../TableRoute";

const COLUMNS = 5;
const GAP = 8;
const SEEDS = 1_000_000;

/** The line-up: the data among nineteen samples of the fitted normal distribution, to be picked by eye. */
export function LineUpStage() {
  const [query] = useSearchParams();
  const table = useTableHere();
  const variable = table.variables.find(({ symbol }) => symbol === query.get("variable"));
  if (!variable || !isNumeric(variable)) {
    return <Notice problem="A line-up needs a numeric variable." remedy="Open it from Spread." className="m-4.5" />;
  }
  return <Stage key={variable.symbol} table={table} variable={variable} />;
}

function Stage({ table, variable }: { table: Table; variable: Variable }) {
  const [query, setQuery] = useSearchParams();
  const [drawn] = useState(() => Math.floor(Math.random() * SEEDS));
  const wanted = Number(query.get("seed"));
  const seed = query.has("seed") && Number.isSafeInteger(wanted) && wanted >= 0 ? wanted : drawn;
  const look = LINE_UP_LOOKS.find(({ value }) => value === query.get("as"))?.value ?? "qq";
  const change = (changes: Record<string, string>) =>
    setQuery((now) => {
      const next = new URLSearchParams(now);
      for (const [name, value] of Object.entries({ seed: String(seed), ...changes })) next.set(name, value);
      return next;
    });
  return (
    <div className="flex h-full min-h-0 flex-col px-4.5 pb-3.5">
      <div className="flex min-h-[56px] flex-wrap items-center justify-between gap-x-6 gap-y-1 py-2">
        <h1 className="text-head">
          Which of these is <span className="text-accent">{named(variable)}</span>, and not a normal sample? Look at{" "}
          <WordChoice
            label="Drawn as"
            shown={LINE_UP_LOOKS.find(({ value }) => value === look)?.label ?? ""}
            value={look}
            options={[...LINE_UP_LOOKS]}
            onChoose={(value) => change({ as: value })}
          />
        </h1>
        <Link
          to={`/tables/${table.id}/spread?variable=${encodeURIComponent(variable.symbol)}`}
          className="text-primary hover:underline"
        >
          back to its spread
        </Link>
      </div>
      <Drawn
        key={seed}
        table={table}
        variable={variable}
        seed={seed}
        look={look}
        onAnother={() => change({ seed: String(Math.floor(Math.random() * SEEDS)) })}
      />
    </div>
  );
}

type DrawnProps = Omit<PanelsProps, "lineUp"> & { seed: number };

/** One line-up. Its pick is recorded on the table as it was when the panels were drawn, and moves its revision on. */
function Drawn({ table, seed, ...rest }: DrawnProps) {
  const [asSeen] = useState(table);
  const useQueryResult = useQuery(lineUpOf(asSeen, rest.variable.symbol, seed));
  const remedy = useQueryResult.error && "remedy" in useQueryResult.error ? String(useQueryResult.error.remedy) : "";
  if (useQueryResult.error) return <Notice problem={useQueryResult.error.message} remedy={remedy} />;
  return useQueryResult.data ? <Panels table={asSeen} lineUp={useQueryResult.data} {...rest} /> : null;
}

type PanelsProps = { table: Table; variable: Variable; lineUp: LineUp; look: LineUpLook; onAnother: () => void };

function Panels({ table, variable, lineUp, look, onAnother }: PanelsProps) {
  const [room, size] = useSize();
  const pick = usePick(table);
  const [active, setActive] = useState(0);
  const [picked, setPicked] = useState<number | null>(null);
  const data = pick.data?.place ?? null;
  const rows = Math.ceil(lineUp.panels.length / COLUMNS);
  const width = Math.floor(((size?.width ?? 0) - GAP * (COLUMNS - 1)) / COLUMNS);
  const height = Math.floor(((size?.height ?? 0) - GAP * (rows - 1)) / rows);
  const scales = lineUpScales(lineUp, look, { width, height });
  const choose = (place: number) => {
    if (picked !== null) return;
    setPicked(place);
    pick.mutate({
      variable: variable.symbol,
      seed: lineUp.seed,
      place,
      seen_before: wasSeen(table.id, variable.symbol),
    });
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: COLUMNS, ArrowUp: -COLUMNS }[event.key];
    if (step !== undefined) setActive((now) => Math.min(Math.max(now + step, 0), lineUp.panels.length - 1));
    else if (event.key === "Enter" || event.key === " ") choose(active);
    else return;
    event.preventDefault();
  };
  return (
    <>
      <div
        role="listbox"
        aria-label="Panels: arrows walk them, Enter picks one"
        aria-activedescendant={`panel-${active}`}
        tabIndex={0}
        onKeyDown={onKeyDown}
        ref={room}
        className="grid min-h-0 flex-1 grid-cols-5 gap-2 rounded-card"
      >
        {width > 40 &&
          height > 30 &&
          lineUp.panels.map((panel, place) => {
            const isData = data === place;
            const state = isData
              ? "border-accent border-2"
              : picked === place
                ? "border-caution border-2"
                : "border-line";
            return (
              // biome-ignore lint/a11y/useKeyWithClickEvents: the keys are those of the list around it
              <div
                // biome-ignore lint/suspicious/noArrayIndexKey: a panel is its place
                key={place}
                id={`panel-${place}`}
                role="option"
                tabIndex={-1}
                aria-selected={picked === place}
                aria-label={`Panel ${place + 1}${isData ? ", the data" : ""}`}
                onClick={() => choose(place)}
                onPointerEnter={() => setActive(place)}
                className={`relative min-h-0 min-w-0 overflow-hidden rounded-lg border bg-raised ${state} ${active === place && picked === null ? "outline-2 outline-focus-ring outline" : ""} ${picked === null ? "cursor-pointer" : ""}`}
              >
                <LineUpPanel lineUp={lineUp} panel={panel} look={look} scales={scales} width={width} height={height} />
                <span className="figures absolute top-1 left-2 text-muted-ink text-small">
                  {place + 1}
                  {isData && <strong className="text-accent"> the data</strong>}
                  {picked === place && !isData && <span className="text-caution"> your pick</span>}
                </span>
              </div>
            );
          })}
      </div>
      <p className="flex min-h-[40px] flex-wrap items-center gap-x-4 pt-2 font-serif text-lead" aria-live="polite">
        {pick.error
          ? pick.error.message
          : data === null
            ? `${titled(named(variable))}: ${whole(lineUp.n_shown)}${lineUp.n_shown < lineUp.n ? ` of ${whole(lineUp.n)}` : ""} values, among 19 samples of their own size from the normal distribution of the same mean and SD. Pick the panel that stands out.`
            : verdict(picked === data, picked ?? 0, data, wasSeen(table.id, variable.symbol))}
        {data !== null && <Button onClick={onAnother}>Another line-up</Button>}
        <CopyLink seed={lineUp.seed} table={table} variable={variable} />
      </p>
    </>
  );
}

function verdict(right: boolean, picked: number, data: number, seenBefore: boolean): string {
  if (!right) {
    return `You picked panel ${picked + 1}; the data stand in panel ${data + 1}. To this eye they look like the normal samples around them.`;
  }
  const chance = "If the data were normal, they would be picked once in 20 times (p = 0.05).";
  return seenBefore
    ? `You picked the data. ${chance} But you had seen their plot before, so ask somebody with fresh eyes too.`
    : `You picked the data. ${chance}`;
}

/** A link to the same panels for a colleague who has not seen the data. */
function CopyLink({ seed, table, variable }: { seed: number; table: Table; variable: Variable }) {
  const [copied, setCopied] = useState(false);
  const query = new URLSearchParams({ variable: variable.symbol, seed: String(seed) });
  const address = `${location.origin}/tables/${table.id}/line-up?${query}`;
  return (
    <Button
      look="link"
      className="ml-auto font-sans"
      onClick={() => navigator.clipboard.writeText(address).then(() => setCopied(true))}
    >
      {copied ? "copied: open it where the data were not seen" : "copy a link for fresh eyes"}
    </Button>
  );
}
