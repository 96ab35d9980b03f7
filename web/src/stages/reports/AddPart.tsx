import { useRef, useState } from "react";
import { REPORT_SECTIONS } from "../../api/choices.gen";
import { useFurnishings, usePlates } from "../../api/plates";
import type { Part, Report } from "../../api/reports";
import { useTablePlates } from "../../api/tablePlates";
import { Button } from "../../ui/Button";
import { Floating } from "../../ui/Floating";
import { keysOf } from "../../values";
import { Thumb } from "../plates/Thumb";
import { withKept } from "./composing";

type AddPartProps = {
  report: Report;
  parts: readonly Part[];
  /** Before which part. */
  at: number;
  onParts: (parts: Part[]) => void;
};

/** What can be put between two parts: words, figures and tables of the study, what writes itself. */
export function AddPart({ report, parts, at, onParts }: AddPartProps) {
  const [open, setOpen] = useState(false);
  const last = at === parts.length;
  const added = useRef(false);
  const put = (next: Part[]) => {
    added.current = true;
    setOpen(false);
    onParts(next);
  };
  return (
    <Floating
      label="What to add"
      open={open}
      onOpenChange={setOpen}
      className="w-96 p-3.5"
      onCloseAutoFocus={(event) => {
        // What was added has the focus.
        if (added.current) event.preventDefault();
        added.current = false;
      }}
      trigger={
        <button
          type="button"
          aria-label={last ? "Add… at the end" : `add here, before part ${at + 1}`}
          className={`group flex h-6 w-full items-center gap-2 text-small ${last ? "text-primary" : "text-transparent focus-visible:text-primary hover:text-primary data-[state=open]:text-primary"}`}
        >
          <span className="h-px flex-1 bg-current opacity-40" />
          {last ? "Add…" : "add here"}
          <span className="h-px flex-1 bg-current opacity-40" />
        </button>
      }
    >
      {open && <Menu {...{ report, parts, at }} onParts={put} />}
    </Floating>
  );
}

function Menu({ report, parts, at, onParts }: AddPartProps) {
  const { data: plates = [] } = usePlates(report.study);
  const { data: tables = [] } = useTablePlates(report.study);
  const { data: furnishings } = useFurnishings();
  const put = (part: Part) => onParts(parts.toSpliced(at, 0, part));
  const there = new Set(parts.map(({ kind }) => kind));
  const sections = keysOf(REPORT_SECTIONS).filter((kind) => !there.has(kind));
  return (
    <div className="flex flex-col gap-3">
      <div className="flex flex-wrap gap-1.5">
        <Button onClick={() => put({ kind: "text", text: "" })}>Text</Button>
        <Button onClick={() => put({ kind: "heading", text: "", level: 1 })}>Heading</Button>
        {sections.map((kind) => (
          <Button
            key={kind}
            title={REPORT_SECTIONS[kind].help}
            onClick={() => put({ kind, heading: REPORT_SECTIONS[kind].label })}
          >
            {REPORT_SECTIONS[kind].label}
          </Button>
        ))}
      </div>
      {tables.length > 0 && (
        <section aria-label="Tables to add">
          <h3 className="mb-1 text-muted-ink text-small">Tables</h3>
          <div className="flex flex-wrap gap-1.5">
            {tables.map((table) => (
              <Button key={table.id} onClick={() => onParts(withKept(parts, at, "table", table))}>
                <span className="max-w-72 truncate">{table.name}</span>
              </Button>
            ))}
          </div>
        </section>
      )}
      {plates.length > 0 && furnishings && (
        <section aria-label="Figures to add">
          <h3 className="mb-1 text-muted-ink text-small">Figures</h3>
          <div className="grid grid-cols-3 gap-2">
            {plates.map((plate) => (
              <button
                key={plate.id}
                type="button"
                onClick={() => onParts(withKept(parts, at, "figure", plate))}
                className="flex flex-col rounded-lg border border-line p-1.5 text-left hover:border-line-strong"
              >
                <Thumb plate={plate} furnishings={furnishings} width={96} height={72} />
                <span className="line-clamp-2 text-small">{plate.name}</span>
              </button>
            ))}
          </div>
        </section>
      )}
      {plates.length === 0 && tables.length === 0 && (
        <p className="text-muted-ink">
          Figures and tables come from any stage: “keep as plate” under a picture, “keep as table” beside its numbers.
        </p>
      )}
    </div>
  );
}
