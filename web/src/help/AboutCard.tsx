import { lazy, Suspense, useState } from "react";
import { Link } from "react-router";
import type { Table } from "../api/studies";
import { Floating } from "../ui/Floating";

const HelpText = lazy(async () => ({ default: (await import("./HelpText")).HelpText }));

type AboutCardProps = { slug: string; title: string; table: Table | undefined; variable: string | null };

/** What a card shows, how it is computed, what to look for, what people get wrong: behind a question mark. */
export function AboutCard({ slug, title, table, variable }: AboutCardProps) {
  const [open, setOpen] = useState(false);
  const close = () => setOpen(false);
  return (
    <Floating
      label={`About ${title}`}
      align="end"
      open={open}
      onOpenChange={setOpen}
      className="w-96 p-3.5"
      trigger={
        <button
          type="button"
          aria-label={`About ${title}`}
          title="What this is"
          className="flex size-6 shrink-0 items-center justify-center rounded-full border border-line text-muted-ink text-small hover:border-line-strong hover:text-accent"
        >
          <span aria-hidden="true">?</span>
        </button>
      }
    >
      {open && (
        <Suspense>
          <HelpText {...{ slug, table, variable }} bare onLeave={close} />
          <p className="mt-1">
            <Link
              to={`/help/${slug}`}
              onClick={close}
              className="text-primary underline decoration-primary/40 underline-offset-3"
            >
              All of help
            </Link>
          </p>
        </Suspense>
      )}
    </Floating>
  );
}
