import { useQuery } from "@tanstack/react-query";
import { Link, NavLink, useLocation } from "react-router";
import { useLedger } from "../api/ledger";
import { screenOf } from "../api/screen";
import type { Session } from "../api/session";
import { usePulse } from "../api/sharing";
import type { Table, Variable } from "../api/studies";
import { USUAL_RULES } from "../stages/screen/useScreenChoices";
import { useLedgerPanel } from "../state/ledgerPanel";
import { Button } from "../ui/Button";
import { Wave } from "../ui/Wave";
import { isNumeric } from "../words/kinds";
import { counted, whole } from "../words/numbers";
import { Account } from "./Account";
import { FindOrDo } from "./FindOrDo";
import { Glyph } from "./Glyph";
import { stageAddresses } from "./stageAddresses";
import type { Place } from "./usePlace";

/** How many rows of the variable at hand the usual rules name, and nobody has decided on. */
function Undecided({ place: { table, variable } }: { place: Place }) {
  const result = table?.variables.find(({ symbol }) => symbol === variable);
  if (!table || !result || !isNumeric(result) || table.n_rows > COUNTED_UP_TO) return null;
  return <UndecidedOf table={table} variable={result} />;
}

function UndecidedOf({ table, variable }: { table: Table; variable: Variable }) {
  const { data } = useQuery(screenOf(table, variable.symbol, USUAL_RULES));
  if (!data?.n_undecided) return null;
  return (
    <span
      className="figures rounded-full bg-accent px-1.5 text-[11.5px] text-on-accent leading-4"
      title={`${counted(data.n_undecided, "value")} of ${variable.label} flagged and undecided`}
    >
      {whole(data.n_undecided)}
      <span className="sr-only"> undecided</span>
    </span>
  );
}

/** Who else has the study open, by the first letters of their names. */
function Here({ people }: { people: { name: string; guest: boolean }[] }) {
  if (people.length === 0) return null;
  const names = people.map(({ name, guest }) => (guest ? `a guest, ${name}` : name)).join("; ");
  return (
    <span className="flex" title={`Here too: ${names}`}>
      <span className="sr-only">Here too: {names}</span>
      {people.slice(0, 3).map(({ name }) => (
        <span
          key={name}
          aria-hidden="true"
          className="-ml-1.5 flex size-6 items-center justify-center rounded-full border border-band bg-band-muted font-semibold text-[11.5px] text-band first:ml-0"
        >
          {name.slice(0, 2)}
        </span>
      ))}
      {people.length > 3 && <span className="ml-1 text-band-muted text-small">+{people.length - 3}</span>}
    </span>
  );
}

const COUNTED_UP_TO = 200_000;
const BAND_LINK =
  "inline-flex min-h-6 items-center rounded-lg border border-band-line px-2.5 py-[3px] text-band-ink hover:border-band-muted aria-[current=page]:border-band-ink";

export function Band({ session, place }: { session: Session; place: Place }) {
  const { pathname } = useLocation();
  const here = /\/(spread|line-up|overview)$/.test(pathname)
    ? "Spread"
    : pathname.endsWith("/rescale")
      ? "Rescale"
      : pathname.endsWith("/screen")
        ? "Screen"
        : pathname.endsWith("/compare")
          ? "Compare"
          : pathname.endsWith("/relate")
            ? "Relate"
            : /\/((table-)?plates|reports)(\/|$)/.test(pathname)
              ? "Plates"
              : /\/record$|^\/help/.test(pathname)
                ? ""
                : "Intake";
  const { open, setOpen } = useLedgerPanel();
  const { data: ledger } = useLedger(place.table);
  const pulse = usePulse(place.study?.id);
  return (
    <header className="col-span-full flex items-center gap-2 bg-band px-3 text-band-ink max-[760px]:flex-wrap max-[760px]:gap-y-0 max-[760px]:pt-1.5">
      <NavLink
        to="/"
        className="flex w-[220px] min-w-10 items-center gap-2.5 overflow-hidden whitespace-nowrap max-[1180px]:w-10"
        aria-label="Velvet Heron, to the table last looked at"
      >
        <Glyph className="size-8 shrink-0" />
        <span className="font-serif text-[19px] max-[1180px]:hidden">Velvet Heron</span>
      </NavLink>
      <nav
        aria-label="Stages"
        className="flex h-full shrink-0 items-stretch max-[760px]:order-last max-[760px]:h-10 max-[760px]:w-full max-[760px]:shrink max-[760px]:overflow-x-auto"
      >
        {stageAddresses(place).map(({ name, to }, i) => (
          <Link
            key={name}
            to={to}
            aria-current={name === here ? "page" : "false"}
            className="group relative flex items-center gap-2 px-3.5 text-[14px] max-[1100px]:gap-1.5 max-[1100px]:px-2.5 text-band-muted hover:text-band-ink aria-[current=page]:text-band-ink"
          >
            <em aria-hidden="true" className="font-serif text-band-muted">
              {i + 1}
            </em>
            {name}
            {name === "Screen" && <Undecided place={place} />}
            <Wave className="absolute bottom-1 left-2 hidden w-[calc(100%-16px)] text-[#83b6d1] group-aria-[current=page]:block" />
          </Link>
        ))}
      </nav>
      <div className="ml-auto flex shrink-0 items-center gap-2 whitespace-nowrap">
        {place.study?.role === "viewer" && !session.guest && (
          <span className="text-band-muted text-small" title="You may look at this study, not change it">
            view only
          </span>
        )}
        <Here people={pulse?.here ?? []} />
        <FindOrDo place={place} />
        {place.table && (
          <Button look="band" aria-expanded={open} onClick={() => setOpen(!open)}>
            Ledger{ledger && ledger.n_entries > 0 ? ` · ${ledger.n_entries}` : ""}
          </Button>
        )}
        {place.study && (
          <Link
            to={`/studies/${place.study.id}/record`}
            aria-current={pathname.endsWith("/record") ? "page" : undefined}
            className={BAND_LINK}
          >
            Share
          </Link>
        )}
        <Link
          to={`/help/${place.page}`}
          aria-current={pathname.startsWith("/help") ? "page" : undefined}
          className={BAND_LINK}
        >
          Help
        </Link>
        <Account session={session} />
      </div>
    </header>
  );
}
