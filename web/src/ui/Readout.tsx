type ReadoutProps = { x: number; y: number; room: number; words: readonly string[] };

/** What a mark says, beside it, without standing in the way of the pointer. */
export function Readout({ x, y, room, words }: ReadoutProps) {
  const left = x > room * 0.66;
  return (
    <div
      role="status"
      aria-live="polite"
      className="figures pointer-events-none absolute z-20 rounded-lg border border-line bg-raised/95 px-2.5 py-1.5 text-small shadow-float"
      style={{
        left: left ? undefined : x + 14,
        right: left ? room - x + 14 : undefined,
        top: Math.max(y - 18, 2),
      }}
    >
      {words.map((line, i) => (
        <p key={line} className={i === 0 ? "font-semibold" : "text-muted-ink"}>
          {line}
        </p>
      ))}
    </div>
  );
}
