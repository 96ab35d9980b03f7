import { type ReactNode, useContext } from "react";
import { CardHelp } from "./cardHelp";

type CardProps = {
  title: string;
  aside?: ReactNode;
  footer?: ReactNode;
  children: ReactNode;
  className?: string;
  label?: string;
  /** The page of help on it; else that of its stage. */
  help?: string;
};

export function Card({ title, aside, footer, children, className = "", label, help }: CardProps) {
  const about = useContext(CardHelp);
  return (
    <section
      aria-label={label ?? title}
      className={`flex min-h-0 min-w-0 flex-col rounded-card border border-line bg-raised ${className}`}
    >
      <header className="flex min-h-[41px] shrink-0 flex-wrap items-center justify-between gap-x-3 gap-y-1 border-line border-b px-3.5 py-1.5">
        <span className="flex min-w-0 items-center gap-2">
          <h2 className="min-w-0 text-lead">{title}</h2>
          {about?.(help, label ?? title)}
        </span>
        {aside}
      </header>
      {children}
      {footer && (
        <footer className="flex min-h-[34px] shrink-0 flex-wrap items-center gap-x-4 gap-y-1 border-line border-t px-3.5 py-1.5 text-small text-muted-ink">
          {footer}
        </footer>
      )}
    </section>
  );
}
