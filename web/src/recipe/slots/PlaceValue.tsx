import { Switch } from "radix-ui";
import type { Place } from "../../api/client";
import { resultLabel, resultsBefore } from "../../bench/labels";
import { formatLength } from "../../units";
import { Pick } from "../../ui/Pick";
import { Pop } from "../../ui/Pop";
import { LengthValue } from "./LengthValue";
import { type SlotProps, VALUE } from "./types";

const NOTHING = "free";
const near = (a: number, b: number) => Math.abs(a - b) < 0.005;

/** Where it is: free on the bench, or held to the middle of another result. */
export function PlaceValue({ design, line, value, slot, kinds, onChange }: SlotProps) {
  const place = value as Place;
  const set = (part: Partial<Place>) => onChange({ ...place, ...part });
  const unit = design.unit;
  const centred = near(place.x, 0) && near(place.y, 0);
  const anchor = place.on ? resultLabel(design, place.on, kinds) : "";
  const away = (mm: number, more: string, less: string) =>
    near(mm, 0) ? [] : [`${formatLength(Math.abs(mm), unit)} ${mm > 0 ? more : less}`];
  const offset = [...away(place.x, "right", "left"), ...away(place.y, "down", "up")].join(", ");
  const turned = near(place.rotate, 0) ? "" : `, turned ${Number(place.rotate.toFixed(1))}°`;
  const flipped = place.flip ? ", flipped" : "";
  const text = place.on
    ? centred
      ? `centred on ${anchor}`
      : `${offset} from the middle of ${anchor}`
    : centred
      ? "in the middle"
      : `${offset} from the middle`;
  const choices = {
    [NOTHING]: "nothing: free",
    ...Object.fromEntries(resultsBefore(design, line.id, kinds).map((ref) => [ref, resultLabel(design, ref, kinds)])),
  };

  return (
    <Pop
      label={slot.label}
      trigger={
        <button type="button" aria-label={`Place: ${text}${turned}${flipped}`} className={VALUE}>
          {text}
          {turned}
          {flipped}
        </button>
      }
    >
      <div className="grid grid-cols-[auto_1fr] items-center gap-x-4 gap-y-3">
        <span>Held to</span>
        <Pick
          label="Held to"
          look="field"
          value={place.on ?? NOTHING}
          choices={choices}
          onChange={(on) => onChange({ ...place, on: on === NOTHING ? null : on, x: 0, y: 0 })}
        />
        <span>Right by</span>
        <LengthValue label="Right by" mm={place.x} unit={unit} low={-5000} high={5000} step={0.1} onChange={(x) => set({ x })} />
        <span>Down by</span>
        <LengthValue label="Down by" mm={place.y} unit={unit} low={-5000} high={5000} step={0.1} onChange={(y) => set({ y })} />
        <span>Turned</span>
        <LengthValue
          label="Turned clockwise"
          mm={place.rotate}
          unit="mm"
          low={-360}
          high={360}
          step={1}
          format={(degrees) => `${Number(degrees.toFixed(2))}°`}
          parse={(typed) => {
            const number = Number(typed.replace("°", "").replace("−", "-"));
            return typed.trim() && Number.isFinite(number) ? number : null;
          }}
          onChange={(rotate) => set({ rotate })}
        />
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
