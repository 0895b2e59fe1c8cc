import type { Design, Line, RailShape } from "../../api/client";
import { kindOf } from "../../design/kindOf";
import { isRails, railsToFollow, rowsOf } from "../../design/rails";
import { RangedValue } from "../../fields/RangedValue";
import { lengthIn, PERCENT, PLAIN, type Unit } from "../../units";
import { Phrase } from "../../ui/Phrase";
import { Pick } from "../../ui/Pick";
import { Pop } from "../../ui/Pop";
import { VALUE } from "../../ui/value";
import type { SlotProps } from "./types";

type Shape = RailShape["shape"];

const SHAPES: Record<Shape, { name: string; d: string }> = {
  level: { name: "level", d: "M2 12H46" },
  arched: { name: "arched", d: "M2 18Q24 0 46 18" },
  waved: { name: "waved", d: "M2 12C12 -2 16 -2 24 12S36 26 46 12" },
  tilted: { name: "tilted", d: "M2 17L46 6" },
  own: { name: "my own", d: "M2 16C8 6 12 16 20 13S30 2 36 6 42 15 46 9" },
};
const STARTS = { up: "up first", down: "down first" };
const WAYS = { up: "as it is", down: "upside down" };

const times = (value: number) => (value === 1 ? "once" : value === 2 ? "twice" : `${value} times`);

/** A rail in words: "arched 30 mm", "as the top rail of line 4, upside down". */
export function railInWords(design: Design, rail: RailShape, unit: Unit): string {
  const over = rail.upside_down ? ", upside down" : "";
  if (rail.like) {
    const found = railsToFollow(design, null).find((one) => one.like === rail.like);
    return `${found ? `as ${found.name}` : "as a rail that is gone"}${over}`;
  }
  const rise = lengthIn(unit).format(rail.rise);
  const says = {
    level: rail.moved ? `level, ${lengthIn(unit).format(rail.moved)} up` : "level",
    tilted: `tilted ${rise}`,
    arched: `arched ${rise}`,
    waved: `waved ${rise}, ${times(rail.times)}`,
    own: "my own curve",
  }[rail.shape];
  return rail.shape === "level" ? says : says + over;
}

/** One rail: its shape by a picture, its figures, or as another rail. */
export function RailValue({ design, line, value, slot, onChange }: SlotProps) {
  return <OneRail design={design} line={line} label={slot.label} rail={value as RailShape} onChange={onChange} />;
}

/** The rails between rows, each in turn. */
export function RailsValue({ design, line, value, kinds, onChange }: SlotProps) {
  const rows = isRails(line) ? rowsOf(design, line.of) : [];
  const level = kindOf(kinds, line.kind)?.blank["bottom"] as RailShape;
  const rails = rows.slice(0, -1).map((_, i) => (value as RailShape[])[i] ?? level);
  return (
    <>
      {rails.map((rail, i) => (
        <span key={i}>
          under {rows[i]}{" "}
          <OneRail design={design} line={line} label={`Rail under row ${i + 1}`} rail={rail} onChange={(next) => onChange(rails.with(i, next))} />
          ,{" "}
        </span>
      ))}
    </>
  );
}

interface RailProps {
  design: Design;
  line: Line;
  label: string;
  rail: RailShape;
  onChange: (rail: RailShape) => void;
}

function OneRail({ design, line, label, rail, onChange }: RailProps) {
  const says = railInWords(design, rail, design.unit);
  const set = (part: Partial<RailShape>) => onChange({ ...rail, ...part });
  const others = railsToFollow(design, line.id);

  function shape(next: Shape) {
    const points: [number, number][] = rail.points.length > 1 ? rail.points : [[0, 0], [0.33, 15], [0.67, -15], [1, 0]];
    set({ shape: next, like: null, points: next === "own" ? points : rail.points });
  }

  return (
    <Pop
      label={label}
      trigger={
        <Phrase aria-label={`${label}: ${says}`} className={VALUE}>
          {says}
        </Phrase>
      }
    >
      <div role="group" aria-label="Shape" className="grid grid-cols-3 gap-1.5">
        {(Object.keys(SHAPES) as Shape[]).map((one) => (
          <button
            key={one}
            type="button"
            aria-pressed={!rail.like && rail.shape === one}
            onClick={() => shape(one)}
            className="flex flex-col items-center rounded-lg border border-line px-1 py-1.5 text-[12px] font-semibold hover:border-plum aria-pressed:border-plum aria-pressed:text-plum"
          >
            <svg viewBox="0 0 48 24" width={48} height={24} aria-hidden className="fill-none stroke-current" strokeWidth={2}>
              <path d={SHAPES[one].d} />
            </svg>
            {SHAPES[one].name}
          </button>
        ))}
      </div>
      {!rail.like && <Figures rail={rail} unit={design.unit} label={label} set={set} />}
      {others.length > 0 && (
        <label className="mt-2 grid grid-cols-[auto_1fr] items-center gap-x-3">
          As another rail
          <Pick
            label={`${label} as another`}
            look="field"
            value={rail.like ?? ""}
            choices={{ "": "a shape of its own", ...Object.fromEntries(others.map((one) => [one.like, one.name])) }}
            onChange={(like) => set({ like: like || null })}
          />
        </label>
      )}
      {(rail.like != null || rail.shape !== "level") && (
        <p className="mt-2 flex items-center justify-between">
          Turned over
          <Pick label={`${label} turned over`} value={rail.upside_down ? "down" : "up"} choices={WAYS} onChange={(way) => set({ upside_down: way === "down" })} />
        </p>
      )}
    </Pop>
  );
}

function Figures({ rail, unit, label, set }: { rail: RailShape; unit: Unit; label: string; set: (part: Partial<RailShape>) => void }) {
  const length = lengthIn(unit);
  const says = { arched: "High", waved: "High", tilted: "Right end higher by", level: "", own: "" }[rail.shape];
  return (
    <div className="mt-2 grid grid-cols-[1fr_auto] items-center gap-x-3 gap-y-1">
      {says && (
        <>
          <span>{says}</span>
          <RangedValue of="RailShape.rise" label={`${label}: ${says.toLowerCase()}`} value={rail.rise} as={length} onChange={(rise) => set({ rise })} />
        </>
      )}
      {rail.shape === "arched" && (
        <>
          <span>Highest at</span>
          <RangedValue of="RailShape.top" label={`${label}: highest at`} value={rail.top} as={PERCENT} onChange={(top) => set({ top })} />
        </>
      )}
      {rail.shape === "waved" && (
        <>
          <span>How many waves</span>
          <RangedValue of="RailShape.times" label={`${label}: how many waves`} value={rail.times} as={PLAIN} onChange={(value) => set({ times: value })} />
          <span>Begins</span>
          <Pick label={`${label} begins`} value={rail.starts} choices={STARTS} onChange={(starts) => set({ starts: starts as "up" | "down" })} />
          <span>Ends</span>
          <Pick
            label={`${label} ends`}
            value={rail.ends_level ? "level" : "waved"}
            choices={{ waved: "waved", level: "level" }}
            onChange={(ends) => set({ ends_level: ends === "level" })}
          />
        </>
      )}
      {rail.shape === "own" && <span className="col-span-2 text-soft">Drag its points on the proof; Enter on a point adds one, Delete takes it away.</span>}
      <span>Moved up by</span>
      <RangedValue of="RailShape.moved" label={`${label}: moved up by`} value={rail.moved} as={length} onChange={(moved) => set({ moved })} />
    </div>
  );
}
