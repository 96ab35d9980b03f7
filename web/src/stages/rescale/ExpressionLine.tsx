import { useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, useEffect, useMemo, useRef, useState } from "react";
import { Problem } from "../../api/client";
import { triedOf } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import { CombineChoice } from "./CombineChoice";

const FUNCTIONS = "ln log10 log2 exp sqrt abs round min max mean median sd rank known".split(" ");
const PAUSE = 250;

type ExpressionLineProps = { table: Table; variable: Variable; text: string; onText: (text: string) => void };

/** An expression typed in ordinary arithmetic, with completion; what is wrong is pointed to where it stands. */
export function ExpressionLine({ table, variable, text, onText }: ExpressionLineProps) {
  const [typed, setTyped] = useState(text);
  const [place, setPlace] = useState(0);
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => {
    const timer = setTimeout(() => typed.trim() && typed !== text && onText(typed), PAUSE);
    return () => clearTimeout(timer);
  }, [typed, text, onText]);
  const { error } = useQuery({
    ...triedOf(table, variable.symbol, JSON.stringify({ how: "expression", text: typed })),
    enabled: typed === text && typed.trim() !== "",
  });
  const at = error instanceof Problem && error.where.startsWith("expression:") ? Number(error.where.slice(11)) : null;
  const [from, word] = useMemo(() => {
    const before = typed.slice(0, place);
    const start = before.search(/[A-Za-z_]\w*$/);
    return start < 0 ? [place, ""] : [start, before.slice(start)];
  }, [typed, place]);
  const offered = useMemo(
    () =>
      word.length < 1
        ? []
        : [...table.variables.map((variable) => variable.symbol), ...FUNCTIONS.map((name) => `${name}(`)]
            .filter((name) => name.startsWith(word) && name !== word)
            .slice(0, 6),
    [word, table.variables],
  );
  const complete = (name: string) => {
    const next = typed.slice(0, from) + name + typed.slice(place);
    setTyped(next);
    const end = from + name.length;
    setPlace(end);
    requestAnimationFrame(() => {
      field.current?.focus();
      field.current?.setSelectionRange(end, end);
    });
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const [first] = offered;
    if (event.key === "Tab" && first && !event.shiftKey) {
      event.preventDefault();
      complete(first);
    }
  };
  return (
    <div className="mb-3 rounded-card border border-line bg-raised px-3.5 py-2">
      <div className="flex items-center gap-3">
        <span aria-hidden="true" className="font-serif text-lead">
          =
        </span>
        <input
          ref={field}
          aria-label="Expression"
          aria-invalid={at !== null}
          spellCheck={false}
          autoComplete="off"
          maxLength={10_000}
          value={typed}
          onChange={(event) => {
            setTyped(event.target.value);
            setPlace(event.target.selectionStart ?? event.target.value.length);
          }}
          onSelect={(event) => setPlace(event.currentTarget.selectionStart ?? 0)}
          onKeyDown={onKeyDown}
          className="figures min-h-8 w-full rounded-lg border border-line-strong/60 bg-surface px-2"
        />
        <CombineChoice
          {...{ table, variable }}
          onText={(next) => {
            setTyped(next);
            setPlace(next.length);
            field.current?.focus();
          }}
        />
      </div>
      <p className="mt-1 flex min-h-6 flex-wrap items-center gap-x-3 text-small">
        {error && typed === text ? (
          <span role="alert" className="text-caution">
            {at !== null && typed.length > 0 && (
              <code className="mr-2 whitespace-pre">
                {typed.slice(Math.max(0, at - 12), at)}
                <mark className="rounded-sm bg-danger-tint text-danger">{typed.slice(at, at + 8) || " "}</mark>
              </code>
            )}
            {error.message} {"remedy" in error ? String(error.remedy) : ""}
          </span>
        ) : offered.length > 0 ? (
          offered.map((name, i) => (
            <button
              key={name}
              type="button"
              className="min-h-6 text-primary hover:underline"
              onClick={() => complete(name)}
            >
              {name}
              {i === 0 && <span className="text-muted-ink"> Tab</span>}
            </button>
          ))
        ) : (
          <span className="text-muted-ink">
            + − * / ^, comparisons, and / or / not, a if condition else b; {FUNCTIONS.join(", ")}. Variables by their
            symbols.
          </span>
        )}
      </p>
    </div>
  );
}
