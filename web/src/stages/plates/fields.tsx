import { type ReactNode, useEffect, useId, useRef, useState } from "react";
import { Button } from "../../ui/Button";
import { Floating } from "../../ui/Floating";
import { listTyped, typed as numberTyped, readNumber, readNumbers } from "../../words/numbers";

const BOX = "min-h-6 min-w-0 rounded-md border border-line-strong/60 bg-surface px-1.5 py-0.5";

/** A line of a part: its name at the left, what sets it at the right. */
export function PartLine({ name, children }: { name: string; children: ReactNode }) {
  return (
    <div className="grid grid-cols-[5.4rem_1fr] items-center gap-x-2 py-0.5">
      <span className="text-muted-ink text-small">{name}</span>
      <div className="flex min-w-0 flex-wrap items-center gap-1.5">{children}</div>
    </div>
  );
}

type NumberBoxProps = {
  label: string;
  value: number | null | undefined;
  onChange: (value: number | null) => void;
  /** What stands there while nothing is set. */
  usual?: number | undefined;
  min?: number;
  max?: number;
  step?: number;
  className?: string;
  /** What follows it: its unit, or the word before the next box. */
  unit?: string | undefined;
};

const written = (value: number | null | undefined) =>
  value === null || value === undefined ? "" : numberTyped(value, 5).replace("-", "−");

/** A number to type; empty is as usual. It takes effect as it is typed. */
export function NumberBox({
  label,
  value,
  onChange,
  usual,
  min,
  max,
  step = 1,
  className = "w-16",
  unit,
}: NumberBoxProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const box = (
    <input
      aria-label={label}
      inputMode="decimal"
      value={typed ?? written(value)}
      placeholder={usual === undefined ? "" : written(usual)}
      className={`figures ${BOX} ${className} text-right`}
      onChange={(event) => {
        const text = event.target.value;
        setTyped(text);
        const number = readNumber(text);
        if (text.trim() === "") onChange(null);
        else if (number !== null && number >= (min ?? -Infinity) && number <= (max ?? Infinity)) onChange(number);
      }}
      onBlur={() => setTyped(null)}
      onKeyDown={(event) => {
        const by = { ArrowUp: step, ArrowDown: -step }[event.key];
        if (by === undefined) return;
        event.preventDefault();
        const next = Number(((value ?? usual ?? 0) + by * (event.shiftKey ? 10 : 1)).toPrecision(12));
        setTyped(null);
        onChange(Math.min(Math.max(next, min ?? -Infinity), max ?? Infinity));
      }}
    />
  );
  if (!unit) return box;
  return (
    <>
      {box}
      <span className="text-muted-ink text-small">{unit}</span>
    </>
  );
}

export type NumbersOf<Own> = (Omit<NumberBoxProps, "value" | "onChange"> & { name: keyof Own & string })[];
type NumbersProps<Own> = {
  line: string;
  part: string;
  own: Own;
  boxes: NumbersOf<Own>;
  /** One hand's changes of one number are one step back. */
  set: (changes: Partial<Own>, hand: string) => void;
};

/** Numbers of one thing on one line, each set under its own name. */
export function Numbers<Own extends object>({ line, part, own, boxes, set }: NumbersProps<Own>) {
  return (
    <PartLine name={line}>
      {boxes.map(({ name, ...box }) => (
        <NumberBox
          key={name}
          {...box}
          value={own[name] as number | null | undefined}
          onChange={(value) => set({ [name]: value } as Partial<Own>, `${part} ${name}`)}
        />
      ))}
    </PartLine>
  );
}

type TextBoxProps = {
  label: string;
  value: string | null | undefined;
  usual?: string;
  onChange: (value: string) => void;
  onUsual?: () => void;
  rows?: number;
};

/** Words to type, with the signs that keyboards lack. */
export function TextBox({ label, value, usual = "", onChange, onUsual, rows = 1 }: TextBoxProps) {
  const box = useRef<HTMLTextAreaElement>(null);
  const insert = (sign: string) => {
    const at = box.current?.selectionStart ?? (value ?? usual).length;
    const now = value ?? usual;
    onChange(now.slice(0, at) + sign + now.slice(at));
    // A pair of braces is filled next.
    const caret = at + (sign.endsWith("}") ? sign.length - 1 : sign.length);
    requestAnimationFrame(() => {
      box.current?.focus();
      box.current?.setSelectionRange(caret, caret);
    });
  };
  return (
    <span className="flex w-full min-w-0 items-start gap-1">
      <textarea
        ref={box}
        aria-label={label}
        rows={rows}
        value={value ?? usual}
        onChange={(event) => onChange(event.target.value)}
        onKeyDown={(event) => {
          if (rows > 1 || event.key !== "Enter") return;
          event.preventDefault();
          event.currentTarget.blur();
        }}
        className={`${BOX} w-full flex-1 resize-none field-sizing-content`}
      />
      <SignChoice onChoose={insert} />
      {onUsual && value !== null && value !== undefined && (
        <Button look="link" className="text-small!" onClick={onUsual} title="automatic, from the data">
          reset
        </Button>
      )}
    </span>
  );
}

