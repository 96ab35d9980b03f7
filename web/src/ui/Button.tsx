import type { ComponentProps } from "react";

const LOOKS = {
  primary: "bg-accent text-on-accent border-accent hover:bg-accent-hover px-3",
  plain: "bg-raised text-ink border-line hover:border-line-strong px-2.5",
  link: "border-transparent text-primary hover:text-primary-hover underline decoration-primary/40 underline-offset-3 hover:decoration-primary",
  word: "border-transparent dotted-word px-0.5",
  quiet: "border-transparent min-w-6 justify-center px-1.5 hover:text-accent",
  band: "border-band-line bg-transparent text-band-ink hover:border-band-muted px-2.5",
};

type ButtonProps = ComponentProps<"button"> & { look?: keyof typeof LOOKS };

export function Button({ look = "plain", className = "", type = "button", ...rest }: ButtonProps) {
  return (
    <button
      type={type}
      className={`inline-flex min-h-6 items-center gap-1.5 rounded-lg border py-[3px] text-body transition-colors duration-120 disabled:cursor-default disabled:text-disabled-ink ${LOOKS[look]} ${className}`}
      {...rest}
    />
  );
}
