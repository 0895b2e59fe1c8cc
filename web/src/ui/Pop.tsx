import { Popover } from "radix-ui";
import type { ReactNode } from "react";
import { leaveFocusTaken } from "./focus";

interface Props {
  trigger: ReactNode;
  label: string;
  children: ReactNode;
  open?: boolean;
  onOpenChange?: (open: boolean) => void;
  width?: number;
  side?: "top" | "bottom" | "left" | "right";
  /** what can be clicked beside it without closing it */
  staysFor?: (target: EventTarget | null) => boolean;
}

/** A small panel hanging from a control; never modal, Escape closes it. */
export function Pop({ trigger, label, children, open, onOpenChange, width = 288, side = "bottom", staysFor }: Props) {
  return (
    <Popover.Root
      {...(open === undefined ? {} : { open })}
      {...(onOpenChange ? { onOpenChange } : {})}
    >
      <Popover.Trigger asChild>{trigger}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          onCloseAutoFocus={leaveFocusTaken}
          aria-label={label}
          side={side}
          align="start"
          sideOffset={6}
          collisionPadding={12}
          onInteractOutside={(event) => {
            if (staysFor?.(event.target)) event.preventDefault();
          }}
          onEscapeKeyDown={(event) => {
            // Escape gives up what is being typed in a figure, and only then closes its panel.
            if (event.target instanceof HTMLElement && event.target.dataset.figure !== undefined) event.preventDefault();
          }}
          style={{ width }}
          className="z-40 max-h-[min(560px,var(--radix-popover-content-available-height))] overflow-y-auto rounded-xl border border-line bg-card p-3 outline-none! shadow-[0_8px_24px_rgb(38_32_43/0.14)]"
        >
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
