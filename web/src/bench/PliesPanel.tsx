import { ChevronDown, ChevronUp, Eye, EyeOff, Plus, Settings2 } from "lucide-react";
import { type DragEvent, useState } from "react";
import { knownBasics } from "../api/cache";
import type { Design, Kind, Ply } from "../api/client";
import { formatArea } from "../units";
import { Button } from "../ui/Button";
import { IconButton } from "../ui/IconButton";
import { GroundEditor, PlyEditor } from "./PlyEditor";
import { PlySheets } from "./PlySheets";
import { freeId, moved, withPly } from "../design/edits";
import { heldStill } from "../state/heldStill";
import { useBench } from "../state/store";
import type { ShownProof } from "../state/useProof";

interface Props {
  design: Design;
  proof: ShownProof | null;
  kinds: Kind[] | undefined;
}

/** The plies from top to ground: as sheets, and as a list to order, hide and assign. */
function Panel({ design, proof, kinds }: Props) {
  const change = useBench((state) => state.change);
  const [held, setHeld] = useState<string | null>(null);
  const topFirst = [...design.plies].reverse();

  function dropOn(event: DragEvent, target: Ply) {
    event.preventDefault();
    const from = design.plies.findIndex((ply) => ply.id === held);
    const to = design.plies.indexOf(target);
    if (from >= 0 && from !== to) change((now) => ({ ...now, plies: moved(now.plies, from, to) }));
    setHeld(null);
  }

  function addPly() {
    const id = freeId("p", design.plies.map((ply) => ply.id));
    const material = design.materials[0] ?? knownBasics()?.first_material;
    if (!material) return;
    change((now) => ({
      ...now,
      materials: now.materials.length > 0 ? now.materials : [material],
      plies: [...now.plies, { id, name: `Ply ${now.plies.length + 1}`, material: material.id, results: [], also: [], hidden: false }],
    }));
  }

  return (
    <section aria-label="Plies" className="flex min-h-0 w-67 shrink-0 flex-col border-l border-line bg-card">
      <div className="flex items-baseline justify-between px-3.5 pt-3.5 pb-2">
        <h2 className="font-display text-[15px] font-bold">Plies</h2>
        <span className="text-soft">top to ground</span>
      </div>
      <div className="min-h-0 flex-1 overflow-y-auto px-3.5 pb-3">
        {proof && <PlySheets design={design} proof={proof} />}
        <ul className="mt-3 flex flex-col gap-0.5">
          {topFirst.map((ply) => (
            <PlyRow
              key={ply.id}
              design={design}
              ply={ply}
              proof={proof}
              kinds={kinds}
              onHold={() => setHeld(ply.id)}
              onDrop={(event) => dropOn(event, ply)}
            />
          ))}
          <li className="group flex items-center gap-2.5 rounded-[10px] py-1.5 pr-1 pl-2 hover:bg-paper">
            <span className="size-5.5 shrink-0 rounded-md border border-ink/15" style={{ background: design.ground.colour }} />
            <span className="min-w-0 flex-1 leading-snug">
              <span className="block font-semibold">Ground</span>
              <span className="block truncate text-soft">{design.ground.name}</span>
            </span>
            <GroundEditor ground={design.ground} unit={design.unit} />
          </li>
        </ul>
        <Button look="quiet" className="mt-1" onClick={addPly}>
          <Plus size={14} /> Add a ply
        </Button>
      </div>
    </section>
  );
}

export const PliesPanel = heldStill(Panel);

interface RowProps extends Props {
  ply: Ply;
  onHold: () => void;
  onDrop: (event: DragEvent) => void;
}

function PlyRow({ design, ply, proof, kinds, onHold, onDrop }: RowProps) {
  const { ply: chosen, selectPly, change } = useBench();
  const material = design.materials.find((one) => one.id === ply.material);
  const measures = proof?.plies.find((one) => one.id === ply.id);
  const at = design.plies.indexOf(ply);
  const figures = measures
    ? [`${measures.pieces} ${measures.pieces === 1 ? "piece" : "pieces"}`, formatArea(measures.area, design.unit)]
    : ["not worked out"];
  const only = design.plies.every((other) => other.hidden === (other.id !== ply.id));

  return (
    <li
      draggable
      aria-current={chosen === ply.id}
      onDragStart={onHold}
      onDragOver={(event) => event.preventDefault()}
      onDrop={onDrop}
      className="group relative rounded-[10px] hover:bg-paper aria-[current=true]:bg-plum-soft"
    >
      <div className="flex items-center gap-2.5 py-1.5 pr-1 pl-2">
        <span className="size-5.5 shrink-0 rounded-md border border-ink/15" style={{ background: material?.colour }} />
        <button
          type="button"
          onClick={() => selectPly(chosen === ply.id ? null : ply.id)}
          className={`min-w-0 flex-1 rounded text-left leading-snug ${ply.hidden ? "opacity-50" : ""}`}
        >
          <span className="block truncate font-semibold">{ply.name}</span>
          <span className="block truncate text-soft">{material?.name ?? "no material"}</span>
          <span className="flex flex-wrap gap-x-2 whitespace-nowrap text-soft">
            {figures.map((figure) => (
              <span key={figure}>{figure}</span>
            ))}
          </span>
        </button>
        <div className="flex shrink-0">
          <IconButton
            label={ply.hidden ? `Show ${ply.name}` : `Hide ${ply.name}`}
            onClick={() => change((now) => withPly(now, ply.id, (one) => ({ ...one, hidden: !one.hidden })))}
          >
            {ply.hidden ? <EyeOff size={15} /> : <Eye size={15} />}
          </IconButton>
          <PlyEditor design={design} ply={ply} kinds={kinds}>
            <IconButton label={`Material and pieces of ${ply.name}`}>
              <Settings2 size={15} />
            </IconButton>
          </PlyEditor>
        </div>
      </div>
      {chosen === ply.id && (
        <div className="flex items-center gap-1 pb-1.5 pl-9.5">
          <IconButton
            label="Nearer the top"
            disabled={at === design.plies.length - 1}
            onClick={() => change((now) => ({ ...now, plies: moved(now.plies, at, at + 1) }))}
          >
            <ChevronUp size={15} />
          </IconButton>
          <IconButton
            label="Nearer the ground"
            disabled={at === 0}
            onClick={() => change((now) => ({ ...now, plies: moved(now.plies, at, at - 1) }))}
          >
            <ChevronDown size={15} />
          </IconButton>
          <Button
            look="quiet"
            className="h-7 px-2"
            aria-pressed={only}
            onClick={() =>
              change((now) => ({
                ...now,
                plies: now.plies.map((one) => ({ ...one, hidden: only ? false : one.id !== ply.id })),
              }))
            }
          >
            {only ? "Show all" : "Only this one"}
          </Button>
        </div>
      )}
    </li>
  );
}
