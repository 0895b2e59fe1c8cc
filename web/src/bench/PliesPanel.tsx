import { ChevronDown, ChevronUp, Eye, EyeOff, Plus, Settings2 } from "lucide-react";
import { type DragEvent, useState } from "react";
import { knownBasics } from "../api/cache";
import type { Design, Kind, Ply } from "../api/client";
import { formatArea } from "../units";
import { Button } from "../ui/Button";
import { IconButton } from "../ui/IconButton";
import { GroundEditor, PlyEditor } from "./PlyEditor";
import { PlySheets } from "./PlySheets";
import { api } from "../api/client";
import { freeId, mergedPlies, moved, withPly, withResultOn } from "../design/edits";
import { askFor } from "../state/ask";
import { sayProblem } from "../ui/notices";
import { PlyThing } from "./PlyThing";
import { heldStill } from "../state/heldStill";
import { useBench } from "../state/store";
import type { ShownProof } from "../state/useProof";

interface Props {
  design: Design;
  proof: ShownProof | null;
  kinds: Kind[] | undefined;
}

/** The plies from top to ground: as sheets, and as a list to order, merge, hide, and to move things between. */
function Panel({ design, proof, kinds }: Props) {
  const change = useBench((state) => state.change);
  const [held, setHeld] = useState<Held | null>(null);
  const [over, setOver] = useState<Over | null>(null);
  const topFirst = [...design.plies].reverse();
  // What is dragged shows where it would be.
  const ahead = held && over ? dropped(design, held, over) : design;

  function drop() {
    if (held && over) {
      if (over.ply !== NEW) change((now) => dropped(now, held, over));
      else if (held.thing) cutFromOwnPly(held.thing);
    }
    setHeld(null);
    setOver(null);
  }

  function addPly() {
    const id = freeId("p", design.plies.map((ply) => ply.id));
    const material = design.materials[0] ?? knownBasics()?.first_material;
    if (!material) return;
    change((now) => ({
      ...now,
      materials: now.materials.length > 0 ? now.materials : [material],
      plies: [...now.plies, { id, name: `Ply ${now.plies.length + 1}`, material: material.id, typed: true, results: [], also: [], hidden: false }],
    }));
  }

  return (
    <section aria-label="Plies" className="flex min-h-0 w-67 shrink-0 flex-col border-l border-line bg-card">
      <div className="flex items-baseline justify-between px-3.5 pt-3.5 pb-2">
        <h2 className="font-display text-[15px] font-bold">Plies</h2>
        <span className="text-soft">top to ground</span>
      </div>
      <div className="min-h-0 flex-1 overflow-y-auto px-3.5 pb-3">
        {proof && <PlySheets design={ahead} proof={proof} />}
        <ul className="mt-3 flex flex-col gap-0.5">
          {topFirst.map((ply) => (
            <PlyRow
              key={ply.id}
              design={design}
              ply={ply}
              proof={proof}
              kinds={kinds}
              held={held}
              over={over?.ply === ply.id ? over : null}
              onHold={(thing) => setHeld({ ply: ply.id, thing })}
              onOver={(where) => setOver({ ply: ply.id, where })}
              onDrop={drop}
              onEnd={() => {
                setHeld(null);
                setOver(null);
              }}
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
        <Button
          look="quiet"
          className={`mt-1 ${over?.ply === NEW ? "bg-plum-soft" : ""}`}
          onClick={addPly}
          onDragOver={(event) => {
            if (!held?.thing) return;
            event.preventDefault();
            setOver({ ply: NEW, where: "into" });
          }}
          onDrop={(event) => {
            event.preventDefault();
            drop();
          }}
        >
          <Plus size={14} /> {held?.thing ? "On a ply of its own" : "Add a ply"}
        </Button>
      </div>
    </section>
  );
}

export const PliesPanel = heldStill(Panel);

/** What is dragged: a ply, or a thing that is cut from it. */
interface Held {
  ply: string;
  thing: string | null;
}

/** Where it is: above a ply, below it, or on it. */
interface Over {
  ply: string;
  where: "above" | "below" | "into";
}

const NEW = "+";

/** The design with what was dragged where it was dropped: a ply between others or merged with one, a thing on a ply. */
function dropped(design: Design, held: Held, { ply, where }: Over): Design {
  if (held.ply === ply || ply === NEW) return design;
  if (held.thing) return withResultOn(design, ply, held.thing);
  if (where === "into") return mergedPlies(design, held.ply, ply);
  const from = design.plies.findIndex((one) => one.id === held.ply);
  const rest = design.plies.toSpliced(from, 1);
  // The list runs from the top, the plies from the ground up.
  const to = rest.findIndex((one) => one.id === ply) + (where === "above" ? 1 : 0);
  return { ...design, plies: moved(design.plies, from, to) };
}

const cutFromOwnPly = (of: string) =>
  void askFor((design) => api.POST("/api/plies/own", { body: { design, of } })).catch(sayProblem);

interface RowProps extends Props {
  ply: Ply;
  held: Held | null;
  over: Over | null;
  onHold: (thing: string | null) => void;
  onOver: (where: Over["where"]) => void;
  onDrop: () => void;
  onEnd: () => void;
}

/** px along a row's upper and lower edge where what is dropped goes between the rows. */
const EDGE = 14;

/** Whether the pointer is over a row's upper edge, its lower edge, or the row itself. */
function whereIn(event: DragEvent): Over["where"] {
  const { top, bottom } = event.currentTarget.getBoundingClientRect();
  if (event.clientY < top + EDGE) return "above";
  return event.clientY > bottom - EDGE ? "below" : "into";
}

function PlyRow({ design, ply, proof, kinds, held, over, onHold, onOver, onDrop, onEnd }: RowProps) {
  const { ply: chosen, selectPly, change } = useBench();
  const material = design.materials.find((one) => one.id === ply.material);
  const measures = proof?.plies.find((one) => one.id === ply.id);
  const at = design.plies.indexOf(ply);
  const figures = measures
    ? [`${measures.pieces} ${measures.pieces === 1 ? "piece" : "pieces"}`, formatArea(measures.area, design.unit)]
    : ["not worked out"];
  const says = held && over?.where === "into" && held.ply !== ply.id ? (held.thing ? `cut it from ${material?.name ?? ply.name}` : `merge with ${ply.name}`) : null;
  const only = design.plies.every((other) => other.hidden === (other.id !== ply.id));

  return (
    <li
      draggable
      aria-current={chosen === ply.id}
      onDragStart={() => onHold(null)}
      onDragOver={(event) => {
        event.preventDefault();
        onOver(held?.thing ? "into" : whereIn(event));
      }}
      onDrop={(event) => {
        event.preventDefault();
        onDrop();
      }}
      onDragEnd={onEnd}
      className={`group relative rounded-[10px] hover:bg-paper aria-[current=true]:bg-plum-soft ${says ? "outline-2 outline-plum" : ""}`}
    >
      {held && !held.thing && over && over.where !== "into" && held.ply !== ply.id && (
        <span aria-hidden className={`absolute inset-x-1 h-0.5 bg-plum ${over.where === "above" ? "-top-px" : "-bottom-px"}`} />
      )}
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
      <ul aria-label={`Cut from ${ply.name}`} className="flex flex-col gap-1 pr-1 pb-1.5 pl-9.5">
        {ply.results.map((ref) => (
          <PlyThing key={ref} design={design} ply={ply} of={ref} held={held?.thing === ref} onHold={() => onHold(ref)} onOwnPly={() => cutFromOwnPly(ref)} />
        ))}
        {says && <li className="rounded-lg border border-dashed border-plum px-2 py-0.5 text-[12px] font-semibold text-plum">{says}</li>}
      </ul>
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
