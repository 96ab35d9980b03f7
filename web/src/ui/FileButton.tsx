import { useRef } from "react";
import { Button } from "./Button";

type FileButtonProps = {
  /** What the button says, and what the choice is of, for those who hear it. */
  words: string;
  label: string;
  look?: "primary" | "plain";
  accept?: string;
  disabled?: boolean;
  className?: string;
  onChoose: (file: File) => void;
};

/** A button that lets a file of this machine be chosen; the same one can be chosen again. */
export function FileButton({ words, label, look = "plain", accept, disabled, className, onChoose }: FileButtonProps) {
  const picker = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button
        look={look}
        disabled={disabled ?? false}
        className={className ?? ""}
        onClick={() => picker.current?.click()}
      >
        {words}
      </Button>
      <input
        ref={picker}
        type="file"
        {...(accept ? { accept } : {})}
        className="sr-only"
        tabIndex={-1}
        aria-label={label}
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) onChoose(file);
          event.target.value = "";
        }}
      />
    </>
  );
}
