import { Tooltip } from "radix-ui";
import type { ComponentProps } from "react";

interface Props extends ComponentProps<"button"> {
  label: string;
}

/** A button that is only an icon: its label is its name and its tooltip. */
export function IconButton({ label, className = "", ...rest }: Props) {
  return (
    <Tooltip.Root>
      <Tooltip.Trigger asChild>
        <button
          type="button"
          aria-label={label}
          className={`inline-flex size-7 items-center justify-center rounded-md text-ink transition-colors hover:bg-plum-soft disabled:cursor-default disabled:opacity-40 disabled:hover:bg-transparent ${className}`}
          {...rest}
        />
      </Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content sideOffset={6} className="z-50 rounded-md bg-ink px-2 py-1 text-card">
          {label}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}
