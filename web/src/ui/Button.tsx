import type { ComponentProps } from "react";

type Look = "main" | "plain" | "quiet";

const LOOKS: Record<Look, string> = {
  main: "bg-plum text-card border-plum hover:bg-[#432550]",
  plain: "bg-card text-ink border-line hover:border-plum",
  quiet: "bg-transparent border-transparent text-ink hover:bg-plum-soft",
};

interface Props extends ComponentProps<"button"> {
  look?: Look;
}

export function Button({ look = "plain", className = "", ...rest }: Props) {
  return (
    <button
      type="button"
      className={`inline-flex h-8 items-center justify-center gap-2 rounded-lg border px-3 font-semibold whitespace-nowrap transition-colors disabled:cursor-default disabled:opacity-45 ${LOOKS[look]} ${className}`}
      {...rest}
    />
  );
}
