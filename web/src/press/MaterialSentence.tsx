import type { Material } from "../api/client";
import { withMaterial } from "../design/edits";
import { RangedValue } from "../fields/RangedValue";
import { KeepMaterial } from "../fields/KeepMaterial";
import { gesture } from "../state/store";
import { Pick } from "../ui/Pick";
import { CELSIUS, SECONDS } from "../units";

type Pressing = Material["pressing"];

const PRESSURES = { light: "light", medium: "medium", firm: "firm" };
const PEELS = { hot: "hot", warm: "warm", cold: "cold" };
const OVER = { no: "other plies may lie over it", yes: "nothing may be pressed over it" };

/** How a material is pressed, read as a sentence; changes go with the design's materials. */
export function MaterialSentence({ material }: { material: Material }) {
  const { pressing } = material;
  const set = (part: Partial<Pressing>) =>
    gesture.change((now) => withMaterial(now, material.id, (one) => ({ ...one, pressing: { ...one.pressing, ...part } })));
  return (
    <div className="border-t border-line pt-3 first:border-t-0 first:pt-0">
      <h2 className="flex items-center gap-2 font-display text-[15px] font-bold">
        <span aria-hidden className="size-4 rounded border border-ink/15" style={{ background: material.colour }} />
        {material.name}
      </h2>
      {material.kind === "htv" ? (
        <p className="mt-1 leading-[1.9]">
          Tack <RangedValue of="Pressing.tack" label={`Tack of ${material.name}`} value={pressing.tack} as={SECONDS} onChange={(tack) => set({ tack })} />, full press{" "}
          <RangedValue of="Pressing.full" label={`Full press of ${material.name}`} value={pressing.full} as={SECONDS} onChange={(full) => set({ full })} /> at{" "}
          <RangedValue of="Pressing.heat" label={`Heat of ${material.name}`} value={pressing.heat} as={CELSIUS} onChange={(heat) => set({ heat })} />,{" "}
          <Pick label={`Pressure of ${material.name}`} value={pressing.pressure} choices={PRESSURES} onChange={(next) => set({ pressure: next as Pressing["pressure"] })} />{" "}
          pressure, peel <Pick label={`Peel of ${material.name}`} value={pressing.peel} choices={PEELS} onChange={(next) => set({ peel: next as Pressing["peel"] })} />, at most{" "}
          <RangedValue of="Pressing.most" label={`Most heat of ${material.name}`} value={pressing.most} as={SECONDS} onChange={(most) => set({ most })} /> of heat in all;{" "}
          <Pick label={`What lies over ${material.name}`} value={pressing.last ? "yes" : "no"} choices={OVER} onChange={(next) => set({ last: next === "yes" })} />.
        </p>
      ) : (
        <p className="mt-1 text-soft">Laid by hand, without heat.</p>
      )}
      <KeepMaterial material={material} />
      <label className="mt-2 flex flex-col gap-1">
        <span className="text-soft">The shop’s own notes</span>
        <textarea
          value={pressing.notes}
          maxLength={300}
          rows={2}
          onFocus={() => gesture.begin()}
          onBlur={() => gesture.end()}
          onChange={(event) => set({ notes: event.target.value })}
          className="rounded-lg border border-line bg-card px-2 py-1 hover:border-plum"
        />
      </label>
    </div>
  );
}
