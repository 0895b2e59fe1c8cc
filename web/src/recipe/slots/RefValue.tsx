import { useCalled } from "../../state/shown";
import { useBench } from "../../state/store";
import { workOn } from "../../state/workOn";
import { ResultName } from "../ResultName";
import { PointAt } from "./PointAt";
import type { SlotProps } from "./types";

/** One earlier result: pointed at on the proof, or chosen from the list. */
export function RefValue({ design, line, value, slot, kinds }: SlotProps) {
  const light = useBench((state) => state.light);
  const called = useCalled();
  const chosen = String(value);
  return (
    <PointAt
      design={design}
      line={line}
      field={slot.field}
      label={slot.label}
      kinds={kinds}
      chosen={chosen ? [chosen] : []}
      text={called(chosen)}
      many={false}
      row={(ref, barred, close) => (
        <button
          type="button"
          aria-current={ref === value}
          disabled={barred !== undefined}
          onPointerEnter={() => light({ refs: [ref], by: "words" })}
          onClick={() => {
            workOn(line, slot.field, ref);
            close();
          }}
          className="flex w-full rounded-lg px-2 py-1.5 text-left hover:bg-plum-soft disabled:opacity-50 aria-[current=true]:bg-plum-soft"
        >
          <ResultName design={design} of={ref} kinds={kinds} {...(barred ? { says: barred } : {})} />
        </button>
      )}
    />
  );
}
