import type { ReactNode } from "react";

type CardProps = {
  title: string;
  aside?: ReactNode;
  footer?: ReactNode;
  children: ReactNode;
  className?: string;
  label?: string;
};

export function Card({ title, aside, footer, children, className = "", label }: CardProps) {
  return (
    <section
      aria-label={label ?? title}
      className={`flex min-h-0 min-w-0 flex-col rounded-card border border-line bg-raised ${className}`}
    >
      <header className="flex min-h-[41px] shrink-0 flex-wrap items-center justify-between gap-x-3 gap-y-1 border-line border-b px-3.5 py-1.5">
        <h2 className="text-lead">{title}</h2>
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
