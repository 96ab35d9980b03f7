import { type DragEvent, useState } from "react";
import { useSession } from "../../api/session";
import { type Preview, type Study, useBringIn, usePaste } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { FileButton } from "../../ui/FileButton";
import { Notice } from "../../ui/Notice";
import { titled } from "../../words/kinds";
import { InboxFiles } from "./InboxFiles";
import { Looking } from "./Looking";

type BringInProps = { study: Study; onPreview: (result: Preview) => void };

/** A file or pasted text, to be looked at; nothing is stored yet. */
export function BringIn({ study, onPreview }: BringInProps) {
  const { data: session } = useSession();
  const file = useBringIn(study.id);
  const paste = usePaste(study.id);
  const [over, setOver] = useState(false);
  const [text, setText] = useState("");
  const take = (given: File | undefined) => {
    paste.reset();
    if (given) file.mutate(given, { onSuccess: onPreview });
  };
  const onDrop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    take(event.dataTransfer.files[0]);
  };
  const busy = file.isPending || paste.isPending;
  const error = file.error ?? paste.error;
  return (
    <Card
      title="A file, or text"
      className="stack-card"
      aside={<span className="text-muted-ink text-small">looked at first; nothing is stored until you say so</span>}
    >
      <div className="flex min-h-0 flex-1 flex-col gap-3.5 p-3.5">
        {/* biome-ignore lint/a11y/noStaticElementInteractions: dropping is the mouse's way; the button inside is everybody's */}
        <div
          onDragOver={(event) => {
            event.preventDefault();
            setOver(true);
          }}
          onDragLeave={() => setOver(false)}
          onDrop={onDrop}
          className={`flex flex-col items-center gap-2 rounded-card border-2 border-dashed px-6 py-8 text-center ${over ? "border-accent bg-accent-tint" : "border-line bg-surface"}`}
        >
          <FaintTable />
          <p className="mt-1 font-serif text-lead">Drop a file here, or</p>
          <FileButton
            words="Choose a file"
            label="Choose a file from this machine"
            look="primary"
            disabled={busy}
            onChoose={take}
          />
          <p className="text-muted-ink text-small">
            Delimited text, workbooks (.xlsx, .ods), Parquet, Arrow, JSON records or a Data Package; up to{" "}
            {Math.round((session?.upload_limit ?? 0) / 1e6)} MB.
          </p>
        </div>
        <InboxFiles study={study} />
        <form
          className="flex min-h-[150px] flex-1 flex-col gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            file.reset();
            if (text.trim()) paste.mutate(text, { onSuccess: onPreview });
          }}
        >
          <label htmlFor="pasted" className="font-serif text-lead">
            Or paste rows, with their header
          </label>
          <textarea
            id="pasted"
            value={text}
            onChange={(event) => setText(event.target.value)}
            spellCheck={false}
            placeholder={"dose\tyield (kg)\n0\t3.1\n5\t3.8"}
            className="figures min-h-0 flex-1 resize-none rounded-lg border border-line-strong/60 bg-surface p-2.5"
          />
          <Button type="submit" disabled={busy || !text.trim()} className="self-start">
            Preview
          </Button>
        </form>
        {busy && <Looking job={file.job ?? paste.job} />}
        {error && <Notice problem={titled(error.message)} remedy={"remedy" in error ? String(error.remedy) : ""} />}
      </div>
    </Card>
  );
}

function FaintTable() {
  return (
    <svg aria-hidden="true" width="150" height="58" className="text-line">
      {[0, 1, 2].map((row) =>
        [0, 1, 2, 3].map((column) => (
          <rect
            key={`${row}-${column}`}
            x={column * 38 + 1}
            y={row * 20 + 1}
            width={[30, 24, 32, 20][(row + column) % 4]}
            height={row === 0 ? 8 : 6}
            rx="3"
            fill="currentColor"
          />
        )),
      )}
    </svg>
  );
}
