import { useMutation } from "@tanstack/react-query";
import { Check, Redo2, Undo2 } from "lucide-react";
import { Checkbox } from "radix-ui";
import { useState } from "react";
import { Link } from "react-router";
import { useStore } from "zustand";
import { type Design, fetchCutFiles, type Finding } from "../api/client";
import { useKinds } from "../api/queries";
import { Button } from "../ui/Button";
import { IconButton } from "../ui/IconButton";
import { say } from "../ui/notices";
import { Pop } from "../ui/Pop";
import { Wordmark } from "../ui/Wordmark";
import { download } from "./download";
import { HistoryPanel } from "./HistoryPanel";
import { KeyMap } from "./KeyMap";
import { PlanButtons } from "./PlanButtons";
import { type Room, Rooms } from "./Rooms";
import { SheetFilesButton } from "./SheetFilesButton";
import { SizePanel } from "./SizePanel";
import { redo, undo } from "../state/undo";
import { gesture, useBench } from "../state/store";
import { stepInWords } from "../design/steps";
import type { SaveState } from "../state/useAutosave";
import type { ShownProof } from "../state/useProof";
import { heldStill } from "../state/heldStill";
import { inUnit } from "../units";

const SAVE_WORDS: Record<SaveState, string> = {
  saved: "saved",
  saving: "saving…",
  waiting: "saving…",
  unsaved: "not saved yet",
  conflict: "changed elsewhere",
  removed: "removed elsewhere",
};

interface Props {
  id: string;
  room: Room;
  design: Design;
  proof: ShownProof | null;
  /** the picture is of an earlier state, since the server could not be asked */
  proofIsOld: boolean;
  saveState: SaveState;
  saveNow: () => Promise<number>;
}

/** Name, size and saved state; undo and redo; and the way out to the cutter. */
function Head({ id, room, design, proof, proofIsOld, saveState, saveNow }: Props) {
  const temporal = useStore(useBench.temporal);
  const kinds = useKinds();
  const box = proof?.bounds;
  const [past, future] = [temporal.pastStates.at(-1)?.design, temporal.futureStates.at(-1)?.design];
  const undone = past && stepInWords(past, design, kinds);
  const redone = future && stepInWords(design, future, kinds);

  return (
    <header className="grid h-13 shrink-0 grid-cols-[minmax(0,1fr)_auto_minmax(0,1fr)] items-center gap-3 border-b border-line bg-card px-4">
      <div className="flex min-w-0 items-center gap-3">
        <Wordmark />
      <span aria-hidden className="text-soft">
        /
      </span>
      <NameField name={design.name} />
      <p className="whitespace-nowrap text-soft">
        {box && (
          <>
            <SizePanel design={design} width={box[2] - box[0]} height={box[3] - box[1]} />
            {" · "}
          </>
        )}
        <span role="status">{SAVE_WORDS[saveState]}</span>
        {proofIsOld && <span role="status"> · proof not up to date</span>}
      </p>
      </div>
      {/* The rooms' names stay where they are from room to room. */}
      <Rooms id={id} />
      <div className="flex items-center justify-end gap-2">
        <IconButton
          label={undone ? `Undo: ${undone}` : "Undo"}
          className="size-8! border border-line"
          disabled={temporal.pastStates.length === 0}
          onClick={undo}
        >
          <Undo2 size={16} />
        </IconButton>
        <IconButton
          label={redone ? `Redo: ${redone}` : "Redo"}
          className="size-8! border border-line"
          disabled={temporal.futureStates.length === 0}
          onClick={redo}
        >
          <Redo2 size={16} />
        </IconButton>
        <HistoryPanel id={id} saveNow={saveNow} />
        <KeyMap />
        {room === "bench" && <ExportPanel id={id} design={design} ready={proof?.cuttable ?? false} findings={proof?.findings ?? []} saveNow={saveNow} />}
        {room === "sheets" && <SheetFilesButton id={id} name={design.name} ready={proof?.cuttable ?? false} saveNow={saveNow} />}
        {room === "press" && <PlanButtons id={id} name={design.name} saveNow={saveNow} />}
      </div>
    </header>
  );
}

