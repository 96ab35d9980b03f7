import type { ReactNode } from "react";
import { Floating } from "../ui/Floating";
import { Tick } from "../ui/Tick";
import { withOrWithout } from "../values";

type SeveralChoiceProps = {
  label: string;
  shown: string;
  options: { value: string; label: string; note?: string }[];
  chosen: readonly string[];
  onChoose: (chosen: string[]) => void;
  children?: ReactNode;
  className?: string;
};

/** An underlined word of a sentence that stands for several; each can be put in or taken out. */
export function SeveralChoice({
  label,
  shown,
  options,
  chosen,
  onChoose,
  children,
  className = "",
}: SeveralChoiceProps) {
  return (
    <Floating
      label={label}
      className="w-80 p-3"
      trigger={
        <button
          type="button"
          aria-label={`${label}: ${shown}`}
          className={`dotted-word rounded px-0.5 text-left hover:text-accent-hover data-[state=open]:bg-accent-tint ${className}`}
        >
          {shown}
        </button>
      }
    >
      <ul className="max-h-72 overflow-y-auto">
        {options.map(({ value, label: words, note }) => (
          <li key={value}>
            <Tick checked={chosen.includes(value)} onChange={(on) => onChoose(withOrWithout(chosen, value, on))}>
              <span>{words}</span>
              {note && <span className="ml-auto text-muted-ink text-small">{note}</span>}
            </Tick>
          </li>
        ))}
      </ul>
      {children}
    </Floating>
  );
}
