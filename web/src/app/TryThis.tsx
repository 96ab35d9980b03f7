import { useEffect } from "react";
import { Link, useLocation } from "react-router";
import { useLedger } from "../api/ledger";
import { usePlates } from "../api/plates";
import { usePreferences } from "../state/preferences";
import { Button } from "../ui/Button";
import type { Place } from "./usePlace";

const DEMO = "Ellery Sound";
const TABLE = "Oyster nursery";
const PLATES_AT_FIRST = 8;
const ENTRIES_AT_FIRST = 2;

/** Six tasks in the order of the work, each ticked once it was done; for whoever looks at the demo study. */
export function TryThis({ place }: { place: Place }) {
  const triesClosed = usePreferences((state) => state.triesClosed);
  const { data: plates = [] } = usePlates(place.study?.id);
  // A study of that name that somebody else began is their own.
  if (place.study?.title !== DEMO || triesClosed || plates.length < PLATES_AT_FIRST) return null;
  const table = place.study.tables.find(({ name }) => name === TABLE);
  return table ? <Tasks place={place} table={table.id} /> : null;
}

function Tasks({ place, table }: { place: Place; table: string }) {
  const { pathname, search } = useLocation();
  const { tried, addTried, closeTries } = usePreferences();
  const { data: plates = [] } = usePlates(place.study?.id);
  const { data: ledger } = useLedger(place.table?.id === table ? place.table : undefined);
  const at = `/tables/${table}`;
  const here = (stage: string) => pathname === `${at}/${stage}`;
  const tasks = [
    {
      id: "spread",
      words: "Change the classes of shell mass, or its curve",
      to: `${at}/spread?variable=shell_mass`,
      done: here("spread") && /[?&](rule|count|width|start|boundaries|bandwidth)=/.test(search),
    },
    {
      id: "log",
      words: "See what a logarithm does to it",
      to: `${at}/rescale?variable=shell_mass`,
      done: here("rescale"),
    },
    {
      id: "decide",
      words: "One width was written in centimetres: find its row and decide on it",
      to: `${at}/screen?variable=shell_width`,
      done: (ledger?.n_entries ?? 0) > ENTRIES_AT_FIRST,
    },
    {
      id: "compare",
      words: "Compare the trays, week by week",
      to: `${at}/compare?variable=shell_mass&by=tray_type`,
      done: here("compare") && search.includes("second="),
    },
    {
      id: "relate",
      words: "Relate mass to length",
      to: `${at}/relate?variable=shell_mass&x=shell_length`,
      done: here("relate"),
    },
    {
      id: "keep",
      words: "Keep a picture as a plate (P)",
      to: `/studies/${place.study?.id}/plates`,
      done: plates.length > PLATES_AT_FIRST,
    },
  ];
  const newly = tasks.filter(({ id, done }) => done && !tried.includes(id)).map(({ id }) => id);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what was done is named by its ids
  useEffect(() => {
    if (newly.length > 0) addTried(newly);
  }, [newly.join(" ")]);
  return (
    <section
      aria-label="Try this"
      className="mx-3 mb-3 shrink-0 rounded-card border border-line bg-raised px-3 py-2 max-[760px]:hidden"
    >
      <header className="flex items-baseline justify-between">
        <h2 className="text-lead">Try this</h2>
        <Button look="link" className="text-small!" onClick={closeTries}>
          close for good
        </Button>
      </header>
      <ol>
        {tasks.map(({ id, words, to }) => (
          <li key={id} className="flex items-baseline gap-1.5 py-0.5 text-small">
            <span aria-hidden="true" className={tried.includes(id) ? "text-good" : "text-line-strong"}>
              {tried.includes(id) ? "✓" : "○"}
            </span>
            <Link to={to} className="text-primary underline decoration-primary/40 underline-offset-3">
              {words}
            </Link>
            {tried.includes(id) && <span className="sr-only">done</span>}
          </li>
        ))}
      </ol>
    </section>
  );
}
