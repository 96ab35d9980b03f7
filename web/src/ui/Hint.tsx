import { Tooltip } from "radix-ui";
import type { ReactNode } from "react";

/** A definition or an exact figure, on hover or focus of what it belongs to. */
export function Hint({ text, children }: { text: ReactNode; children: ReactNode }) {
  return (
    <Tooltip.Root delayDuration={250}>
      <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content
          side="left"
          sideOffset={6}
          collisionPadding={10}
          className="rising z-50 max-w-72 rounded-lg border border-line bg-raised px-3 py-2 text-ink text-small shadow-float"
        >
          {text}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}
