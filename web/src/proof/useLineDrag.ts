import { type PointerEvent, useRef } from "react";
import { knownKinds } from "../api/cache";
import type { Box, Design, Line } from "../api/client";
import { withCopies } from "../design/copies";
import { isPlaced, moversOf, withMoved, withPlace } from "../design/placing";
import { chosenLines, gesture, useBench } from "../state/store";
import type { ShownProof } from "../state/useProof";
import { boxNow } from "./ahead";
import { surroundings } from "./around";
import { type Around, REACH, settle, unionOf } from "./snap";
import type { View } from "./useView";

const round = (mm: number) => Math.round(mm * 10) / 10;

interface Drag {
  x: number;
  y: number;
  moved: boolean;
  /** the design as it was when things were taken up, and which of its lines are dragged */
  design: Design;
  lines: string[];
  start: Box;
  around: Around;
}

/** A hand takes hold of a line, or of all that are chosen, and moves them; with Alt it moves copies. */
export function useLineDrag(proof: ShownProof, view: View) {
  const drag = useRef<Drag | null>(null);
  /** whether the last press ended as a drag: the click that follows it means nothing */
  const dragged = useRef(false);

  /** `moves`: what goes along where the line itself has no place, as it shapes others. */
  function begin(event: PointerEvent, line: Line, moves?: Line) {
    if (event.button !== 0 || !isPlaced(moves ?? line)) return;
    event.stopPropagation();
    dragged.current = false;
    const bench = useBench.getState();
    if (event.shiftKey) {
      bench.selectAlso(line.id);
      return;
    }
    if (!chosenLines(bench).includes(line.id)) bench.select(line.id);
    const { design } = useBench.getState();
    const ids = chosenLines(useBench.getState()).map((id) => (id === line.id && moves ? moves.id : id));
    const free = design.recipe.filter((one) => ids.includes(one.id) && isPlaced(one) && !one.locked);
    const lines = free.map((one) => one.id);
    const start = unionOf(free.map((one) => boxNow(one, proof)).filter((box) => box !== null));
    if (!start) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const around = surroundings(design, proof, lines, view);
    drag.current = { x: event.clientX, y: event.clientY, moved: false, design, lines, start, around };
  }

  function move(event: PointerEvent) {
    const from = drag.current;
    if (!from) return;
    const [px, py] = [event.clientX - from.x, event.clientY - from.y];
    if (!from.moved && Math.hypot(px, py) < 4) return;
    if (!from.moved) {
      gesture.begin();
      if (event.altKey) [from.design, from.lines] = copied(from.lines);
    }
    from.moved = true;
    const { guided, setMarks } = useBench.getState();
    let [dx, dy] = [px / view.k, py / view.k];
    if (guided && !event.ctrlKey && !event.metaKey) {
      const settled = settle(from.start, dx, dy, from.around, REACH / view.k);
      // What settles on nothing stays on round figures.
      [dx, dy] = [settled.dx === dx ? round(dx) : settled.dx, settled.dy === dy ? round(dy) : settled.dy];
      setMarks(settled.marks);
    } else {
      setMarks(null);
      [dx, dy] = [round(dx), round(dy)];
    }
    // What moves is the same all along; everything else is as it is now.
    const moved = withMoved(from.design, moversOf(from.design, from.lines, knownKinds()), dx, dy);
    const places = new Map(moved.recipe.flatMap((line) => (isPlaced(line) ? [[line.id, line.place]] : [])));
    gesture.change((now) => from.lines.reduce((next, id) => withPlace(next, id, (place) => places.get(id) ?? place), now));
  }

  function end() {
    if (!drag.current) return;
    if (drag.current.moved) gesture.end();
    dragged.current = drag.current.moved;
    drag.current = null;
    useBench.getState().setMarks(null);
  }

  return { begin, move, end, dragged };
}

/** Copies of the lines, chosen in their stead, and the design with them. */
function copied(lines: string[]): [Design, string[]] {
  const [next, copies] = withCopies(useBench.getState().design, lines, knownKinds());
  gesture.change(() => next);
  useBench.getState().select(copies[0] ?? null, copies.slice(1));
  return [next, copies];
}
