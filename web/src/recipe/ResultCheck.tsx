import { Check } from "lucide-react";
import { Checkbox } from "radix-ui";
import type { Design, Kind } from "../api/client";
import { useBench } from "../state/store";
import { ResultName } from "./ResultName";

interface Props {
  design: Design;
  of: string;
  kinds: Kind[] | undefined;
  on: boolean;
  /** why it cannot be ticked, where it cannot */
  barred?: string | undefined;
  onToggle: (on: boolean) => void;
}

/** A result to tick; pointed at, it lights up on the proof. */
export function ResultCheck({ design, of, kinds, on, barred, onToggle }: Props) {
  const light = useBench((state) => state.light);
  return (
    <label
      onPointerEnter={() => light({ refs: [of], by: "words" })}
      onPointerLeave={() => light(null)}
      className={`flex items-center gap-2 rounded-lg px-2 py-1.5 ${barred ? "opacity-50" : "cursor-pointer hover:bg-plum-soft"}`}
    >
      <Checkbox.Root
        checked={on}
        disabled={barred !== undefined}
        onCheckedChange={(next) => onToggle(next === true)}
        className="grid size-4.5 shrink-0 place-items-center rounded border border-soft bg-card data-[state=checked]:border-plum data-[state=checked]:bg-plum"
      >
        <Checkbox.Indicator>
          <Check size={12} className="text-card" />
        </Checkbox.Indicator>
      </Checkbox.Root>
      <ResultName design={design} of={of} kinds={kinds} {...(barred ? { says: barred } : {})} />
    </label>
  );
}
