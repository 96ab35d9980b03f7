import { useId } from "react";

type PickProps<Choice extends string> = {
  label: string;
  /** "" where nothing is chosen yet. */
  value: Choice | "";
  options: readonly { value: Choice; label: string }[];
  onChoose: (value: Choice) => void;
  className?: string;
};

/** A labelled choice among a few, in a form. */
export function Pick<Choice extends string>({ label, value, options, onChoose, className = "" }: PickProps<Choice>) {
  const id = useId();
  const choose = (text: string) => {
    const chosen = options.find((option) => option.value === text);
    if (chosen) onChoose(chosen.value);
  };
  return (
    <div className={`flex flex-col gap-1 ${className}`}>
      <label htmlFor={id} className="text-muted-ink text-small">
        {label}
      </label>
      <select
        id={id}
        value={value}
        onChange={(event) => choose(event.target.value)}
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
