import type { Design, Kind, Line, Place, Slot } from "../api/client";
import { useCalled } from "../state/shown";
import { withValue } from "../design/edits";
import { withPlace } from "../design/placing";
import { gesture } from "../state/store";
import { workOn } from "../state/workOn";
import { DEGREES, lengthIn, PERCENT, PLAIN } from "../units";
import { Phrase } from "../ui/Phrase";
import { Pick } from "../ui/Pick";
import { FontValue } from "./slots/FontValue";
import { GapValue } from "./slots/GapValue";
import { NumberValue } from "../fields/NumberValue";
import { PartsValue } from "./slots/PartsValue";
import { PictureValue } from "./slots/PictureValue";
import { PlaceValue } from "./slots/PlaceValue";
import { RailsValue, RailValue } from "./slots/RailValue";
import { PicksValue } from "./slots/PicksValue";
import { RefsValue } from "./slots/RefsValue";
import { RefValue } from "./slots/RefValue";
import { RowsValue } from "./slots/RowsValue";
import { VALUE } from "../ui/value";

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
  rail: RailValue,
  rails: RailsValue,
  picture: PictureValue,
  parts: PartsValue,
  ref: RefValue,
  refs: RefsValue,
  picks: PicksValue,
  anchors: PicksValue,
};

type Side = "as_wide" | "as_tall";

/** Whether a size is taken over from another result, and which side of it. */
function sizedBy(line: Extract<Line, { place: Place }>, field: string): Side | null {
  const { as_wide, as_tall } = line.place;
  if (field === "width") return as_wide ? "as_wide" : null;
  if (field === "height") return as_tall ? "as_tall" : null;
  // The size itself is said by the value after it, "wide" or "tall".
  if (field !== "fit" && field !== "by") return null;
  return as_wide ? "as_wide" : as_tall ? "as_tall" : null;
}

/** A size taken over from another result, in words; a click makes it its own again. */
function SizeTaken({ line, side }: { line: Extract<Line, { place: Place }>; side: Side }) {
  const called = useCalled();
  const ref = line.place[side] ?? "";
  return (
    <Phrase
      title="Click to give it a size of its own again"
      className={VALUE}
      onClick={() => gesture.change((now) => withPlace(now, line.id, (place) => ({ ...place, as_wide: null, as_tall: null })))}
    >
      {side === "as_wide" ? "as wide as" : "as tall as"} {called(ref)}
    </Phrase>
  );
}

/** The editor of one value, by what kind of value the line's model says it is. */
export function SlotValue({ design, line, slot, kinds }: Props) {
  const value = (line as unknown as Record<string, unknown>)[slot.field];
  const onChange = (next: unknown) => gesture.change((now) => withValue(now, line.id, slot.field, next));
  const taken = "place" in line && sizedBy(line, slot.field);
  if ("place" in line && slot.field === "size" && (sizedBy(line, "fit") || sizedBy(line, "by"))) return null;
  if (taken) return <SizeTaken line={line} side={taken} />;
  if (slot.slot === "length" || slot.slot === "angle" || slot.slot === "number" || slot.slot === "percent") {
    const usual = { length: lengthIn(design.unit), angle: DEGREES, number: PLAIN, percent: PERCENT }[slot.slot];
    const { zero } = slot;
    return (
      <NumberValue
        label={slot.label}
        value={Number(value)}
        as={zero == null ? usual : { ...usual, format: (one) => (one === 0 ? zero : usual.format(one)) }}
        low={slot.low ?? -1e4}
        high={slot.high ?? 1e4}
        step={slot.step ?? 0.1}
        onChange={onChange}
      />
    );
  }
  if (slot.slot === "choice") {
    const choose = (next: string) => (slot.plies ? workOn(line, slot.field, next) : onChange(next));
    return <Pick label={slot.label} value={String(value)} choices={slot.choices ?? {}} onChange={choose} />;
  }
  const Editor = EDITORS[slot.slot];
  return <Editor design={design} line={line} slot={slot} kinds={kinds} value={value} onChange={onChange} />;
}
