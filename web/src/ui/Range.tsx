/** A number between two ends, by hand. */
export function Range(props: {
  label: string;
  value: number;
  min?: number;
  max?: number;
  onSet: (value: number) => void;
}) {
  const { label, value, min = 0, max = 1, onSet } = props;
  return (
    <label className="flex items-center gap-2 text-small">
      {label}
      <input
        type="range"
        min={min}
        max={max}
        step={max > 2 ? 1 : 0.01}
        value={value}
        aria-label={label}
        className="w-24 accent-[var(--accent)]"
        onChange={(event) => onSet(Number(event.target.value))}
      />
    </label>
  );
}
