import { Popover } from "radix-ui";
import type { ReactNode } from "react";

type FloatingProps = {
  trigger: ReactNode;
  children: ReactNode;
  label: string;
  open?: boolean;
  onOpenChange?: (open: boolean) => void;
  align?: "start" | "center" | "end";
  side?: "top" | "bottom" | "left" | "right";
  className?: string;
  /** Where the focus does not go back to what opened it: the event is prevented then. */
  onCloseAutoFocus?: ((event: Event) => void) | undefined;
};

/** A choice that opens beside the word or mark it changes. */
export function Floating({
  trigger,
  children,
  label,
  open,
  onOpenChange,
  align = "start",
  side = "bottom",
  className = "",
  onCloseAutoFocus,
}: FloatingProps) {
  return (
    <Popover.Root {...(open === undefined ? {} : { open })} {...(onOpenChange ? { onOpenChange } : {})}>
      <Popover.Trigger asChild>{trigger}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label={label}
          {...(onCloseAutoFocus ? { onCloseAutoFocus } : {})}
          align={align}
          side={side}
          sideOffset={7}
          collisionPadding={12}
          className={`rising z-40 max-h-[min(var(--radix-popover-content-available-height),30rem)] max-w-[26rem] overflow-y-auto rounded-card border border-line bg-raised text-ink shadow-float outline-none ${className}`}
        >
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
