import { useState } from "react";
import { Link, useParams } from "react-router";
import { usePlace } from "../app/usePlace";
import { SHORTCUTS } from "../app/useShortcuts";
import { HelpText } from "./HelpText";
import { PAGES, pageOf } from "./pages";

const SHORTCUT_PAGE = "shortcuts";
const FIRST = "questions";
const STAGES = ["intake", "spread", "rescale", "screen", "compare", "relate", "gallery", "share"];

/** Help: a page for each stage and each picture, from a question to a picture, and the shortcuts. */
export function HelpStage() {
  const { page = FIRST } = useParams();
  const { table, variable } = usePlace();
  const [typed, setTyped] = useState("");
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const found = PAGES.filter(({ title, text }) =>
    words.every((word) => `${title} ${text}`.toLowerCase().includes(word)),
  );
  const lists = {
    "Where to begin": [FIRST],
    Stages: STAGES,
    "Pictures and numbers": PAGES.map(({ slug }) => slug).filter((slug) => slug !== FIRST && !STAGES.includes(slug)),
  };
  return (
    <div className="grid h-full min-h-0 grid-cols-[260px_minmax(0,1fr)] gap-6 px-4.5 pt-3 pb-3.5 max-[760px]:grid-cols-[minmax(0,1fr)]">
      <nav aria-label="Help" className="min-h-0 overflow-y-auto pr-2">
        <input
          aria-label="Find in help"
          placeholder="Find in help"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          className="mb-2 min-h-7 w-full rounded-lg border border-line-strong/60 bg-surface px-2"
        />
        {found.length === 0 && <p className="text-muted-ink">No page has these words.</p>}
        {Object.entries(lists).map(([name, slugs]) => {
          const shown = slugs.filter((slug) => found.some((one) => one.slug === slug));
          return shown.length === 0 ? null : (
            <section key={name} aria-label={name}>
              <h2 className="pt-2 pb-1 text-lead text-muted-ink italic">{name}</h2>
              <ul>
                {shown.map((slug) => (
                  <Item key={slug} {...{ slug, page }} title={pageOf(slug)?.title ?? ""} />
                ))}
              </ul>
            </section>
          );
        })}
        {words.length === 0 && (
          <ul className="pt-2">
            <Item slug={SHORTCUT_PAGE} page={page} title="Shortcuts" />
            <li>
              <a href="/static/licences.txt" className={ITEM}>
                Licences of its parts
              </a>
            </li>
          </ul>
        )}
      </nav>
      <article className="min-h-0 overflow-y-auto pb-6">
        <div className="max-w-prose font-serif text-lead leading-relaxed">
          {page === SHORTCUT_PAGE ? <Shortcuts /> : <HelpText slug={page} table={table} variable={variable} />}
        </div>
      </article>
    </div>
  );
}

const ITEM = "flex min-h-7 items-center rounded-lg px-2.5 hover:bg-raised/70";

function Item({ slug, page, title }: { slug: string; page: string; title: string }) {
  return (
    <li>
      <Link
        to={`/help/${slug}`}
        aria-current={slug === page ? "page" : undefined}
        className={`${ITEM} aria-[current=page]:bg-raised aria-[current=page]:shadow-[inset_3px_0_0_var(--accent)]`}
      >
        {title}
      </Link>
    </li>
  );
}

function Shortcuts() {
  return (
    <>
      <h1 className="mb-3 text-head">Shortcuts</h1>
      <dl className="grid grid-cols-[9rem_1fr] gap-x-4 gap-y-1">
        {SHORTCUTS.map(([keys, deed]) => (
          <div key={keys} className="contents">
            <dt>
              <kbd className="rounded border border-line bg-raised px-1.5">{keys}</kbd>
            </dt>
            <dd>{deed}</dd>
          </div>
        ))}
      </dl>
      <p className="mt-3">Single keys rest while something is typed; the account menu switches them off.</p>
    </>
  );
}
