import { useEffect, useState } from "react";
import { Link, useLocation } from "react-router";
import type { Table, Variable } from "../api/studies";
import { SmallShape } from "../plot/SmallShape";
import { useForesight } from "../stages/spread/useForesight";
import { useSpreadChoices } from "../stages/spread/useSpreadChoices";
import { about, isNumeric } from "../words/kinds";
import { counted, whole } from "../words/numbers";
import { keptChoices, searchOf } from "./keptChoices";
import { TryThis } from "./TryThis";
import type { Place } from "./usePlace";

const FILTER_FROM = 16;

/** The table and its variables, each with its small shape, unit and missing count. */
export function VariableList({ place }: { place: Place }) {
  const { table, study } = place;
  const [typed, setTyped] = useState("");
  const variables = table?.variables ?? [];
  useForesightOfAll(table, place.variable);
  const weights = variables.find(({ symbol }) => symbol === table?.weight_variable);
  const shown = variables.filter(({ label, symbol }) =>
    `${label} ${symbol}`.toLowerCase().includes(typed.toLowerCase()),
  );
  return (
    <nav
      aria-label="Variables"
      className="flex min-h-0 flex-col border-line border-r bg-aside max-[760px]:max-h-44 max-[760px]:border-r-0 max-[760px]:border-b"
    >
      <div className="mx-3 mt-3 rounded-card border border-line bg-raised px-3 py-2">
        <p className="truncate font-serif text-lead">{table?.name ?? study?.title}</p>
        <p className="figures truncate text-muted-ink text-small" title={table?.source}>
          {table ? (
            <>
              <Link
                to={`/tables/${table.id}/grid`}
                className="text-primary underline decoration-primary/40 underline-offset-3"
              >
                {counted(table.n_rows, "row")}
              </Link>
              {` · ${table.source}`}
            </>
          ) : study && study.tables.length === 0 && !place.at ? (
            "no table yet"
          ) : null}
        </p>
        {weights && <p className="text-muted-ink text-small">Each row counts as often as {weights.label} says.</p>}
        {table?.made?.trouble && (
          <p role="status" className="text-caution text-small">
            It could not follow its source: {table.made.trouble}
          </p>
        )}
      </div>
      <h2 className="flex justify-between px-4 pt-2.5 pb-1 text-lead text-muted-ink italic">
        {table ? (
          <Link
            to={`/tables/${table.id}/variables`}
            className="flex min-h-6 items-center hover:text-primary hover:underline"
            title="What they are (V)"
          >
            Variables
          </Link>
        ) : (
          "Variables"
        )}
        <span className="figures">{whole(variables.length)}</span>
      </h2>
      {variables.length >= FILTER_FROM && (
        <input
          aria-label="Find a variable"
          placeholder="Type to find"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          className="mx-3 mb-1 rounded-md border border-line bg-raised px-2 py-1"
        />
      )}
      <ul className="min-h-0 flex-1 overflow-y-auto px-1.5 pb-3">
        {table &&
          shown.map((variable) => (
            <VariableLine
              key={variable.symbol}
              table={table}
              variable={variable}
              current={place.variable}
              stage={isNumeric(variable) ? place.stage : "spread"}
              searches={place.searches}
            />
          ))}
      </ul>
      <TryThis place={place} />
    </nav>
  );
}

type VariableLineProps = Pick<Place, "stage" | "searches"> & {
  table: Table;
  variable: Variable;
  current: string | null;
};

function VariableLine({ table, variable, current, stage, searches }: VariableLineProps) {
  const { choices } = useSpreadChoices();
  const foresee = useForesight(table);
  // Eyes that are to pick the data out of a line-up are shown nothing of them.
  const { pathname, search } = useLocation();
  const hidden = pathname.endsWith("/line-up");
  const kept = new URLSearchParams(
    keptChoices(searchOf({ stage, searches }, pathname, search), stage, variable.symbol),
  );
  if (choices.layers.join() !== "classes,density,normal,box,points") kept.set("layers", choices.layers.join(" "));
  if (choices.measure !== "density") kept.set("measure", choices.measure);
  if (choices.definition !== 7) kept.set("definition", String(choices.definition));
  return (
    <li className="[content-visibility:auto] [contain-intrinsic-height:44px]">
      <Link
        to={`/tables/${table.id}/${stage}?${kept}`}
        aria-current={variable.symbol === current ? "true" : undefined}
        onPointerEnter={() => foresee(variable)}
        onFocus={() => foresee(variable)}
        className="flex min-h-11 items-center gap-3 rounded-lg border border-transparent px-2 py-1 hover:bg-raised/70 aria-[current=true]:border-accent aria-[current=true]:bg-raised"
      >
        <SmallShape
          heights={hidden ? [] : variable.shape}
          bars={variable.kind !== "continuous" && variable.kind !== "date-time"}
        />
        <span className="min-w-0">
          <span className="block truncate font-medium">{variable.label}</span>
          <span className="figures block truncate text-muted-ink text-small">
            {about(variable)}
            {variable.n_missing > 0 && <span className="text-caution"> · {whole(variable.n_missing)} missing</span>}
          </span>
        </span>
      </Link>
    </li>
  );
}

const IDLE = 400;
const FORESEEN_UP_TO = { rows: 20_000, variables: 24 };

/** Once a view has settled, the other variables of a small table are asked for too, the nearest first, one by one. */
function useForesightOfAll(table: Table | undefined, current: string | null) {
  const foresee = useForesight(table);
  useEffect(() => {
    if (!table || table.n_rows > FORESEEN_UP_TO.rows || current === null) return;
    const here = table.variables.findIndex(({ symbol }) => symbol === current);
    const nearest = [...table.variables.entries()]
      .sort(([a], [b]) => Math.abs(a - here) - Math.abs(b - here))
      .slice(1, FORESEEN_UP_TO.variables)
      .map(([, variable]) => variable);
    let left = false;
    const timer = setTimeout(async () => {
      for (const variable of nearest) if (!left) await foresee(variable);
    }, IDLE);
    return () => {
      left = true;
      clearTimeout(timer);
    };
  }, [table, current, foresee]);
}