export const SIGNS = [
  "×",
  "·",
  "±",
  "−",
  "°",
  "µ",
  "≤",
  "≥",
  "≈",
  "∞",
  "√",
  "α",
  "β",
  "γ",
  "δ",
  "θ",
  "λ",
  "π",
  "ρ",
  "σ",
  "χ",
  "Δ",
  "Σ",
  "Ω",
  "^{}",
  "_{}",
];

export function SignChoice({ onChoose }: { onChoose: (sign: string) => void }) {
  return (
    <Floating
      label="Signs"
      align="end"
      className="w-60 p-2"
      trigger={
        <Button className="px-1.5! text-small!" aria-label="Signs">
          Ω
        </Button>
      }
    >
      <div className="flex flex-wrap gap-1">
        {SIGNS.map((sign) => (
          <Button
            key={sign}
            className="min-w-7 justify-center px-1!"
            onClick={() => onChoose(sign)}
            aria-label={SIGN_NAMES[sign] ?? sign}
          >
            {sign === "^{}" ? "xⁿ" : sign === "_{}" ? "xₙ" : sign}
          </Button>
        ))}
      </div>
    </Floating>
  );
}

const SIGN_NAMES: Record<string, string> = { "^{}": "raised", "_{}": "lowered", "−": "minus", "×": "times" };

type ColourBoxProps = {
  label: string;
  value: string | null | undefined;
  usual: string;
  swatches: string[];
  onChange: (value: string | null) => void;
};

/** A colour: one of the set, or any other. */
export function ColourBox({ label, value, usual, swatches, onChange }: ColourBoxProps) {
  return (
    <span className="flex flex-wrap items-center gap-1">
      {swatches.map((colour) => (
        <button
          key={colour}
          type="button"
          aria-label={`${label} ${colour}`}
          aria-pressed={(value ?? usual) === colour}
          onClick={() => onChange(colour === usual ? null : colour)}
          className="size-6 rounded-full border-2 border-raised outline-offset-0 aria-pressed:outline-2 aria-pressed:outline-accent"
        >
          <svg aria-hidden="true" viewBox="0 0 10 10" className="size-full">
            <circle cx="5" cy="5" r="5" fill={colour} />
          </svg>
        </button>
      ))}
      <input
        type="color"
        aria-label={`${label}, any`}
        value={value ?? usual}
        onChange={(event) => onChange(event.target.value.toUpperCase())}
        className="h-6 w-8 rounded-md border border-line bg-surface p-0.5"
      />
    </span>
  );
}

type OneOfProps<Choice extends string> = {
  label: string;
  value: Choice;
  options: readonly { value: Choice; label: string }[];
  onChange: (value: Choice) => void;
};

/** One of a few, as a plain list. */
export function OneOf<Choice extends string>({ label, value, options, onChange }: OneOfProps<Choice>) {
  const id = useId();
  return (
    <select
      id={id}
      aria-label={label}
      value={value}
      onChange={(event) => {
        const chosen = options.find((option) => option.value === event.target.value);
        if (chosen) onChange(chosen.value);
      }}
      className={`${BOX} max-w-full`}
    >
      {options.map((option) => (
        <option key={option.value} value={option.value}>
          {option.label}
        </option>
      ))}
    </select>
  );
}

/** A number that is let in only as a whole list: "0, 5, 10". */
export function ListBox({
  label,
  value,
  onChange,
}: {
  label: string;
  value: number[] | null | undefined;
  onChange: (value: number[] | null) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  useEffect(() => {
    if (!value) setTyped(null);
  }, [value]);
  return (
    <input
      aria-label={label}
      value={typed ?? (value ? listTyped(value) : "")}
      placeholder={listTyped([0, 5, 10])}
      className={`figures ${BOX} w-full`}
      onChange={(event) => {
        const text = event.target.value;
        setTyped(text);
        const numbers = readNumbers(text);
        if (text.trim() === "") onChange(null);
        else if (numbers) onChange(numbers.slice(0, 100));
      }}
      onBlur={() => setTyped(null)}
    />
  );
}
