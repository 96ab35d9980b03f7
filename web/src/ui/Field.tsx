import type { InputHTMLAttributes } from "react";

type FieldProps = InputHTMLAttributes<HTMLInputElement> & { label: string; suffix?: string };

/** A labelled line to type in. */
export function Field({ label, suffix, className = "", ...rest }: FieldProps) {
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
