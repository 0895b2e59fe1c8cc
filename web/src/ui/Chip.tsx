import type { ReactNode } from "react";

const LEVELS = {
  holds: { look: "border-line bg-card", dot: "bg-leaf", word: "Holds" },
  look: { look: "border-saffron/50 bg-saffron-soft", dot: "bg-saffron", word: "Needs a look" },
  stop: { look: "border-brick/50 bg-brick-soft", dot: "bg-brick", word: "Cannot be made so" },
};

/** One thing that holds, needs a look or cannot be made, along the foot of a room. */
export function Chip({ level, children }: { level: keyof typeof LEVELS; children: ReactNode }) {
  const { look, dot, word } = LEVELS[level];
  return (
    <li className={`flex h-8 shrink-0 items-center gap-2 rounded-full border px-3 font-semibold whitespace-nowrap ${look}`}>
      <span aria-hidden className={`size-2 shrink-0 rounded-full ${dot}`} />
      <span className="sr-only">{word}: </span>
      <span>{children}</span>
    </li>
  );
}
