import { type PointerEvent, useRef } from "react";
import type { Box, Design, Line, Place } from "../api/client";
import { gesture, isPlaced, scaledLine, shifted, withLine, withPlace } from "../bench/store";
import { within360 } from "../bench/useKeys";
import type { ShownProof } from "../bench/useProof";
import { formatSize } from "../units";
import type { View } from "./useView";

interface Props {
  design: Design;
  line: Line;
  proof: ShownProof;
  view: View;
}

const CORNERS = [
  [0, 0, "nwse-resize"],
  [0.5, 0, "ns-resize"],
  [1, 0, "nesw-resize"],
  [1, 0.5, "ew-resize"],
  [1, 1, "nwse-resize"],
  [0.5, 1, "ns-resize"],
  [0, 1, "nesw-resize"],
  [0, 0.5, "ew-resize"],
] as const;

function sizeOf(line: Line): number {
  if (line.kind === "letter" || line.kind === "art") return line.size;
  return line.kind === "shape" ? line.width : 1;
}

const sameRelation = (a: Place, b: Place) => a.on === b.on && a.across === b.across && a.down === b.down;

/** How far the line has been moved and scaled since the proof on screen was made. */
export function aheadOfProof(line: Line, proof: ShownProof) {
  const then = proof.design.recipe.find((one) => one.id === line.id);
  if (!isPlaced(line) || !isPlaced(then) || !sameRelation(line.place, then.place)) {
    return { dx: 0, dy: 0, ratio: 1, turn: 0 };
  }
  // Moved on the proof: a gap to the left or above shrinks as the thing moves right or down.
  const way = shifted({ ...line.place, x: 0, y: 0 }, 1, 1);
  return {
    dx: way.x * (line.place.x - then.place.x),
    dy: way.y * (line.place.y - then.place.y),
    ratio: sizeOf(line) / sizeOf(then),
    turn: line.place.rotate - then.place.rotate,
  };
}

/** The box of the line's own result where it is now, ahead of the proof while a hand drags. */
export function boxNow(line: Line, proof: ShownProof): Box | null {
  const box = proof.results.find((result) => result.line === line.id)?.box as Box | null | undefined;
  if (!box) return null;
  const { dx, dy, ratio } = aheadOfProof(line, proof);
  const [cx, cy] = [(box[0] + box[2]) / 2 + dx, (box[1] + box[3]) / 2 + dy];
  const [w, h] = [((box[2] - box[0]) / 2) * ratio, ((box[3] - box[1]) / 2) * ratio];
  return [cx - w, cy - h, cx + w, cy + h];
}

