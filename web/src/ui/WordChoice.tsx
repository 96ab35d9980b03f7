import { type KeyboardEvent, type ReactNode, useEffect, useId, useMemo, useRef, useState } from "react";
import { Floating } from "./Floating";

export type WordOption<Choice extends string = string> = { value: Choice; label: string; note?: string };

type WordChoiceProps<Choice extends string> = {
  /** What the choice is of, for those who hear it. */
  label: string;
  /** What stands in the sentence, where that is not the words of what is chosen. */
  shown?: string;
  value: string;
  options: readonly WordOption<Choice>[];
  onChoose: (value: Choice) => void;
  open?: boolean;
  onOpenChange?: (open: boolean) => void;
  className?: string;
  /** Which options stand there for what was typed, the best first. */
  search?: (typed: string) => WordOption<Choice>[];
  /** What else can be done with what the word names, under its choices. */
  children?: ReactNode;
};

const FILTER_FROM = 8;

function matching<Choice extends string>(options: readonly WordOption<Choice>[], typed: string) {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  return options.filter((option) => {
    const text = `${option.label} ${option.note ?? ""} ${option.value}`.toLowerCase();
    return words.every((word) => text.includes(word));
  });
}

/** An underlined word of a sentence; it opens its choices in place, and can be typed. */
export function WordChoice<Choice extends string>(props: WordChoiceProps<Choice>) {
  const [ownOpen, setOwnOpen] = useState(false);
  const open = props.open ?? ownOpen;
  const setOpen = props.onOpenChange ?? setOwnOpen;
  const shown = props.shown ?? props.options.find(({ value }) => value === props.value)?.label ?? props.value;
  return (
    <Floating
      label={props.label}
      open={open}
      onOpenChange={setOpen}
      className="w-72"
      trigger={
        <button
          type="button"
          aria-label={`${props.label}: ${shown}`}
          className={`dotted-word rounded px-0.5 hover:text-accent-hover data-[state=open]:bg-accent-tint ${props.className ?? ""}`}
        >
          {shown}
        </button>
      }
    >
      {open && (
        <Choices
          {...props}
          onChoose={(value) => {
            setOpen(false);
            props.onChoose(value);
          }}
        />
      )}
      {open && props.children}
    </Floating>
  );
}

function Choices<Choice extends string>({ label, value, options, onChoose, search }: WordChoiceProps<Choice>) {
  const id = useId();
  const [typed, setTyped] = useState("");
  const result = useMemo(() => search?.(typed) ?? matching(options, typed), [search, options, typed]);
  const [active, setActive] = useState(() =>
    Math.max(
      (search?.("") ?? options).findIndex((option) => option.value === value),
      0,
    ),
  );
  const list = useRef<HTMLDivElement>(null);
  useEffect(() => {
    list.current?.querySelector(`[data-place="${active}"]`)?.scrollIntoView({ block: "nearest" });
  }, [active]);

  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (step !== undefined) {
      event.preventDefault();
      setActive((now) => Math.min(Math.max(now + step, 0), result.length - 1));
    } else if (event.key === "Enter") {
      event.preventDefault();
      const chosen = result[active];
      if (chosen) onChoose(chosen.value);
    }
  };
  return (
    <div className="flex flex-col py-1">
      <input
        role="combobox"
        aria-expanded="true"
        aria-controls={`${id}-list`}
        aria-activedescendant={result[active] ? `${id}-${active}` : undefined}
        aria-label={label}
        value={typed}
        onChange={(event) => {
          setTyped(event.target.value);
          setActive(0);
        }}
        onKeyDown={onKeyDown}
        placeholder="Type to find"
        className={`mx-2 mt-1 mb-1 rounded-md border border-line bg-surface px-2 py-1 outline-none focus:border-line-strong ${options.length < FILTER_FROM ? "sr-only" : ""}`}
      />
      <div ref={list} role="listbox" aria-label={label} id={`${id}-list`} className="max-h-80 overflow-y-auto">
        {result.length === 0 && <p className="px-3 py-2 text-muted-ink">Nothing found.</p>}
        {result.map((option, place) => (
          // biome-ignore lint/a11y/useKeyWithClickEvents: the keys are those of the combobox above
          <div
            key={option.value}
            id={`${id}-${place}`}
            data-place={place}
            role="option"
            tabIndex={-1}
            aria-selected={option.value === value}
            onClick={() => onChoose(option.value)}
            onPointerMove={() => setActive(place)}
            className={`flex min-h-7 cursor-pointer items-baseline justify-between gap-4 px-3 py-1 ${place === active ? "bg-accent-tint" : ""} ${option.value === value ? "font-semibold text-accent" : ""}`}
          >
            <span>{option.label}</span>
            {option.note && <span className="text-right text-muted-ink text-small">{option.note}</span>}
          </div>
        ))}
      </div>
    </div>
  );
}