function NameField({ name }: { name: string }) {
  return (
    <span className="inline-grid min-w-0 items-center">
      <span aria-hidden className="invisible col-start-1 row-start-1 overflow-hidden px-1.5 font-semibold whitespace-pre">
        {name}
      </span>
      <input
        aria-label="Name of the design"
        value={name}
        size={1}
        maxLength={120}
        onFocus={() => gesture.begin()}
        onBlur={() => gesture.end()}
        onChange={(event) => {
          const next = event.target.value;
          if (next) gesture.change((now) => ({ ...now, name: next }));
        }}
        className="col-start-1 row-start-1 h-7 w-full min-w-0 rounded-md bg-transparent px-1.5 font-semibold hover:bg-plum-soft"
      />
    </span>
  );
}

const FORMATS = [
  { id: "svg", name: "SVG", says: "one a ply, and one with all plies" },
  { id: "dxf", name: "DXF", says: "one a ply" },
];

interface ExportProps {
  id: string;
  design: Design;
  ready: boolean;
  findings: Finding[];
  saveNow: () => Promise<number>;
}

function ExportPanel({ id, design, ready, findings, saveNow }: ExportProps) {
  const open = findings.filter((finding) => finding.level === "look");
  const [chosen, setChosen] = useState(["svg"]);
  const make = useMutation({
    mutationFn: async () => {
      const zip = await fetchCutFiles(id, await saveNow(), chosen);
      download(zip, `${design.name}.zip`);
    },
    onSuccess: () => say(`Cut files of “${design.name}” made, true size.`),
  });
  const mirrored = design.plies.filter((ply) => design.materials.some((m) => m.id === ply.material && m.mirrored));

  return (
    <Pop
      label="Export cut files"
      width={300}
      trigger={<Button look="main">Export cut files</Button>}
      onOpenChange={() => make.reset()}
    >
      <ul className="flex flex-col">
        {FORMATS.map((format) => (
          <li key={format.id}>
            <label className="flex cursor-pointer items-center gap-2 rounded-lg px-2 py-1.5 hover:bg-plum-soft">
              <Checkbox.Root
                checked={chosen.includes(format.id)}
                onCheckedChange={(on) =>
                  setChosen(on === true ? [...chosen, format.id] : chosen.filter((one) => one !== format.id))
                }
                className="grid size-4.5 place-items-center rounded border border-soft bg-card data-[state=checked]:border-plum data-[state=checked]:bg-plum"
              >
                <Checkbox.Indicator>
                  <Check size={12} className="text-card" />
                </Checkbox.Indicator>
              </Checkbox.Root>
              <span className="font-semibold">{format.name}</span>
              <span className="text-soft">{format.says}</span>
            </label>
          </li>
        ))}
      </ul>
      <p className="mt-2 text-soft">
        True size in millimetres, one origin for all plies.{" "}
        {mirrored.length > 0 && `Mirrored: ${mirrored.map((ply) => ply.name).join(", ")}.`}
      </p>
      {open.length > 0 && (
        <div className="mt-2 text-[#7a5200]">
          <p className="font-semibold">{open.length === 1 ? "1 thing needs a look:" : `${open.length} things need a look:`}</p>
          <ul className="list-disc pl-4.5">
            {open.slice(0, 4).map((finding) => (
              <li key={finding.text}>{inUnit(finding.text, design.unit)}</li>
            ))}
          </ul>
        </div>
      )}
      <p className="mt-2 text-soft">
        PDF, HP-GL and files by the sheet:{" "}
        <Link to={`/designs/${id}/sheets`} className="font-semibold text-plum underline">
          Sheets
        </Link>
      </p>
      {!ready && (
        <p className="mt-2 text-brick">Not cut-ready yet: see what Cut check says along the foot.</p>
      )}
      {make.isError && (
        <p role="alert" className="mt-2 text-brick">
          {make.error.message}
        </p>
      )}
      <Button
        look="main"
        className="mt-3 w-full"
        disabled={!ready || chosen.length === 0 || make.isPending}
        onClick={() => make.mutate()}
      >
        {make.isPending ? "Making the files…" : "Download the zip"}
      </Button>
    </Pop>
  );
}

export const Header = heldStill(Head);
