import { useRef } from "react";
import { Link } from "react-router";
import { REPORT_SECTIONS } from "../../api/choices.gen";
import { type Furnishings, type PlateLine, useFurnishings, usePlates } from "../../api/plates";
import type { Composed, KeptPart, KeptShown, Part, Report, ReportDocument } from "../../api/reports";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { Choices } from "../../ui/Choices";
import { NumbersChoice } from "../../ui/NumbersChoice";
import { WordChoice } from "../../ui/WordChoice";
import type { Editing } from "../plates/editing";
import { Thumb } from "../plates/Thumb";
import { AddPart } from "./AddPart";
import { isKept, renamed, stepped } from "./composing";
import { TextPart } from "./TextPart";

type PartsCardProps = { report: Report; editing: Editing<ReportDocument>; composed: Composed | undefined };

const PAPERS = { A4: "A4", letter: "Letter" } as const;
const FONTS = { serif: "Serif", sans: "Sans" } as const;
const LEVELS = [1, 2, 3].map((level) => ({ value: String(level), label: `level ${level}` }));
const LINE =
  "w-full rounded-lg border border-transparent bg-transparent px-2.5 py-1 hover:border-line focus:border-line-strong";

/** The parts of a report in their order, each edited where it stands. */
export function PartsCard({ report, editing, composed }: PartsCardProps) {
  const { document, edit, undo, redo, canUndo, canRedo } = editing;
  const { title = "", authors = "", paper = "A4", font = "serif", parts = [] } = document;
  const setParts = (next: Part[], hand = "") => edit((now) => ({ ...now, parts: next }), hand);
  const list = useRef<HTMLOListElement>(null);
  /** Where the hand goes on once parts stand anew: in a part's own field, or at the same button of it. */
  const goOn = (at: number, button = "") =>
    setTimeout(() => {
      const all = [...(list.current?.children[at]?.querySelectorAll<HTMLElement>("button, input, textarea") ?? [])];
      const here = all.filter((one) => !one.matches(":disabled"));
      const named = here.find((one) => one.ariaLabel?.endsWith(button));
      (button ? (named ?? here[0]) : here.find((one) => one.matches("input, textarea")))?.focus();
    });
  return (
    <Card
      help="reports"
      title="Parts"
      footer={
        <>
          <span className="flex items-center gap-1">
            <Button className="text-small!" disabled={!canUndo} onClick={undo}>
              Undo
            </Button>
            <Button className="text-small!" disabled={!canRedo} onClick={redo}>
              Redo
            </Button>
          </span>
          <Choices
            label="Paper"
            options={PAPERS}
            chosen={paper}
            onChoose={(paper) => edit((now) => ({ ...now, paper }))}
          />
          <NumbersChoice
            value={document.numbers ?? "space-point"}
            onChoose={(numbers) => edit((now) => ({ ...now, numbers }))}
          />
          <Choices label="Type" options={FONTS} chosen={font} onChoose={(font) => edit((now) => ({ ...now, font }))} />
        </>
      }
    >
      <div className="min-h-0 flex-1 overflow-y-auto px-3.5 py-3">
        <input
          aria-label="Title"
          value={title}
          placeholder="Title"
          onChange={(event) => edit((now) => ({ ...now, title: event.target.value }), "title")}
          className={`${LINE} font-serif text-head`}
        />
        <input
          aria-label="Authors"
          value={authors}
          placeholder="By whom"
          onChange={(event) => edit((now) => ({ ...now, authors: event.target.value }), "authors")}
          className={LINE}
        />
        <ol ref={list} aria-label="Parts" className="mt-1">
          {parts.map((part, at) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: a part is its place
            <li key={at} className="group/part">
              <div className="flex items-center gap-2">
                <AddPart
                  {...{ report, parts, at }}
                  onParts={(next) => {
                    setParts(next);
                    goOn(at);
                  }}
                />
                <PartDeeds
                  {...{ at }}
                  n={parts.length}
                  onMove={(by) => {
                    setParts(stepped(parts, at, by));
                    goOn(at + by, by < 0 ? " up" : " down");
                  }}
                  onRemove={() => {
                    setParts(parts.toSpliced(at, 1));
                    goOn(Math.min(at, parts.length - 2), " out");
                  }}
                />
              </div>
              <OnePart
                {...{ part, report }}
                kept={composed?.kept ?? []}
                onRename={(key) => setParts(renamed(parts, at, key))}
                onPart={(next, hand) => setParts(parts.with(at, next), hand && `${hand} ${at}`)}
              />
            </li>
          ))}
        </ol>
        <AddPart
          {...{ report, parts }}
          at={parts.length}
          onParts={(next) => {
            setParts(next);
            goOn(parts.length);
          }}
        />
      </div>
    </Card>
  );
}

type PartDeedsProps = { at: number; n: number; onMove: (by: -1 | 1) => void; onRemove: () => void };