/** The chosen line's frame: handles that scale in proportion, and its size. */
export function Selection({ design, line, proof, view }: Props) {
  const drag = useRef<{ anchor: [number, number]; reach: number; line: Line; box: Box } | null>(null);
  const box = boxNow(line, proof);
  if (!box) return null;
  const toScreen = (x: number, y: number): [number, number] => [(x - view.x) * view.k, (y - view.y) * view.k];
  const [left, top] = toScreen(box[0], box[1]);
  const [right, bottom] = toScreen(box[2], box[3]);
  const label = formatSize(box[2] - box[0], box[3] - box[1], design.unit);
  const width = 7 * label.length + 22;

  function pointer(event: PointerEvent): [number, number] {
    const area = event.currentTarget.closest("svg")?.getBoundingClientRect();
    return [(event.clientX - (area?.left ?? 0)) / view.k + view.x, (event.clientY - (area?.top ?? 0)) / view.k + view.y];
  }

  function begin(event: PointerEvent, fx: number, fy: number) {
    if (!box || event.button !== 0) return;
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    const anchor: [number, number] = [box[0] + (1 - fx) * (box[2] - box[0]), box[1] + (1 - fy) * (box[3] - box[1])];
    const [x, y] = pointer(event);
    drag.current = { anchor, reach: Math.hypot(x - anchor[0], y - anchor[1]), line, box };
    gesture.begin();
  }

  function move(event: PointerEvent) {
    const from = drag.current;
    if (!from || !isPlaced(from.line)) return;
    const [x, y] = pointer(event);
    const wanted = Math.max(0.02, Math.hypot(x - from.anchor[0], y - from.anchor[1]) / Math.max(from.reach, 0.1));
    const scaled = scaledLine(from.line, wanted);
    // Sizes are rounded to a tenth, so what counts is the ratio that came of it.
    const ratio = sizeOf(scaled) / sizeOf(from.line);
    const cx = (from.box[0] + from.box[2]) / 2;
    const cy = (from.box[1] + from.box[3]) / 2;
    // Only where middles count does the middle have to move for the opposite handle to stay.
    const held = from.line.place;
    const place = shifted(
      held,
      held.on && held.across !== "middle" ? 0 : (from.anchor[0] - cx) * (1 - ratio),
      held.on && held.down !== "middle" ? 0 : (from.anchor[1] - cy) * (1 - ratio),
    );
    gesture.change((now) => withLine(now, line.id, () => ({ ...scaled, place }) as Line));
  }

  function end() {
    drag.current = null;
    gesture.end();
  }

  return (
    <g>
      <rect
        x={left}
        y={top}
        width={right - left}
        height={bottom - top}
        className="pointer-events-none fill-none stroke-plum"
        strokeWidth={1.5}
      />
      {isPlaced(line) &&
        CORNERS.map(([fx, fy, cursor]) => (
          <rect
            key={`${fx} ${fy}`}
            data-handle={`${fx} ${fy}`}
            x={left + fx * (right - left) - 4.5}
            y={top + fy * (bottom - top) - 4.5}
            width={9}
            height={9}
            rx={2}
            className="fill-card stroke-plum"
            strokeWidth={1.5}
            style={{ cursor }}
            onPointerDown={(event) => begin(event, fx, fy)}
            onPointerMove={move}
            onPointerUp={end}
            onPointerCancel={end}
          />
        ))}
      {isPlaced(line) && <TurnHandle line={line} x={(left + right) / 2} top={top} middle={(top + bottom) / 2} />}
      <g transform={`translate(${(left + right) / 2} ${bottom + 24})`} className="pointer-events-none">
        <rect x={-width / 2} y={-11} width={width} height={21} rx={10} className="fill-plum" />
        <text textAnchor="middle" y={4} className="fill-card text-[11.5px] font-semibold">
          {label}
        </text>
      </g>
    </g>
  );
}

/** Turns the chosen thing about its middle: by 1 degree, by 15 with Shift. */
function TurnHandle({ line, x, top, middle }: { line: Line; x: number; top: number; middle: number }) {
  const drag = useRef<{ angle: number; rotate: number } | null>(null);

  function angleAt(event: PointerEvent): number {
    const area = event.currentTarget.closest("svg")?.getBoundingClientRect();
    return (Math.atan2(event.clientY - (area?.top ?? 0) - middle, event.clientX - (area?.left ?? 0) - x) * 180) / Math.PI;
  }

  return (
    <g>
      <line x1={x} x2={x} y1={top} y2={top - 22} className="pointer-events-none stroke-plum" strokeWidth={1.5} />
      <circle
        data-handle="turn"
        cx={x}
        cy={top - 27}
        r={5.5}
        className="cursor-grab fill-card stroke-plum"
        strokeWidth={1.5}
        onPointerDown={(event) => {
          if (event.button !== 0 || !isPlaced(line)) return;
          event.stopPropagation();
          event.currentTarget.setPointerCapture(event.pointerId);
          drag.current = { angle: angleAt(event), rotate: line.place.rotate };
          gesture.begin();
        }}
        onPointerMove={(event) => {
          const from = drag.current;
          if (!from) return;
          const step = event.shiftKey ? 15 : 1;
          const rotate = within360(Math.round((from.rotate + angleAt(event) - from.angle) / step) * step);
          gesture.change((now) => withPlace(now, line.id, (place) => ({ ...place, rotate })));
        }}
        onPointerUp={() => {
          drag.current = null;
          gesture.end();
        }}
        onPointerCancel={() => {
          drag.current = null;
          gesture.end();
        }}
      >
        <title>Turn; Shift by 15°</title>
      </circle>
    </g>
  );
}
