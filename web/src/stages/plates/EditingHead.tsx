import type { ReactNode } from "react";
import type { Plate } from "../../api/plates";
import { Button } from "../../ui/Button";
import { Notice } from "../../ui/Notice";
import { titled } from "../../words/kinds";
import type { Editing } from "./editing";
import { MovedNotice } from "./MovedNotice";

type EditingHeadProps = {
  /** What it is called within a sentence. */
  what: "plate" | "table";
  kept: Pick<Plate, "id" | "frozen" | "stale" | "moved">;
  editing: NameLineProps["editing"];
  deeds: {
    review: { mutate: (id: string) => void };
    freeze: { mutate: (asked: { id: string; on: boolean }) => void };
  };
};

/** The head of what is being edited: its name, whether it is kept, and what moved since somebody last looked. */
export function EditingHead({ what, kept, editing, deeds }: EditingHeadProps) {
  return (
    <>
      <NameLine what={what} editing={editing}>
        {kept.frozen ? "with its numbers frozen" : "follows its data"}
      </NameLine>
      <MovedNotice
        plate={kept}
        onReview={() => deeds.review.mutate(kept.id)}
        onFreeze={() => deeds.freeze.mutate({ id: kept.id, on: true })}
      />
    </>
  );
}

type NameLineProps = {
  what: "plate" | "table" | "report";
  editing: Pick<Editing<unknown>, "name" | "setName" | "waiting" | "trouble" | "again">;
  /** How the sentence goes on behind the name. */
  children: ReactNode;
};

/** The name of what is being edited, in a sentence, and whether it is kept. */
export function NameLine({ what, editing, children }: NameLineProps) {
  return (
    <>
      <div className="flex min-h-[56px] items-center justify-between gap-x-6 py-2">
        <h1 className="flex min-w-0 flex-1 items-baseline gap-2 text-head leading-tight">
          {titled(what)}
          <input
            aria-label={`Name of the ${what}`}
            value={editing.name}
            onChange={(event) => editing.setName(event.target.value)}
            className="field-sizing-content min-w-24 max-w-full truncate rounded border-accent/50 border-b-2 border-dotted bg-transparent px-0.5 font-serif text-accent"
          />
          <span className="shrink-0">{children}</span>
        </h1>
        <p role="status" className="shrink-0 text-muted-ink text-small">
          {editing.waiting ? "saving…" : "saved"}
        </p>
      </div>
      {editing.trouble && (
        <Notice
          problem={editing.trouble.message}
          remedy={"remedy" in editing.trouble ? String(editing.trouble.remedy) : ""}
          className="mb-2"
        >
          <Button look="link" onClick={editing.again}>
            try again
          </Button>
        </Notice>
      )}
    </>
  );
}