function PartDeeds({ at, n, onMove, onRemove }: PartDeedsProps) {
  return (
    <span className="flex shrink-0 text-muted-ink">
      <Button look="quiet" aria-label={`Move part ${at + 1} up`} disabled={at === 0} onClick={() => onMove(-1)}>
        ↑
      </Button>
      <Button look="quiet" aria-label={`Move part ${at + 1} down`} disabled={at === n - 1} onClick={() => onMove(1)}>
        ↓
      </Button>
      <Button look="quiet" aria-label={`Take part ${at + 1} out`} onClick={onRemove}>
        ×
      </Button>
    </span>
  );
}

type OnePartProps = {
  part: Part;
  report: Report;
  kept: readonly KeptShown[];
  /** hand: where typing goes on within one step. */
  onPart: (part: Part, hand?: string) => void;
  onRename: (key: string) => void;
};

function OnePart({ part, report, kept, onPart, onRename }: OnePartProps) {
  if (isKept(part))
    return <Shown {...{ part, report }} shown={kept.find(({ key }) => key === part.key)} {...{ onRename }} />;
  if (part.kind === "text")
    return <TextPart text={part.text ?? ""} kept={kept} onText={(text) => onPart({ ...part, text }, "text")} />;
  if (part.kind === "heading")
    return (
      <div className="flex items-center gap-2">
        <input
          aria-label="Heading"
          value={part.text ?? ""}
          placeholder="Heading"
          onChange={(event) => onPart({ ...part, text: event.target.value }, "heading")}
          className={`${LINE} font-semibold ${part.level === 1 ? "text-lead" : ""}`}
        />
        <WordChoice
          label="Level"
          value={String(part.level ?? 1)}
          options={LEVELS}
          onChoose={(level) => onPart({ ...part, level: Number(level) })}
          className="shrink-0 text-small"
        />
      </div>
    );
  return (
    <div className="rounded-lg border border-line border-dashed px-2.5 py-1.5">
      <input
        aria-label={`Heading of ${REPORT_SECTIONS[part.kind].label}`}
        value={part.heading ?? ""}
        placeholder="No heading"
        onChange={(event) => onPart({ ...part, heading: event.target.value }, "heading")}
        className="w-full bg-transparent font-semibold"
      />
      <p className="text-muted-ink text-small">Writes itself. {REPORT_SECTIONS[part.kind].help}</p>
    </div>
  );
}

type ShownProps = {
  part: KeptPart;
  report: Report;
  shown: KeptShown | undefined;
  onRename: (key: string) => void;
};

/** A figure or table with its number, and the word by which text refers to it. */
function Shown({ part, report, shown, onRename }: ShownProps) {
  const { data: plates = [] } = usePlates(report.study);
  const { data: furnishings } = useFurnishings();
  const plate = plates.find(({ id }) => id === part.plate);
  const to = part.kind === "figure" ? `/plates/${part.plate}` : `/table-plates/${part.plate}`;
  return (
    <div className="flex gap-3 rounded-lg border border-line p-2">
      <Small {...{ part, plate, furnishings }} />
      <div className="min-w-0 flex-1">
        <p className="flex flex-wrap items-baseline gap-x-2">
          <strong className="font-semibold">{shown?.label}</strong>
          <Link to={to} className="min-w-0 truncate text-primary underline decoration-primary/40 underline-offset-3">
            {shown?.name || (shown?.fails ? "" : plate?.name)}
          </Link>
          {shown?.moved && <span className="text-caution text-small">has moved</span>}
        </p>
        <p className={`line-clamp-3 font-serif text-small ${shown?.fails ? "text-caution" : "text-muted-ink"}`}>
          {shown?.words}
        </p>
        <label className="mt-1 flex items-baseline gap-1 text-muted-ink text-small">
          in text
          <code>{"{"}</code>
          <input
            key={part.key}
            aria-label={`Word in text for ${shown?.label ?? part.kind}`}
            defaultValue={part.key}
            onBlur={({ target }) => {
              if (target.value !== part.key) onRename(target.value);
            }}
            onKeyDown={(event) => {
              if (event.key === "Enter") event.currentTarget.blur();
            }}
            className="field-sizing-content min-w-8 border-line-strong/60 border-b border-dotted bg-transparent font-mono"
          />
          <code>{"}"}</code>
        </label>
      </div>
    </div>
  );
}

type SmallProps = { part: KeptPart; plate: PlateLine | undefined; furnishings: Furnishings | undefined };

function Small({ part, plate, furnishings }: SmallProps) {
  if (part.kind === "figure" && plate && furnishings)
    return (
      <div className="w-24 shrink-0">
        <Thumb plate={plate} furnishings={furnishings} width={96} height={74} />
      </div>
    );
  return (
    <svg viewBox="0 0 96 60" aria-hidden="true" className="w-24 shrink-0 self-start text-line-strong/60">
      <path d="M6 8h84M6 20h84M6 52h84" fill="none" stroke="currentColor" strokeWidth="1.500" />
      <path d="M6 29h30M50 29h12M74 29h12M6 37h24M50 37h12M74 37h12M6 45h28M50 45h12M74 45h12" stroke="currentColor" />
    </svg>
  );
}
