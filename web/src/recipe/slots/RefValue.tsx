import { Crosshair } from "lucide-react";
import { resultLabel, resultsBefore } from "../../design/labels";
import { useBench } from "../../state/store";
import { useAsked } from "../../state/useAsked";
import { workOn } from "../../state/workOn";
import { Button } from "../../ui/Button";
import { Pop } from "../../ui/Pop";
import { Phrase } from "../../ui/Phrase";
import { VALUE } from "../../ui/value";
import type { SlotProps } from "./types";

/** One earlier result: chosen from the list, or picked on the proof. */
export function RefValue({ design, line, value, slot, kinds }: SlotProps) {
  const [open, setOpen] = useAsked(line.id, slot.field);
  const picking = useBench((state) => state.picking);
  const pick = useBench((state) => state.pick);
  const from = resultsBefore(design, line.id, kinds);
  const text = resultLabel(design, String(value), kinds);
  const waiting = picking?.line === line.id && picking.field === slot.field;

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
      <Button
        className="w-full"
        disabled={from.length === 0}
        onClick={() => {
          pick({ line: line.id, field: slot.field, from });
          setOpen(false);
        }}
      >
        <Crosshair size={14} /> Pick on the proof
      </Button>
      <ul className="mt-2 flex flex-col">
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
              {resultLabel(design, ref, kinds)}
            </button>
          </li>
        ))}
      </ul>
    </Pop>
  );
}
