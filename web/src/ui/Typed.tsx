import { type FormEvent, useState } from "react";
import { Button } from "./Button";
import { Field } from "./Field";
import { Floating } from "./Floating";

type TypedProps = {
  label: string;
  shown: string;
  fields: Record<string, string>;
  onSet: (numbers: number[]) => void;
  /** How to go back to no number, where there is one. */
  onNone?: (() => void) | undefined;
};

/** A word that opens numbers to be typed. */
export function Typed({ label, shown, fields, onSet, onNone }: TypedProps) {
  const [open, setOpen] = useState(false);
  return (
    <Floating
      label={label}
      open={open}
      onOpenChange={setOpen}
      className="p-3"
      trigger={
        <button type="button" aria-label={`${label}: ${shown}`} className="dotted-word rounded px-0.5">
          {shown}
        </button>
      }
    >
      <TypedFields
        fields={fields}
        onSet={(numbers) => {
          setOpen(false);
          onSet(numbers);
        }}
      />
      {onNone && (
        <Button
          look="link"
          className="mt-2"
          onClick={() => {
            setOpen(false);
            onNone();
          }}
        >
          without it
        </Button>
      )}
    </Floating>
  );
}

function TypedFields({ fields, onSet }: Pick<TypedProps, "fields" | "onSet">) {
  const [typed, setTyped] = useState(fields);
  const set = (event: FormEvent) => {
    event.preventDefault();
    const numbers = Object.values(typed).map((text) => Number(text.trim() || Number.NaN));
    if (numbers.every(Number.isFinite)) onSet(numbers);
  };
  return (
    <form onSubmit={set} className="flex items-end gap-2">
      {Object.entries(typed).map(([name, value]) => (
        <Field
          key={name}
          label={name}
          inputMode="decimal"
          className="w-24!"
          value={value}
          onChange={(event) => setTyped({ ...typed, [name]: event.target.value })}
        />
      ))}
      <Button type="submit">Set</Button>
    </form>
  );
}
