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
