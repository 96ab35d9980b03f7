import { useRef } from "react";
import type { KeptShown } from "../../api/reports";
import { WordChoice } from "../../ui/WordChoice";
import { putIn } from "./composing";

type TextPartProps = {
  text: string;
  kept: readonly KeptShown[];
  onText: (text: string) => void;
};

/** Words of one's own, with the numbers of figures and tables where the text refers to them. */
export function TextPart({ text, kept, onText }: TextPartProps) {
  const area = useRef<HTMLTextAreaElement>(null);
  const named = kept.filter(({ key }) => text.includes(`{${key}}`));
  const refer = (key: string) => {
    const hand = area.current;
    const { text: next, at } = putIn(
      text,
      hand?.selectionStart ?? text.length,
      hand?.selectionEnd ?? text.length,
      `{${key}}`,
    );
    onText(next);
    setTimeout(() => {
      hand?.focus();
      hand?.setSelectionRange(at, at);
    });
  };
  return (
    <>
      <textarea
        ref={area}
        aria-label="Text"
        value={text}
        placeholder="Write here. An empty line begins a paragraph, “- ” an item of a list; *so* is emphasis, **so** is strong."
        onChange={(event) => onText(event.target.value)}
        className="field-sizing-content min-h-20 w-full resize-none rounded-lg border border-line bg-surface px-2.5 py-2 font-serif text-lead leading-snug"
      />
      <p className="flex flex-wrap items-center gap-x-3 text-muted-ink text-small">
        {kept.length > 0 && (
          <WordChoice
            label="Refer to"
            shown="refer to…"
            value=""
            options={kept.map(({ key, label, name }) => ({ value: key, label: `${label}, ${name}`, note: `{${key}}` }))}
            onChoose={refer}
            className="min-h-6"
          />
        )}
        {named.map(({ key, label }) => (
          <span key={key}>
            <code>{`{${key}}`}</code> is {label}
          </span>
        ))}
      </p>
    </>
  );
}
