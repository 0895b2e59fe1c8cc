import { type PointerEvent, useRef } from "react";
import type { Box, Design, Line } from "../api/client";
import { chosenLines, gesture, isPlaced, shifted, useBench, withCopy, withPlace } from "../bench/store";
import type { ShownProof } from "../bench/useProof";
import { boxNow } from "./Selection";
import { type Around, settle, unionOf } from "./snap";
import { gridStep } from "./grid";
import type { View } from "./useView";

/** How near a thing has to come to what it settles on, in pixels. */
const REACH = 6;

const tidy = (mm: number) => Math.round(mm * 1000) / 1000;
const round = (mm: number) => Math.round(mm * 10) / 10;

interface Drag {
  x: number;
  y: number;
  moved: boolean;
  /** what is dragged, as it was when it was taken up */
  lines: Line[];
  start: Box;
  around: Around;
}

/** What stays while some lines are dragged, and what the dragged ones bring to be lined up with it. */
export function surroundings(design: Design, proof: ShownProof, dragged: string[], grid: number | null): Around {
  const stays = proof.results.filter((result) => result.box && !dragged.includes(result.line));
  const middle = design.ground.width && design.ground.height ? [design.ground.width / 2, design.ground.height / 2] : [];
  const [w, h] = middle;
  const levels = stays.flatMap((result) => (proof.levels[result.line] ?? []).map((at) => ({ at, of: result.box as Box })));
  return {
    boxes: stays.map((result) => result.box as Box),
    levels,
    own: dragged.flatMap((id) => proof.levels[id] ?? []),
    guides: {
      x: [...design.guides.x, 0, ...(w === undefined ? [] : [-w, w])],
      y: [...design.guides.y, 0, ...(h === undefined ? [] : [-h, h])],
    },
    grid,
  };
}

/** A hand takes hold of a line, or of all that are chosen, and moves them; with Alt it moves copies. */
export function useLineDrag(proof: ShownProof, view: View) {
  const drag = useRef<Drag | null>(null);
  /** whether the last press ended as a drag: the click that follows it means nothing */
  const dragged = useRef(false);

  function begin(event: PointerEvent, line: Line) {
    if (event.button !== 0 || !isPlaced(line)) return;
    event.stopPropagation();
    dragged.current = false;
    const bench = useBench.getState();
    if (event.shiftKey) {
      bench.selectAlso(line.id);
      return;
    }
    if (!chosenLines(bench).includes(line.id)) bench.select(line.id);
    const { design, gridShown } = useBench.getState();
    const ids = chosenLines(useBench.getState());
    const lines = design.recipe.filter((one) => ids.includes(one.id) && isPlaced(one) && !one.locked);
    const start = unionOf(lines.flatMap((one) => [boxNow(one, proof)]).filter((box) => box !== null));
    if (!start) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const around = surroundings(design, proof, ids, gridShown ? gridStep(design.unit, view.k) : null);
    drag.current = { x: event.clientX, y: event.clientY, moved: false, lines, start, around };
  }

  function move(event: PointerEvent) {
    const from = drag.current;
    if (!from) return;
    const [px, py] = [event.clientX - from.x, event.clientY - from.y];
    if (!from.moved && Math.hypot(px, py) < 4) return;
    if (!from.moved) {
      gesture.begin();
      if (event.altKey) from.lines = copied(from.lines);
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
    gesture.change((now) => from.lines.reduce((design, line) => withMoved(design, line, dx, dy), now));
  }

  function end() {
    if (drag.current?.moved) gesture.end();
    dragged.current = drag.current?.moved ?? false;
    drag.current = null;
    useBench.getState().setMarks(null);
  }

  return { begin, move, end, dragged };
}

function withMoved(design: Design, line: Line, dx: number, dy: number): Design {
  if (!isPlaced(line)) return design;
  const place = shifted(line.place, dx, dy);
  return withPlace(design, line.id, () => ({ ...place, x: tidy(place.x), y: tidy(place.y) }));
}

/** Copies of the lines, chosen in their stead. */
function copied(lines: Line[]): Line[] {
  const copies: string[] = [];
  gesture.change((now) =>
    lines.reduce((design, line) => {
      const [next, copy] = withCopy(design, line.id);
      copies.push(copy);
      return next;
    }, now),
  );
  useBench.getState().select(copies[0] ?? null, copies.slice(1));
  return useBench.getState().design.recipe.filter((one) => copies.includes(one.id));
}
