import Markdown from "react-markdown";
import { Link } from "react-router";
import type { Table } from "../api/studies";
import { useMeanings } from "../state/meanings";
import { leadOn } from "./leads";
import { pageOf } from "./pages";

type HelpTextProps = {
  slug: string;
  table: Table | undefined;
  variable: string | null;
  /** Without its title. */
  bare?: boolean;
  /** Called when a link was followed. */
  onLeave?: () => void;
};

const LINK = "text-primary underline decoration-primary/40 underline-offset-3";

/** One page of help. Leads go to their stage, set up for the table at hand. */
export function HelpText({ slug, table, variable, bare = false, onLeave }: HelpTextProps) {
  const page = pageOf(slug);
  const setMeanings = useMeanings((state) => state.setOpen);
  if (!page) return <p>There is no such page.</p>;
  return (
    <div className="help-text">
      {!bare && <h1 className="mb-3 text-head">{page.title}</h1>}
      <Markdown
        urlTransform={(address) => address}
        components={{
          a: ({ href = "", children }) => {
            if (!href.startsWith("go:")) return <>{children}</>;
            const lead = leadOn(decodeURI(href), table, variable);
            if ("lacks" in lead)
              return (
                <>
                  {children} <span className="text-muted-ink text-small">(needs {lead.lacks})</span>
                </>
              );
            return (
              <Link to={lead.to} className={LINK} {...(onLeave ? { onClick: onLeave } : {})}>
                {children}
              </Link>
            );
          },
        }}
      >
        {page.text}
      </Markdown>
      <p className="mt-2">
        <button type="button" className={`min-h-6 ${LINK}`} onClick={() => setMeanings(true)}>
          What each number means
        </button>
      </p>
    </div>
  );
}
