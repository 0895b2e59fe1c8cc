import { resultLabel, resultsBefore } from "../../design/labels";
import { useAsked } from "../../state/useAsked";
import { workOn } from "../../state/workOn";
import { Pop } from "../../ui/Pop";
import { Phrase } from "../../ui/Phrase";
import { VALUE } from "../../ui/value";
import { ResultName } from "../ResultName";
import { PickOnProof, useWaiting } from "./PickOnProof";
import type { SlotProps } from "./types";

/** One earlier result: chosen from the list, or picked on the proof. */
export function RefValue({ design, line, value, slot, kinds }: SlotProps) {
  const [open, setOpen] = useAsked(line.id, slot.field);
  const from = resultsBefore(design, line.id, kinds);
  const text = resultLabel(design, String(value), kinds);
  const waiting = useWaiting(line.id, slot.field);

  return (
    <Pop
      label={slot.label}
      open={open}
      onOpenChange={setOpen}
      trigger={
        <Phrase aria-label={`${slot.label}: ${text}`} className={`${VALUE} ${waiting ? "bg-saffron-soft" : ""}`}>
          {waiting ? "click it on the proof" : text}
        </Phrase>
      }
    >
      <PickOnProof line={line.id} field={slot.field} from={from} onStart={() => setOpen(false)} />
      <ul className="flex flex-col">
        {from.length === 0 && <li className="p-2 text-soft">Nothing comes before this line yet.</li>}
        {from.map((ref) => (
          <li key={ref}>
            <button
              type="button"
              aria-current={ref === value}
              onClick={() => {
                workOn(line, slot.field, ref);
                setOpen(false);
              }}
              className="w-full rounded-lg px-2 py-1.5 text-left hover:bg-plum-soft aria-[current=true]:bg-plum-soft"
            >
              <ResultName design={design} of={ref} kinds={kinds} />
            </button>
          </li>
        ))}
      </ul>
    </Pop>
  );
}
