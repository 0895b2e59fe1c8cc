import { useState } from "react";
import { knownKinds } from "../api/cache";
import type { Curve, Design, Line } from "../api/client";
import { useCurves } from "../api/queries";
import { withLine } from "../design/edits";
import { kindOf } from "../design/kindOf";
import { show } from "../design/face";
import { rootOf } from "../design/rails";
import { gesture } from "../state/store";
import { Gallery } from "./Gallery";

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

  return <Gallery title="Curves to start from" open={open} onOpen={setOpen} entries={curves.data} waiting="Drawing your words…" onTake={start} />;
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
