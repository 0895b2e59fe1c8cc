import { type PointerEvent, useRef } from "react";
import type { Box } from "../api/client";
import { gesture } from "../state/store";
import type { Scaling } from "./snap";
import type { View } from "./useView";

/** A pull on a handle; `free` while the key is held that lets nothing settle. */
export interface Pull extends Scaling {
  free: boolean;
}

interface Props {
  box: Box;
  /** what it turns about, if not the middle of its box */
  pivot?: [number, number] | undefined;
  view: View;
  /** none while a drag says its own figures there */
  label: string | null;
  /** what is said of the frame's handles in tests and to her */
  name: string;
  onBegin: () => void;
  onEnd?: () => void;
  /** only its corners can be pulled: what is in it stays in proportion */
  proportional?: boolean;
  /** none: it cannot be resized by hand */
  onPull?: ((pull: Pull) => void) | undefined;
  /** degrees since the handle was taken; none: it cannot be turned by hand */
  onTurn?: ((degrees: number, step: number) => void) | undefined;
}

const HANDLES = [
  [0, 0, "nwse-resize"],
  [0.5, 0, "ns-resize"],
  [1, 0, "nesw-resize"],
  [1, 0.5, "ew-resize"],
  [1, 1, "nwse-resize"],
  [0.5, 1, "ns-resize"],
  [0, 1, "nesw-resize"],
  [0, 0.5, "ew-resize"],
] as const;

const middleOf = (box: Box): [number, number] => [(box[0] + box[2]) / 2, (box[1] + box[3]) / 2];

/** A frame with handles: corners scale in proportion, sides stretch, the knob turns. */
export function Frame({ box, pivot, view, label, name, proportional = false, onBegin, onEnd, onPull, onTurn }: Props) {
  const pull = useRef<{ anchor: [number, number]; from: [number, number] } | null>(null);
  // Boxes of turning things change as they turn: what is turned about is settled when the knob is taken.
  const turn = useRef<{ about: [number, number]; from: number } | null>(null);
  const left = (box[0] - view.x) * view.k;
  const top = (box[1] - view.y) * view.k;
  const right = (box[2] - view.x) * view.k;
  const bottom = (box[3] - view.y) * view.k;
  const width = 7 * (label?.length ?? 0) + 22;

  function place(event: PointerEvent): [number, number] {
    const area = event.currentTarget.closest("svg")?.getBoundingClientRect();
    return [(event.clientX - (area?.left ?? 0)) / view.k + view.x, (event.clientY - (area?.top ?? 0)) / view.k + view.y];
  }

  function take(event: PointerEvent): boolean {
    if (event.button !== 0) return false;
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    gesture.begin();
    onBegin();
    return true;
  }

  function pulled(event: PointerEvent, fx: number, fy: number) {
    const held = pull.current;
    if (!held) return;
    const [x, y] = place(event);
    const { anchor, from } = held;
    const free = event.ctrlKey || event.metaKey;
    const share = (now: number, then: number, fixed: number) => Math.max(0.02, Math.abs(now - fixed) / Math.max(Math.abs(then - fixed), 0.1));
    if (fx !== 0.5 && fy !== 0.5) {
      const reach = Math.hypot(from[0] - anchor[0], from[1] - anchor[1]);
      const ratio = Math.max(0.02, Math.hypot(x - anchor[0], y - anchor[1]) / Math.max(reach, 0.1));
      onPull?.({ fx, fy, sx: ratio, sy: ratio, free });
    } else if (fx !== 0.5) onPull?.({ fx, fy, sx: share(x, from[0], anchor[0]), sy: 1, free });
    else onPull?.({ fx, fy, sx: 1, sy: share(y, from[1], anchor[1]), free });
  }

  function angle(event: PointerEvent, about: [number, number]): number {
    const [x, y] = place(event);
    return (Math.atan2(y - about[1], x - about[0]) * 180) / Math.PI;
  }

  function end() {
    if (pull.current || turn.current) {
      gesture.end();
      onEnd?.();
    }
    pull.current = null;
    turn.current = null;
  }

  return (
    <g>
      <rect x={left} y={top} width={right - left} height={bottom - top} className="pointer-events-none fill-none stroke-plum" strokeWidth={1.5} />
      {onPull &&
        HANDLES.filter(([fx, fy]) => !proportional || (fx !== 0.5 && fy !== 0.5)).map(([fx, fy, cursor]) => (
          <rect
            key={`${fx} ${fy}`}
            data-handle={`${name} ${fx} ${fy}`}
            x={left + fx * (right - left) - (fy === 0.5 ? 3.5 : 4.5)}
            y={top + fy * (bottom - top) - (fx === 0.5 ? 3.5 : 4.5)}
            width={fy === 0.5 ? 7 : 9}
            height={fx === 0.5 ? 7 : 9}
            rx={fx === 0.5 || fy === 0.5 ? 3.5 : 2}
            className="fill-card stroke-plum"
            strokeWidth={1.5}
            style={{ cursor }}
            onPointerDown={(event) => {
              if (!take(event)) return;
              const anchor: [number, number] = [box[0] + (1 - fx) * (box[2] - box[0]), box[1] + (1 - fy) * (box[3] - box[1])];
              pull.current = { anchor, from: place(event) };
            }}
            onPointerMove={(event) => pulled(event, fx, fy)}
            onPointerUp={end}
            onPointerCancel={end}
            onLostPointerCapture={end}
          >
            <title>{fx === 0.5 || fy === 0.5 ? "Stretch" : "Resize in proportion"}</title>
          </rect>
        ))}
      {onTurn && (
        <>
          <line x1={(left + right) / 2} x2={(left + right) / 2} y1={top} y2={top - 22} className="pointer-events-none stroke-plum" strokeWidth={1.5} />
          <circle
            data-handle={`${name} turn`}
            cx={(left + right) / 2}
            cy={top - 27}
            r={5.5}
            className="cursor-grab fill-card stroke-plum"
            strokeWidth={1.5}
            onPointerDown={(event) => {
              if (!take(event)) return;
              const about = pivot ?? middleOf(box);
              turn.current = { about, from: angle(event, about) };
            }}
            onPointerMove={(event) => {
              if (turn.current) onTurn(angle(event, turn.current.about) - turn.current.from, event.shiftKey ? 15 : 1);
            }}
            onPointerUp={end}
            onPointerCancel={end}
            onLostPointerCapture={end}
          >
            <title>Turn; Shift by 15°</title>
          </circle>
        </>
      )}
      {label && (
        <g transform={`translate(${(left + right) / 2} ${bottom + 24})`} className="pointer-events-none">
          <rect x={-width / 2} y={-11} width={width} height={21} rx={10} className="fill-plum" />
          <text textAnchor="middle" y={4} className="fill-card text-[11.5px] font-semibold">
            {label}
          </text>
        </g>
      )}
    </g>
  );
}
