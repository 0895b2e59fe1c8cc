import { useCalled } from "../../state/shown";
import { workOn } from "../../state/workOn";
import { ResultCheck } from "../ResultCheck";
import { PointAt } from "./PointAt";
import type { SlotProps } from "./types";

/** Several earlier results. */
export function RefsValue({ design, line, value, slot, kinds }: SlotProps) {
  const called = useCalled();
  const chosen = value as string[];
  return (
    <PointAt
      design={design}
      line={line}
      field={slot.field}
      label={slot.label}
      kinds={kinds}
      chosen={chosen}
      text={listed(chosen.map(called)) || "choose"}
      many
      row={(ref, barred) => (
        <ResultCheck
          design={design}
          of={ref}
          kinds={kinds}
          on={chosen.includes(ref)}
          barred={chosen.includes(ref) ? undefined : barred}
          onToggle={(on) => workOn(line, slot.field, (now) => toggled([now].flat(), ref, on))}
        />
      )}
    />
  );
}

/** Results with one more or one fewer. */
const toggled = (refs: string[], ref: string, on: boolean) => (on ? [...refs, ref] : refs.filter((one) => one !== ref));

/** "REGATTA, WEEKEND and Lighthouse"; what is "less Oars" is set off by a comma from what follows. */
const listed = (names: string[]) => [names.slice(0, -1).join(", "), names.at(-1) ?? ""].filter(Boolean).join(names.slice(0, -1).some((name) => name.includes(" less ")) ? ", and " : " and ");
