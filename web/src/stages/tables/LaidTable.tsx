import { type ReactNode, useLayoutEffect, useRef, useState } from "react";
import type { Shown } from "../../api/tablePlates";
import { useSize } from "../../ui/useSize";
import { InPlace } from "../InPlace";

type LaidTableProps = {
  laid: Shown["laid"];
  /** Takes other words for a row, a column or the first column, by its key; none for a table that is looked at. */
  onName?: (key: string, words: string | null) => void;
  /** What is said above it. */
  caption?: ReactNode;
};

const LEAST_SCALE = 0.75;

type Typing = { key: string; text: string; place: { left: number; top: number; width: number } };

/** A table of numbers as it will leave: rules above and below, decimal marks under one another, its notes. */
export function LaidTable({ laid, onName, caption }: LaidTableProps) {
  const [typing, setTyping] = useState<Typing | null>(null);
  const [frame, room] = useSize();
  const table = useRef<HTMLTableElement>(null);
  const [scale, setScale] = useState(1);
  // A wide table is written smaller, as far as it can still be read; a wider one is scrolled.
  // biome-ignore lint/correctness/useExhaustiveDependencies: another table has another width
  useLayoutEffect(() => {
    const now = table.current;
    if (!now || !room) return;
    const width = now.offsetWidth / (Number(now.style.zoom) || 1);
    setScale(Math.max(Math.min(room.width / Math.max(width, 1), 1), LEAST_SCALE));
  }, [laid, room]);
  /** Once a name is typed, the focus goes back to where it stands, unless it has gone elsewhere. */
  const leave = (key: string) => {
    setTyping(null);
    requestAnimationFrame(() => {
      if (document.activeElement !== document.body) return;
      table.current?.querySelector<HTMLElement>(`[data-part="${CSS.escape(key)}"]`)?.focus();
    });
  };
  const named = (key: string, text: string) =>
    onName ? (
      <button
        type="button"
        data-part={key}
        aria-label={`Other words for ${text || "the first column"}`}
        className="dotted-word min-h-6 wrap-anywhere rounded px-0.5 text-left text-ink! decoration-line-strong/60! hover:text-accent-hover!"
        onClick={(event) => {
          const box = event.currentTarget.getBoundingClientRect();
          const frame = event.currentTarget.closest("[data-frame]")?.getBoundingClientRect();
          if (!frame) return;
          setTyping({ key, text, place: { left: box.left - frame.left, top: box.top - frame.top, width: box.width } });
        }}
      >
        {text || "—"}
      </button>
    ) : (
      text
    );
  return (
    <div ref={frame} data-frame className="relative">
      {laid.title && <p className="mb-1 font-semibold">{laid.title}</p>}
      {caption}
      <table ref={table} className="figures border-ink border-y-[1.5px]" style={{ zoom: scale }}>
        <thead>
          <tr className="border-ink border-b align-top">
            <th scope="col" className="max-w-44 py-1.5 pr-4 text-left font-semibold">
              {named("stub", laid.stub)}
            </th>
            {laid.heads.map(({ key, label, n, markers }) => (
              <th key={key} scope="col" className="max-w-44 py-1.5 pr-4 text-left font-semibold">
                {named(key, label)}
                <Raised markers={markers} />
                {n && <span className="block font-normal text-muted-ink text-small">{n}</span>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {laid.lines.map(({ key, label, markers, depth, cells, lead }) => (
            <tr key={key} data-row={key} className="align-top">
              <th
                scope="row"
                className="min-w-36 max-w-64 py-1 pr-4 text-left font-normal"
                style={{ paddingLeft: `${1.2 * depth}em` }}
              >
                {named(key, label)}
                <Raised markers={markers} />
              </th>
              {cells.map((text, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: a cell is known by its column
                <td key={i} className="whitespace-nowrap py-1 pr-4">
                  {"\u2007".repeat(lead[i] ?? 0)}
                  {text}
                </td>
              ))}
              {cells.length === 0 && laid.heads.length > 0 && <td colSpan={laid.heads.length} />}
            </tr>
          ))}
        </tbody>
      </table>
      <div className="mt-1.5 max-w-prose text-muted-ink text-small">
        {laid.notes.map(([marker = "", words = ""]) => (
          <p key={`${marker} ${words}`}>
            <Raised markers={marker} />
            {words}
          </p>
        ))}
      </div>
      {typing && (
        <InPlace
          key={typing.key}
          label={`Words for ${typing.text || "the first column"}`}
          text={typing.text}
          place={typing.place}
          onDone={(text) => {
            if (text !== null && text !== typing.text) onName?.(typing.key, text);
            leave(typing.key);
          }}
          onUsual={() => {
            onName?.(typing.key, null);
            leave(typing.key);
          }}
        />
      )}
    </div>
  );
}

const Raised = ({ markers }: { markers: string }) => (markers ? <sup>{markers}</sup> : null);
