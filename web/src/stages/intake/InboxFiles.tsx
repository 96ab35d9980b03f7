import { useCallback } from "react";
import { useNavigate } from "react-router";
import { useInbox, useReadInbox } from "../../api/making";
import type { Study } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Notice } from "../../ui/Notice";
import { sizeWords } from "../../words/numbers";
import { Storing, useStoring } from "./Storing";

/** Files that an operator put on this server: read in place, whatever their length. */
export function InboxFiles({ study }: { study: Study }) {
  const { data: files } = useInbox(study.id);
  const read = useReadInbox(study.id);
  const navigate = useNavigate();
  const { working, said } = useStoring(
    read.data,
    useCallback((table: string) => navigate(`/tables/${table}/spread`, { state: { stored: table } }), [navigate]),
  );
  if (!files?.length) return null;
  const trouble = said || read.error?.message;
  return (
    <section aria-label="Files on this server" className="flex flex-col gap-2">
      <h3 className="font-serif text-lead">Files on this server</h3>
      <p className="text-muted-ink text-small">Read where they are, from the first row to the last.</p>
      {trouble && <Notice problem={trouble} />}
      {working ? (
        <Storing job={working} />
      ) : (
        <ul className="max-h-48 overflow-y-auto">
          {files.map(({ name, size }) => (
            <li key={name} className="flex items-baseline gap-3 border-line border-t py-1">
              <span className="min-w-0 flex-1 truncate">{name}</span>
              <span className="figures text-muted-ink text-small">{sizeWords(size)}</span>
              <Button
                look="link"
                aria-label={`Read ${name}`}
                disabled={read.isPending}
                onClick={() => read.mutate({ file: name, name: name.replace(/\.[^.]*$/, "") || name })}
              >
                read it
              </Button>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
