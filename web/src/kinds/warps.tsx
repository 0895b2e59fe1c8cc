import { Shapes } from "lucide-react";
import { useState } from "react";
import { knownKinds } from "../api/cache";
import type { Curve, Design, Line } from "../api/client";
import { useCurves } from "../api/queries";
import { withLine } from "../design/edits";
import { kindOf } from "../design/kindOf";
import { show } from "../design/face";
import { rootOf } from "../design/rails";
import { gesture } from "../state/store";
import { Button } from "../ui/Button";
import { Drawn } from "../ui/Drawn";

type Warp = Extract<Line, { of: string[] }>;

/** Curves to start from, each drawn with her own words: a click takes one, and then it is dragged. */
function StartingCurves({ design, line }: { design: Design; line: Warp }) {
  const [open, setOpen] = useState(() => isFresh(line));
  // What the words are is all that the pictures depend on.
  const roots = line.of.map((ref) => rootOf(design, ref));
  const key = JSON.stringify([line.of, design.recipe.filter((one) => roots.includes(one.id))]);
  const curves = useCurves(design, line, key, open);

  function start(curve: Curve) {
    gesture.change((now) => withLine(now, line.id, (one) => ({ ...one, ...curve.values })));
  }

  return (
    <div className="mt-1.5">
      <Button look="quiet" className="h-7! border border-line bg-card! px-2! text-[12px] hover:border-plum!" aria-expanded={open} onClick={() => setOpen(!open)}>
        <Shapes size={13} /> Curves to start from
      </Button>
      {open && (
        <div role="group" aria-label="Curves to start from" className="mt-1.5 -mr-5 grid grid-cols-3 gap-1.5">
          {curves.isPending && <p className="col-span-3 text-soft">Drawing your words…</p>}
          {curves.data?.map((curve) => (
            <button
              key={curve.name}
              type="button"
              onClick={() => start(curve)}
              className="flex h-17 flex-col items-center justify-between rounded-lg border border-line bg-card p-1 text-[11px] leading-tight hover:border-plum"
            >
              <Drawn d={curve.d} box={curve.box} className="h-9 w-full" />
              {curve.name}
            </button>
          ))}
        </div>
      )}
    </div>
  );
}

/** Whether nothing was set yet but what it works on: then there is a curve to be chosen. */
function isFresh(line: Warp): boolean {
  const blank = kindOf(knownKinds(), line.kind)?.blank ?? {};
  const set = Object.entries(line).filter(([field, value]) => field !== "of" && JSON.stringify(value) !== JSON.stringify(blank[field] ?? value));
  return set.length === 0;
}

show("bend", { Tools: StartingCurves });
show("rails", { Tools: StartingCurves });
show("net", { Tools: StartingCurves });
