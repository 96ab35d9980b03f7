import { useId } from "react";

type PickProps = {
  label: string;
  /** "" where nothing is chosen yet. */
  value: string;
  options: { value: string; label: string }[];
  onChoose: (value: string) => void;
  className?: string;
};

/** A labelled choice among a few, in a form. */
export function Pick({ label, value, options, onChoose, className = "" }: PickProps) {
  const id = useId();
  return (
    <div className={`flex flex-col gap-1 ${className}`}>
      <label htmlFor={id} className="text-muted-ink text-small">
        {label}
      </label>
      <select
        id={id}
        value={value}
        onChange={(event) => onChoose(event.target.value)}
        className="min-h-7 w-full rounded-lg border border-line-strong/60 bg-surface px-1.5 py-1"
      >
        {value === "" && <option value="" />}
        {options.map((option) => (
          <option key={option.value} value={option.value}>
            {option.label}
          </option>
        ))}
      </select>
    </div>
  );
}
