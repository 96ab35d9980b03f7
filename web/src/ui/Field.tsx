import { type InputHTMLAttributes, useState } from "react";

type FieldProps = InputHTMLAttributes<HTMLInputElement> & { label: string; suffix?: string };

/** A labelled line to type in; what is typed of a password is shown while that is asked for. */
export function Field({ type, ...rest }: FieldProps) {
  const [shown, setShown] = useState(false);
  if (type !== "password") return <Line type={type} {...rest} />;
  return (
    <div className="relative">
      <Line type={shown ? "text" : "password"} spellCheck={false} autoCapitalize="none" {...rest} />
      <button
        type="button"
        aria-pressed={shown}
        aria-label="Show what is typed"
        onClick={() => setShown(!shown)}
        className="absolute right-2 bottom-0 min-h-7 text-muted-ink text-small underline decoration-muted-ink/40 underline-offset-3"
      >
        {shown ? "hide" : "show"}
      </button>
    </div>
  );
}

function Line({ label, suffix, className = "", ...rest }: FieldProps) {
  return (
    <label className="flex flex-col gap-1">
      <span className="text-muted-ink text-small">{label}</span>
      <span className="flex items-center gap-2">
        <input
          className={`min-h-7 w-full rounded-lg border border-line-strong/60 bg-surface px-2 py-1 outline-offset-1 ${className}`}
          {...rest}
        />
        {suffix && <span className="shrink-0 text-muted-ink">{suffix}</span>}
      </span>
    </label>
  );
}
