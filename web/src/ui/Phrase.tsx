import type { ComponentProps } from "react";

/** A button that runs on with the sentence around it; a real button is a block that words go round. */
export function Phrase({ onKeyDown, ...rest }: ComponentProps<"span">) {
  return (
    <span
      role="button"
      tabIndex={0}
      className="cursor-pointer"
      onKeyDown={(event) => {
        onKeyDown?.(event);
        if (event.defaultPrevented || (event.key !== "Enter" && event.key !== " ")) return;
        event.preventDefault();
        event.currentTarget.click();
      }}
      {...rest}
    />
  );
}
