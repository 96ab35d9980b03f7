import { useState } from "react";
import { Button } from "./Button";
import { Floating } from "./Floating";
import { NumberFields } from "./NumberFields";

type TypedProps = {
  label: string;
  shown: string;
  fields: Record<string, number | null>;
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
      <NumberFields
        fields={fields}
        empty=""
        onSet={(typed) => {
          const numbers = typed.flatMap((number) => number ?? []);
          if (numbers.length < typed.length) return;
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
