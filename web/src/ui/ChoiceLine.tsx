import type { ReactNode } from "react";

/** A line of choices with its name, among others in one place. */
export function ChoiceLine({ name, children }: { name: string; children: ReactNode }) {
  return (
    <div className="grid grid-cols-[5.2rem_1fr] items-baseline gap-x-2 gap-y-1 border-line border-t py-1.5 first:border-t-0">
      <span className="text-muted-ink text-small">{name}</span>
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">{children}</div>
    </div>
  );
}
