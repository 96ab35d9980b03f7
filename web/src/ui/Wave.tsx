const WAVE =
  "M0 4 C4 1 8 1 12 4 S20 7 24 4 S32 1 36 4 S44 7 48 4 S56 1 60 4 S68 7 72 4 S80 1 84 4 S92 7 96 4 S104 1 108 4 S116 7 120 4 S128 1 132 4 S140 7 144 4";

/** The two-pixel wave: still under the active stage, moving while work goes on. */
export function Wave({ moving = false, className = "" }: { moving?: boolean; className?: string }) {
  return (
    <svg
      aria-hidden="true"
      viewBox="0 0 96 8"
      preserveAspectRatio="none"
      className={`h-2 overflow-hidden ${className}`}
    >
      <path d={WAVE} className={moving ? "wave-moving" : ""} fill="none" stroke="currentColor" strokeWidth="2" />
    </svg>
  );
}

/** Progress of long work, from 0 to 1, drawn as the wave that grows. */
export function WaveProgress({ share, label }: { share: number; label: string }) {
  const percent = Math.round(100 * share);
  return (
    <div
      role="progressbar"
      aria-label={label}
      aria-valuenow={percent}
      aria-valuemin={0}
      aria-valuemax={100}
      className="relative h-2 w-full overflow-hidden text-line"
    >
      <div className="absolute inset-x-0 top-[3px] h-0.5 bg-line" />
      <div
        className="absolute inset-y-0 left-0 overflow-hidden bg-raised text-primary"
        style={{ width: `${percent}%` }}
      >
        <Wave moving className="w-[640px]" />
      </div>
    </div>
  );
}
