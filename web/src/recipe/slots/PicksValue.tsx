import { Undo2 } from "lucide-react";
import { withValue } from "../../design/edits";
import { gesture } from "../../state/store";
import { Button } from "../../ui/Button";
import { Pop } from "../../ui/Pop";
import { Phrase } from "../../ui/Phrase";
import { VALUE } from "../../ui/value";
import type { SlotProps } from "./types";

/** What was picked by hand, counted; all of it put back by a click. */
export function PicksValue({ line, slot, value }: SlotProps) {
  const count = (value as unknown[]).length;
  const text = count === 0 ? "none" : String(count);
  const putBack = () => gesture.change((now) => withValue(now, line.id, slot.field, []));
  return (
    <Pop
      label={slot.label}
      trigger={
        <Phrase aria-label={`${slot.label}: ${text}`} className={VALUE}>
          {text}
        </Phrase>
      }
    >
      <p className="text-soft">Click pieces on the proof, drag a frame round several, or go through them with Tab and the arrow keys.</p>
      <Button className="mt-2 w-full" disabled={count === 0} onClick={putBack}>
        <Undo2 size={14} /> Put all back
      </Button>
    </Pop>
  );
}
