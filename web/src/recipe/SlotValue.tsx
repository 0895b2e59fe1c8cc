import type { Design, Kind, Line, Slot } from "../api/client";
import { gesture, withValue } from "../bench/store";
import { Pick } from "../ui/Pick";
import { FontValue } from "./slots/FontValue";
import { GapValue } from "./slots/GapValue";
import { LengthValue } from "./slots/LengthValue";
import { PartsValue } from "./slots/PartsValue";
import { PictureValue } from "./slots/PictureValue";
import { PlaceValue } from "./slots/PlaceValue";
import { RefsValue } from "./slots/RefsValue";
import { RefValue } from "./slots/RefValue";
import { RowsValue } from "./slots/RowsValue";

interface Props {
  design: Design;
  line: Line;
  slot: Slot;
  kinds: Kind[] | undefined;
}

const EDITORS = {
  rows: RowsValue,
  font: FontValue,
  gap: GapValue,
  place: PlaceValue,
  picture: PictureValue,
  parts: PartsValue,
  ref: RefValue,
  refs: RefsValue,
};

/** The editor of one value, by what kind of value the line's model says it is. */
export function SlotValue({ design, line, slot, kinds }: Props) {
  const value = (line as unknown as Record<string, unknown>)[slot.field];
  const onChange = (next: unknown) => gesture.change((now) => withValue(now, line.id, slot.field, next));
  if (slot.slot === "length") {
    return (
      <LengthValue
        label={slot.label}
        mm={Number(value)}
        unit={design.unit}
        low={slot.low ?? -1e4}
        high={slot.high ?? 1e4}
        step={slot.step ?? 0.1}
        onChange={onChange}
      />
    );
  }
  if (slot.slot === "choice") {
    return <Pick label={slot.label} value={String(value)} choices={slot.choices ?? {}} onChange={onChange} />;
  }
  const Editor = EDITORS[slot.slot];
  return <Editor design={design} line={line} slot={slot} kinds={kinds} value={value} onChange={onChange} />;
}
