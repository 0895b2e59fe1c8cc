/** Where things are ahead of the proof, while a hand has them. */

import type { Box, Line, Place } from "../api/client";
import { anchorOf, extent, isPlaced, shifted } from "../design/placing";
import { resultOf } from "../design/refs";
import { useBench } from "../state/store";
import type { ShownProof } from "../state/useProof";
import { unionOf } from "./snap";

const sameRelation = (a: Place, b: Place) => a.on === b.on && a.across === b.across && a.down === b.down;

/** How far the line has been moved, resized and turned since the proof on screen was made. */
export function aheadOfProof(line: Line, proof: ShownProof): { dx: number; dy: number; sx: number; sy: number; turn: number } {
  const then = proof.design.recipe.find((one) => one.id === line.id);
  if (!isPlaced(line) || !isPlaced(then) || !sameRelation(line.place, then.place)) {
    return { dx: 0, dy: 0, sx: 1, sy: 1, turn: 0 };
  }
  // Moved on the proof: a gap to the left or above shrinks as the thing moves right or down.
  const way = shifted({ ...line.place, x: 0, y: 0 }, 1, 1);
  const [now, before] = [extent(line), extent(then)];
  // What it is held to takes it along.
  const anchor = anchorOf(useBench.getState().design, line.id);
  const along = anchor ? aheadOfProof(anchor, proof) : { dx: 0, dy: 0 };
  return {
    dx: along.dx + way.x * (line.place.x - then.place.x),
    dy: along.dy + way.y * (line.place.y - then.place.y),
    sx: line.place.as_wide ? 1 : now[0] / before[0],
    sy: line.place.as_tall ? 1 : now[1] / before[1],
    turn: line.place.rotate - then.place.rotate,
  };
}

/** What a line turns about, where that is known: its place is the middle it had before it was turned. */
export function pivotOf(line: Line): [number, number] | undefined {
  return isPlaced(line) && !line.place.on ? [line.place.x, line.place.y] : undefined;
}

/** The box of the line's own result, or of all it made of several, where it is now: ahead of the proof while a hand drags. */
export function boxNow(line: Line, proof: ShownProof): Box | null {
  const results = proof.results.filter((result) => result.line === line.id);
  const own = results.filter((result, i) => i === 0 || resultOf(result.ref).includes("/"));
  const box = unionOf(own.flatMap((result) => (result.box ? [result.box as Box] : [])));
  if (!box) return null;
  const { dx, dy, sx, sy } = aheadOfProof(line, proof);
  const [cx, cy] = [(box[0] + box[2]) / 2 + dx, (box[1] + box[3]) / 2 + dy];
  const [w, h] = [((box[2] - box[0]) / 2) * sx, ((box[3] - box[1]) / 2) * sy];
  return [cx - w, cy - h, cx + w, cy + h];
}
