import type { Design, Kind, Line, Slot } from "../../api/client";

/** What every value in a sentence is given. */
export interface SlotProps {
  design: Design;
  line: Line;
  slot: Slot;
  kinds: Kind[] | undefined;
  /** the value as the document has it */
  value: unknown;
  onChange: (value: unknown) => void;
}

/** The look of a value that can be changed. */
export const VALUE =
  "rounded-sm font-semibold text-plum underline decoration-dotted underline-offset-4 hover:bg-plum-soft cursor-pointer";
