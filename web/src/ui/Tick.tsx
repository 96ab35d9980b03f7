import type { ReactNode } from "react";

type TickProps = {
  checked: boolean;
  onChange: (checked: boolean) => void;
  disabled?: boolean;
  className?: string;
  label?: string;
  children?: ReactNode;
};

/** A choice that is on or off, with its words. */
export function Tick({ checked, onChange, disabled = false, className = "", label, children }: TickProps) {
  return (
    <label className={`flex min-h-6 items-center gap-2 ${className}`}>
      <input
        type="checkbox"
        className="accent-[var(--accent)]"
        {...{ checked, disabled }}
        onChange={(event) => onChange(event.target.checked)}
      />
      {label}
      {children}
    </label>
  );
}
