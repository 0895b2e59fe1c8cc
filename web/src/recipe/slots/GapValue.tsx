import type { Gap } from "../../api/client";
import { lengthIn, PERCENT, type Unit } from "../../units";
import { Pick } from "../../ui/Pick";
import { RangedValue } from "../../fields/RangedValue";
import type { SlotProps } from "./types";

const HOW: Record<Gap["of"], string> = { mm: "apart", percent: "of their height apart", line: "line spacing" };
/** What each way starts from: 75 % is a common line spacing for capitals. */
const USUAL: Record<Gap["of"], number> = { mm: 3, percent: 10, line: 75 };

interface Props {
  label: string;
  gap: Gap;
  unit: Unit;
  onChange: (gap: Gap) => void;
}

/** A gap between rows: clear of each other, as a length or a share of their height, or as line spacing. */
export function RowGap({ label, gap, unit, onChange }: Props) {
  const length = lengthIn(unit);
  const own = gap.of === "mm" ? length : PERCENT;
  // A length may be typed where a percentage is, and the other way round.
  const other = gap.of === "mm" ? PERCENT : length;
  const parse = (text: string) => own.parse(text) ?? other.parse(text);
  const how = (typed: string) => (own.parse(typed) !== null ? gap.of : gap.of === "mm" ? "line" : "mm");
  return (
    <>
      <RangedValue of="Row.above"
        label={label}
        value={gap.value}
        as={{ ...own, parse }}
        onChange={(value, typed) => onChange({ value, of: typed === undefined ? gap.of : how(typed) })}
      />{" "}
      <Pick
        label={`${label}, how`}
        value={gap.of}
        choices={HOW}
        onChange={(of) => onChange({ value: USUAL[of as Gap["of"]], of: of as Gap["of"] })}
      />
    </>
  );
}

export function GapValue({ design, value, slot, onChange }: SlotProps) {
  return <RowGap label={slot.label} gap={value as Gap} unit={design.unit} onChange={onChange} />;
}
