import { useEffect, useRef, useState } from "react";
import { Button } from "../ui/Button";
import { SignChoice } from "./plates/fields";

type InPlaceProps = {
  label: string;
  text: string;
  /** Where the words stand, in pixels of the sheet's frame. */
  place: { left: number; top: number; width: number };
  onDone: (text: string | null) => void;
  /** Put back what stands there unless something else is said. */
  onUsual?: (() => void) | undefined;
  /** Why the words could not be kept. */
  problem?: string | undefined;
};

/** Words typed where they stand; Enter keeps them, Escape leaves them. */
export function InPlace({ label, text, place, onDone, onUsual, problem }: InPlaceProps) {
  const [typed, setTyped] = useState(text);
  const box = useRef<HTMLInputElement>(null);
  const frame = useRef<HTMLDivElement>(null);
  const done = useRef(false);
  const latest = useRef(text);
  latest.current = typed;
  useEffect(() => {
    box.current?.focus();
    box.current?.select();
  }, []);
  const finish = (words: string | null) => {
    if (done.current) return;
    done.current = true;
    onDone(words);
  };
  const width = Math.max(place.width + 60, 200);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: it only learns that the words were left
    // biome-ignore lint/a11y/useKeyWithClickEvents: clicks in it are not clicks on the sheet
    <div
      ref={frame}
      className="absolute z-20 flex items-center gap-1 rounded-lg border border-accent bg-raised p-1 shadow-float"
      style={{ left: Math.max(place.left + place.width / 2 - width / 2, 4), top: Math.max(place.top - 6, 2), width }}
      onPointerDown={(event) => event.stopPropagation()}
      onClick={(event) => event.stopPropagation()}
      onDoubleClick={(event) => event.stopPropagation()}
      onBlur={() => {
        // The signs open outside of the frame, and give the focus back a moment after they close.
        setTimeout(() => {
          const now = document.activeElement;
          if (frame.current?.contains(now) || now?.closest("[data-radix-popper-content-wrapper]")) return;
          finish(latest.current);
        }, 80);
      }}
    >
      <input
        ref={box}
        aria-label={label}
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === "Enter") finish(typed);
          if (event.key === "Escape") finish(null);
        }}
        className="min-h-6 w-full min-w-0 bg-transparent px-1 outline-none"
      />
      <SignChoice
        onChoose={(sign) => {
          const at = box.current?.selectionStart ?? typed.length;
          setTyped(typed.slice(0, at) + sign + typed.slice(at));
          requestAnimationFrame(() => box.current?.focus());
        }}
      />
      {onUsual && (
        <Button
          look="word"
          onClick={() => {
            done.current = true;
            onUsual();
          }}
        >
          reset
        </Button>
      )}
      {problem && (
        <p
          role="alert"
          className="absolute top-full left-0 mt-1 rounded-lg bg-caution-tint px-2 py-1 text-small shadow-float"
        >
          {problem}
        </p>
      )}
    </div>
  );
}
