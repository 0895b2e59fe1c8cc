import type { ComponentProps } from "react";

interface Props extends Omit<ComponentProps<"input">, "onChange" | "value"> {
  label: string;
  value: string;
  onText: (text: string) => void;
}

/** A line of text with its name above, in a form. */
export function TextField({ label, onText, ...rest }: Props) {
  return (
    <label className="flex flex-col gap-1 font-semibold">
      {label}
      <input
        {...rest}
        required
        onChange={(event) => onText(event.target.value)}
        className="h-9 w-full rounded-lg border border-line bg-card px-3 font-normal read-only:bg-plum-soft hover:border-plum"
      />
    </label>
  );
}
