import { Focus, Maximize, Minus, Plus, Ruler, X } from "lucide-react";
import type { Design } from "../api/client";
import { gesture, useBench } from "../state/store";
import { NumberValue } from "../fields/NumberValue";
import { lengthIn } from "../units";
import { Button } from "../ui/Button";
import { IconButton } from "../ui/IconButton";
import { Pop } from "../ui/Pop";
import { Toggle } from "../ui/Toggle";
import { NEARER, TRUE_SIZE } from "./useView";
import { heldStill } from "../state/heldStill";

interface Props {
  design: Design;
  k: number;
  zoomBy: (factor: number) => void;
  zoomTo: (k: number) => void;
  onShowChosen: (() => void) | null;
  onShowAll: () => void;
}

/** How near one looks, and what helps to place things. */
function Bar({ design, k, zoomBy, zoomTo, onShowChosen, onShowAll }: Props) {
  const percent = Math.round((100 * k) / TRUE_SIZE);
  return (
    <div className="absolute right-3 bottom-3 flex items-center gap-0.5 rounded-lg border border-line bg-card p-0.5">
      <GuidesPop design={design} />
      <IconButton label="Smaller" onClick={() => zoomBy(1 / NEARER)}>
        <Minus size={15} />
      </IconButton>
      <button
        type="button"
        aria-label={`Show at true size; now ${percent} %`}
        className="h-7 min-w-12 rounded-md px-1 tabular-nums hover:bg-plum-soft"
        onClick={() => zoomTo(TRUE_SIZE)}
      >
        {percent} %
      </button>
      <IconButton label="Larger" onClick={() => zoomBy(NEARER)}>
        <Plus size={15} />
      </IconButton>
      <IconButton label="Show what is chosen" disabled={!onShowChosen} onClick={() => onShowChosen?.()}>
        <Focus size={15} />
      </IconButton>
      <IconButton label="Show everything" onClick={onShowAll}>
        <Maximize size={15} />
      </IconButton>
    </div>
  );
}

const SIDES = { x: "from the left", y: "from the top" } as const;

/** Guides and the grid, by number and by keyboard. */
function GuidesPop({ design }: { design: Design }) {
  const { guided, setGuided, gridShown, showGrid } = useBench();
  const set = (along: "x" | "y", list: number[]) => gesture.change((now) => ({ ...now, guides: { ...now.guides, [along]: list } }));
  return (
    <Pop
      label="Guides and grid"
      side="top"
      width={270}
      trigger={
        <IconButton label="Guides and grid">
          <Ruler size={15} />
        </IconButton>
      }
    >
      <div className="flex flex-col gap-2.5">
        <Toggle label="Settle on guides while dragging" on={guided} onChange={setGuided} />
        <Toggle label="Grid" on={gridShown} onChange={showGrid} />
        {(["x", "y"] as const).map((along) => (
          <div key={along}>
            <div className="flex items-center justify-between">
              <span>{along === "x" ? "Upright guides" : "Level guides"}</span>
              <Button look="quiet" className="h-7 px-2" onClick={() => set(along, [...design.guides[along], 0])}>
                <Plus size={13} /> Add
              </Button>
            </div>
            <ul>
              {design.guides[along].map((at, index) => (
                <li key={index} className="flex items-center justify-between py-0.5 pl-2">
                  <span>
                    <NumberValue
                      label={`Guide ${index + 1} ${SIDES[along]}`}
                      value={at}
                      as={lengthIn(design.unit)}
                      low={-10_000}
                      high={10_000}
                      step={1}
                      onChange={(mm) => set(along, design.guides[along].with(index, mm))}
                    />{" "}
                    {along === "x" ? "right of the middle" : "below the middle"}
                  </span>
                  <IconButton label={`Remove guide ${index + 1}`} onClick={() => set(along, design.guides[along].toSpliced(index, 1))}>
                    <X size={13} />
                  </IconButton>
                </li>
              ))}
            </ul>
          </div>
        ))}
        <p className="text-soft">Guides can be pulled out of the rulers too. Ctrl held while dragging lets nothing settle.</p>
      </div>
    </Pop>
  );
}

export const ViewBar = heldStill(Bar);
