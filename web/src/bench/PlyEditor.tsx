import { Settings2, Trash2 } from "lucide-react";
import { type ReactNode, useState } from "react";
import type { Design, Kind, Material, Ply } from "../api/client";
import { RangedValue } from "../fields/RangedValue";
import { ResultCheck } from "../recipe/ResultCheck";
import { lengthIn } from "../units";
import { Button } from "../ui/Button";
import { IconButton } from "../ui/IconButton";
import { Pick } from "../ui/Pick";
import { Pop } from "../ui/Pop";
import { Toggle } from "../ui/Toggle";
import { thingsBefore } from "../design/things";
import { mergedPlies, withMaterial, withoutResult, withPly, withResultAlsoOn, withResultOn } from "../design/edits";
import { OneStep } from "../state/OneStep";
import { useBasics } from "../api/queries";
import { MaterialChooser } from "./MaterialChooser";
import { KeepMaterial } from "../fields/KeepMaterial";
import { gesture, useBench } from "../state/store";

const FIELD = "h-8 w-full rounded-lg border border-line bg-card px-2 hover:border-plum";
/** No ply to merge with. */
const NONE = "-";

function NameAndColour(props: {
  name: string;
  colour: string;
  what: string;
  onChange: (part: { name?: string; colour?: string }) => void;
}) {
  return (
    <div className="flex gap-2">
      <input
        type="color"
        aria-label={`Colour of the ${props.what}`}
        value={props.colour}
        onChange={(event) => props.onChange({ colour: event.target.value.toUpperCase() })}
        className="h-8 w-10 shrink-0 rounded-lg border border-line bg-card p-0.5"
      />
      <input
        aria-label={`Name of the ${props.what}`}
        value={props.name}
        maxLength={120}
        onChange={(event) => {
          if (event.target.value) props.onChange({ name: event.target.value });
        }}
        className={FIELD}
      />
    </div>
  );
}

interface Props {
  design: Design;
  ply: Ply;
  kinds: Kind[] | undefined;
  children: ReactNode;
}

/** A ply's name, the results cut in it, and its material. */
export function PlyEditor({ design, ply, kinds, children }: Props) {
  const change = useBench((state) => state.change);
  const basics = useBasics().data;
  const materialKinds = basics?.material_kinds ?? {};
  const material = design.materials.find((one) => one.id === ply.material);
  const setMaterial = (part: Partial<Material>) =>
    gesture.change((now) => withMaterial(now, ply.material, (one) => ({ ...one, ...part })));

  const [both, setBoth] = useState(false);
  const { newest, earlier } = thingsBefore(design, null, kinds);
  const things = [...newest, ...earlier.filter((ref) => ply.results.includes(ref))];
  /** A thing is cut from one ply: it leaves the one it was on, unless it is asked for on both. */
  function cut(ref: string, on: boolean) {
    const edit = on ? (both ? withResultAlsoOn : withResultOn) : withoutResult;
    change((now) => edit(now, ply.id, ref));
  }

  return (
    <Pop
      label={`Material and pieces of ${ply.name}`}
      side="left"
      trigger={children}
    >
      <OneStep />
      <label className="flex flex-col gap-1 font-semibold">
        Ply
        <input
          value={ply.name}
          maxLength={120}
          onChange={(event) => {
            const name = event.target.value;
            if (name) gesture.change((now) => withPly(now, ply.id, (one) => ({ ...one, name, typed: true })));
          }}
          className={`${FIELD} font-normal`}
        />
      </label>
      <p className="mt-3 font-semibold">Cuts</p>
      {things.length === 0 && <p className="text-soft">The recipe has no results yet.</p>}
      <ul className="flex flex-col">
        {things.map((ref) => (
          <li key={ref}>
            <ResultCheck design={design} of={ref} kinds={kinds} on={ply.results.includes(ref)} onToggle={(on) => cut(ref, on)} />
          </li>
        ))}
      </ul>
      <div className="mt-1 mb-2">
        <Toggle label="On both plies" on={both} onChange={setBoth} />
      </div>
      {design.plies.length > 1 && (
        <Pick
          label="Merge with another ply"
          look="field"
          value={NONE}
          choices={{ [NONE]: "merge with another ply…", ...Object.fromEntries(design.plies.filter((one) => one.id !== ply.id).map((one) => [one.id, `into ${one.name}`])) }}
          onChange={(into) => into !== NONE && change((now) => mergedPlies(now, ply.id, into))}
        />
      )}
      <p className="mt-3 mb-1 font-semibold">From</p>
      <MaterialChooser design={design} ply={ply} />
      {material && (
        <div className="mt-3 flex flex-col gap-3 rounded-[10px] border border-line p-3">
          <NameAndColour name={material.name} colour={material.colour} what="material" onChange={setMaterial} />
          <Pick
            label="Kind of material"
            look="field"
            value={material.kind}
            choices={Object.fromEntries(Object.entries(materialKinds).map(([id, kind]) => [id, kind.name]))}
            onChange={(id) => {
              const brings = materialKinds[id];
              if (brings) setMaterial({ kind: id as Material["kind"], mirrored: brings.mirrored, smallest: brings.smallest });
            }}
          />
          <Pick
            label="Finish"
            look="field"
            value={material.finish}
            choices={Object.fromEntries(Object.entries(basics?.finishes ?? {}).map(([id, finish]) => [id, finish.name]))}
            onChange={(id) => {
              const last = basics?.finishes[id]?.last ?? false;
              setMaterial({ finish: id as Material["finish"], pressing: { ...material.pressing, last } });
            }}
          />
          <Toggle label="Cut mirrored" on={material.mirrored} onChange={(mirrored) => setMaterial({ mirrored })} />
          <p className="flex items-center justify-between">
            Thinnest that holds
            <RangedValue of="Material.smallest"
              label="Thinnest that holds"
              value={material.smallest}
              as={lengthIn(design.unit)}
              onChange={(smallest) => setMaterial({ smallest })}
            />
          </p>
          <KeepMaterial material={material} />
        </div>
      )}
      <Button
        look="quiet"
        className="mt-2 text-brick"
        onClick={() => change((now) => ({ ...now, plies: now.plies.filter((one) => one.id !== ply.id) }))}
      >
        <Trash2 size={14} /> Remove this ply
      </Button>
    </Pop>
  );
}

export function GroundEditor({ ground, unit }: { ground: Design["ground"]; unit: Design["unit"] }) {
  const set = (part: Partial<Design["ground"]>) => gesture.change((now) => ({ ...now, ground: { ...now.ground, ...part } }));
  const length = lengthIn(unit);
  const reads = { ...length, format: (mm: number) => (mm ? length.format(mm) : "not said") };
  const side = (label: string, key: "width" | "height") => (
    <RangedValue of="Ground.width" label={label} value={ground[key] ?? 0} as={reads} onChange={(mm) => set({ [key]: mm })} />
  );
  return (
    <Pop
      label="Ground"
      side="left"
      trigger={
        <IconButton label="What it goes on">
          <Settings2 size={15} />
        </IconButton>
      }
    >
      <OneStep />
      <p className="mb-2 font-semibold">What it goes on</p>
      <NameAndColour
        name={ground.name}
        colour={ground.colour}
        what="ground"
        onChange={set}
      />
      <p className="mt-2">
        Can be covered {side("Width that can be covered", "width")} wide and {side("Height that can be covered", "height")} tall
      </p>
      {(ground.width ?? ground.height) != null && (
        <Button look="quiet" className="mt-1 -ml-2 h-7 px-2" onClick={() => set({ width: null, height: null })}>
          Of no stated size
        </Button>
      )}
    </Pop>
  );
}
