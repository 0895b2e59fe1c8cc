import { type PointerEvent, useRef, useState } from "react";
import type { Box, Design } from "../api/client";
import { isPlaced } from "../design/placing";
import { chosenLines, useBench } from "../state/store";
import type { ShownProof } from "../state/useProof";
import type { View } from "./useView";

interface Rectangle {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** A drag over the empty bench chooses what it touches; with Shift that is added. A click lets go. */
export function useMarquee(design: Design, proof: ShownProof | null, view: View) {
  const from = useRef<{ x: number; y: number; also: string[] } | null>(null);
  const [box, setBox] = useState<Rectangle | null>(null);

  function local(event: PointerEvent): [number, number] {
    const area = event.currentTarget.getBoundingClientRect();
    return [event.clientX - area.left, event.clientY - area.top];
  }

  function begin(event: PointerEvent) {
    if (event.button !== 0) return;
    const bench = useBench.getState();
    const [x, y] = local(event);
    from.current = { x, y, also: event.shiftKey ? chosenLines(bench) : [] };
    if (!event.shiftKey) bench.select(null);
    bench.pick(null);
  }

  function move(event: PointerEvent) {
    const start = from.current;
    if (!start || !proof) return;
    const [x, y] = local(event);
    if (!box && Math.hypot(x - start.x, y - start.y) < 4) return;
    const [x0, y0, x1, y1] = [Math.min(x, start.x), Math.min(y, start.y), Math.max(x, start.x), Math.max(y, start.y)];
    setBox({ x: x0, y: y0, width: x1 - x0, height: y1 - y0 });
    const [left, top, right, bottom] = [x0 / view.k + view.x, y0 / view.k + view.y, x1 / view.k + view.x, y1 / view.k + view.y];
    const touched = proof.results
      .filter((result) => {
        const own = result.box as Box | null;
        return own && own[0] < right && own[2] > left && own[1] < bottom && own[3] > top;
      })
      .map((result) => result.line)
      .filter((id) => isPlaced(design.recipe.find((line) => line.id === id)));
    const chosen = [...new Set([...start.also, ...touched])];
    useBench.getState().select(chosen[0] ?? null, chosen.slice(1));
  }

  function end() {
    from.current = null;
    setBox(null);
  }

  return { begin, move, end, box };
}
