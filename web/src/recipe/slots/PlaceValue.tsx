import { Switch } from "radix-ui";
import { Fragment } from "react";
import type { Place } from "../../api/client";
import { resultOrigin } from "../../design/labels";
import { thingsBefore } from "../../design/things";
import { useCalled } from "../../state/shown";
import { Lights } from "../Lights";
import { DEGREES, formatLength, lengthIn, type Unit } from "../../units";
import { Pick } from "../../ui/Pick";
import { Pop } from "../../ui/Pop";
import { Phrase } from "../../ui/Phrase";
import { RangedValue } from "../../fields/RangedValue";
import { VALUE } from "../../ui/value";
import type { SlotProps } from "./types";

const NOTHING = "free";
const near = (a: number, b: number) => Math.abs(a - b) < 0.005;

const ACROSS: Record<Place["across"], string> = {
  middle: "middles level",
  left: "left edges level",
  right: "right edges level",
  before: "left of it",
  after: "right of it",
};
const DOWN: Record<Place["down"], string> = {
  middle: "middles level",
  top: "tops level",
  bottom: "bottoms level",
  above: "above it",
  below: "below it",
};

/** The relation in words: "centred on line 1", "2 mm below line 1, left edges level". */
function sentence(place: Place, anchor: string, unit: Unit): string {
  const away = (mm: number, more: string, less: string) =>
    near(mm, 0) ? [] : [`${formatLength(Math.abs(mm), unit)} ${mm > 0 ? more : less}`];
  const offset = [...away(place.x, "right", "left"), ...away(place.y, "down", "up")].join(", ");
  if (!place.on) return offset ? `${offset} from the middle` : "in the middle";
  if (place.across === "middle" && place.down === "middle") {
    return offset ? `${offset} from the middle of ${anchor}` : `centred on ${anchor}`;
  }
  const beside = { before: "left of", after: "right of", above: "above", below: "below" };
  const gap = (mm: number, how: keyof typeof beside) => `${formatLength(mm, unit)} ${beside[how]} ${anchor}`;
  const level = (mm: number, what: string, more: string, less: string) =>
    [`${what} with ${anchor}`, ...away(mm, more, less)].join(" ");
  const parts: string[] = [];
  if (place.down === "above" || place.down === "below") parts.push(gap(place.y, place.down));
  if (place.across === "before" || place.across === "after") parts.push(gap(place.x, place.across));
  if (place.across === "left" || place.across === "right") {
    parts.push(level(place.x, `${place.across} edge level`, "to the right", "to the left"));
  }
  if (place.down === "top" || place.down === "bottom") parts.push(level(place.y, `${place.down} level`, "down", "up"));
  if (place.across === "middle") parts.push(near(place.x, 0) ? "centred" : away(place.x, "right of centred", "left of centred").join(""));
  if (place.down === "middle") parts.push(near(place.y, 0) ? "centred" : away(place.y, "below centred", "above centred").join(""));
  return parts.join(", ");
}

/** Where it is: free on the bench, or held in relation to another result. */
export function PlaceValue({ design, line, value, slot, kinds, onChange }: SlotProps) {
  const place = value as Place;
  const set = (part: Partial<Place>) => onChange({ ...place, ...part });
  const unit = design.unit;
  const turned = near(place.rotate, 0) ? "" : `, turned ${Number(place.rotate.toFixed(1))}°`;
  const flipped = place.flip ? ", flipped" : "";
  const called = useCalled();
  const text = sentence(place, place.on ? called(place.on) : "", unit);
  const beside = place.on && (place.across === "before" || place.across === "after");
  const stacked = place.on && (place.down === "above" || place.down === "below");
  const { newest, earlier } = thingsBefore(design, line.id, kinds);
  const results = Object.fromEntries([...newest, ...earlier].map((ref) => [ref, `${called(ref)}, ${resultOrigin(design, ref, kinds)}`]));
  const choices = { [NOTHING]: "nothing: free", ...results };
  const sizes = { [NOTHING]: "its own size", ...results };

  return (
    <Pop
      label={slot.label}
      trigger={
        <Phrase aria-label={`Place: ${text}${turned}${flipped}`} className={VALUE}>
          <Lights refs={place.on ? [place.on] : []}>
            {text.replace(/(\d) (?=mm|in\b|\d)/g, "$1\u00a0")}
            {turned}
            {flipped}
          </Lights>
        </Phrase>
      }
    >
      <div className="grid grid-cols-[auto_1fr] items-center gap-x-4 gap-y-3 [&>button]:justify-self-start">
        <span>Held to</span>
        <Pick
          label="Held to"
          look="field"
          value={place.on ?? NOTHING}
          choices={choices}
          onChange={(on) => onChange({ ...place, on: on === NOTHING ? null : on, across: "middle", down: "middle", x: 0, y: 0 })}
        />
        {place.on && (
          <>
            <span>Across</span>
            <Pick
              label="Across"
              look="field"
              value={place.across}
              choices={ACROSS}
              onChange={(across) => set({ across: across as Place["across"], x: 0 })}
            />
            <span>Up and down</span>
            <Pick
              label="Up and down"
              look="field"
              value={place.down}
              choices={DOWN}
              onChange={(down) => set({ down: down as Place["down"], y: 0 })}
            />
          </>
        )}
        <span>{beside ? "Gap across" : "Right by"}</span>
        <RangedValue of="Place.x" label={beside ? "Gap across" : "Right by"} value={place.x} as={lengthIn(unit)} onChange={(x) => set({ x })} />
        <span>{stacked ? "Gap down" : "Down by"}</span>
        <RangedValue of="Place.y" label={stacked ? "Gap down" : "Down by"} value={place.y} as={lengthIn(unit)} onChange={(y) => set({ y })} />
        <span>Turned</span>
        <RangedValue of="Place.rotate"
          label="Turned clockwise"
          value={place.rotate}
          as={DEGREES}
          onChange={(rotate) => set({ rotate })}
        />
        {(["as_wide", "as_tall"] as const).map((side) => (
          <Fragment key={side}>
            <span>{side === "as_wide" ? "As wide as" : "As tall as"}</span>
            <Pick
              label={side === "as_wide" ? "As wide as" : "As tall as"}
              look="field"
              value={place[side] ?? NOTHING}
              choices={sizes}
              onChange={(ref) => set({ [side]: ref === NOTHING ? null : ref })}
            />
          </Fragment>
        ))}
        <span>Flipped</span>
        <Switch.Root
          aria-label="Flipped sideways"
          checked={place.flip}
          onCheckedChange={(flip) => set({ flip })}
          className="h-4.5 w-8 rounded-full bg-[#a39a86] transition-colors data-[state=checked]:bg-plum"
        >
          <Switch.Thumb className="block size-3.5 translate-x-0.5 rounded-full bg-card transition-transform data-[state=checked]:translate-x-4" />
        </Switch.Root>
      </div>
    </Pop>
  );
}
