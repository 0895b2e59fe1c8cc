import { Check } from "lucide-react";
import { Checkbox } from "radix-ui";
import type { Design, Kind } from "../../api/client";
import { resultLabel, resultsBefore } from "../../design/labels";
import { useAsked } from "../../state/useAsked";
import { workOn } from "../../state/workOn";
import { Pop } from "../../ui/Pop";
import { Phrase } from "../../ui/Phrase";
import { VALUE } from "../../ui/value";
import { ResultName } from "../ResultName";
import { PickOnProof, useWaiting } from "./PickOnProof";
import type { SlotProps } from "./types";

/** Several earlier results. */
export function RefsValue({ design, line, value, slot, kinds }: SlotProps) {
  const chosen = value as string[];
  const [open, setOpen] = useAsked(line.id, slot.field);
  const waiting = useWaiting(line.id, slot.field);
  const from = resultsBefore(design, line.id, kinds);
  const text = listed(chosen.map((ref) => resultLabel(design, ref, kinds))) || "choose";
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
      <RefChecks
        refs={from}
        chosen={chosen}
        design={design}
        kinds={kinds}
        onToggle={(ref, on) => workOn(line, slot.field, (now) => toggled([now].flat(), ref, on))}
      />
    </Pop>
  );
}

/** Results with one more or one fewer. */
export const toggled = (refs: string[], ref: string, on: boolean) => (on ? [...refs, ref] : refs.filter((one) => one !== ref));

/** "line 1, line 2 and line 3" */
const listed = (names: string[]) => [names.slice(0, -1).join(", "), names.at(-1) ?? ""].filter(Boolean).join(" and ");

interface ChecksProps {
  refs: string[];
  chosen: string[];
  design: Design;
  kinds: Kind[] | undefined;
  onToggle: (ref: string, on: boolean) => void;
}

/** A list of results to tick. */
export function RefChecks({ refs, chosen, design, kinds, onToggle }: ChecksProps) {
  const all = [...refs, ...chosen.filter((ref) => !refs.includes(ref))];
  return (
    <ul className="flex flex-col">
      {all.length === 0 && <li className="text-soft">The recipe has no results yet.</li>}
      {all.map((ref) => (
        <li key={ref}>
          <label className="flex cursor-pointer items-center gap-2 rounded-lg px-2 py-1.5 hover:bg-plum-soft">
            <Checkbox.Root
              checked={chosen.includes(ref)}
              onCheckedChange={(on) => onToggle(ref, on === true)}
              className="grid size-4.5 shrink-0 place-items-center rounded border border-soft bg-card data-[state=checked]:border-plum data-[state=checked]:bg-plum"
            >
              <Checkbox.Indicator>
                <Check size={12} className="text-card" />
              </Checkbox.Indicator>
            </Checkbox.Root>
            <ResultName design={design} of={ref} kinds={kinds} />
          </label>
        </li>
      ))}
    </ul>
  );
}
