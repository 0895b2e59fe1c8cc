import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from "react";
import type { Design, Handle, Line, Shaping } from "../api/client";
import { isTwin, listOf, pulledTo, settled, withCorner, withNumber, withoutPoint, withPointAfter, withPointsMoved } from "../design/shaping";
import { gesture, useBench } from "../state/store";
import { DEGREES, lengthIn, PERCENT, PLAIN, type Reading } from "../units";
import type { View } from "./useView";

interface Props {
  design: Design;
  line: Line;
  shaping: Shaping;
  view: View;
}

interface Drag {
  handle: Handle;
  /** all handles as they were when it was taken: what is pulled is counted from there */
  handles: Handle[];
  pulled: Handle[];
  x: number;
  y: number;
  /** the design before, to be put back by Escape */
  before: Design;
  moved: boolean;
}

const RADIUS = 6.5;
/** px within which a handle settles on level, on symmetric or on a round figure */
const REACH = 5;
const KEYS: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

function reading(handle: Handle, design: Design): Reading {
  return { length: lengthIn(design.unit), angle: DEGREES, number: PLAIN, percent: PERCENT }[handle.reads];
}

/** The curves of a chosen line and the handles on them: each pulls a value of its sentence. */
export function ShapingLayer({ design, line, shaping, view }: Props) {
  const drag = useRef<Drag | null>(null);
  /** which handle is held: two may pull the same value */
  const [taken, setTaken] = useState<{ index: number; value: string } | null>(null);
  /** points chosen to be pulled together */
  const [together, setTogether] = useState<string[]>([]);
  const { handles, curves } = shaping;
  const spot = ([x, y]: [number, number]) => [(x - view.x) * view.k, (y - view.y) * view.k] as const;

  useEffect(() => {
    const putBack = (event: globalThis.KeyboardEvent) => {
      const from = drag.current;
      if (event.key !== "Escape" || !from) return;
      event.stopImmediatePropagation();
      useBench.getState().change(() => from.before);
      finish();
    };
    addEventListener("keydown", putBack, true);
    return () => removeEventListener("keydown", putBack, true);
  });

  function take(event: PointerEvent, handle: Handle, index: number) {
    if (event.button !== 0 || line.locked) return;
    event.stopPropagation();
    if (event.shiftKey && listOf(handle)) {
      setTogether((now) => (now.includes(handle.value) ? now.filter((one) => one !== handle.value) : [...now, handle.value]));
      return;
    }
    event.currentTarget.setPointerCapture(event.pointerId);
    const group = together.includes(handle.value) ? handles.filter((one) => together.includes(one.value)) : [handle];
    if (!together.includes(handle.value)) setTogether([]);
    drag.current = { handle, handles, pulled: group, x: event.clientX, y: event.clientY, before: useBench.getState().design, moved: false };
    setTaken({ index, value: handle.value });
  }

  function pull(event: PointerEvent) {
    const from = drag.current;
    if (!from) return;
    const [dx, dy] = [(event.clientX - from.x) / view.k, (event.clientY - from.y) / view.k];
    if (!from.moved && Math.hypot(dx, dy) * view.k < 2) return;
    if (!from.moved) gesture.begin();
    from.moved = true;
    if (listOf(from.handle)) gesture.change((now) => withPointsMoved(now, line.id, from.handles, from.pulled, dx, dy));
    else {
      const pulled = pulledTo(from.handle, dx, dy);
      const value = useBench.getState().guided && !event.altKey ? settled(pulled, from.handle, from.handles, REACH / view.k) : pulled;
      gesture.change((now) => withNumber(now, line.id, from.handle, value));
    }
  }

  function finish() {
    if (drag.current?.moved) gesture.end();
    drag.current = null;
    setTaken(null);
  }

  function onKey(event: KeyboardEvent, handle: Handle) {
    const way = KEYS[event.key];
    const point = listOf(handle);
    if (point && handle.grows && (event.key === "Delete" || event.key === "Backspace")) {
      gesture.change((now) => withoutPoint(now, line.id, handles, handle));
    } else if (point && handle.corners && event.key === "c" && !event.ctrlKey && !event.metaKey) {
      gesture.change((now) => withCorner(now, line.id, handles, handle));
    } else if (point && handle.grows && event.key === "Enter") {
      gesture.change((now) => withPointAfter(now, line.id, handles, handle));
    } else if (way && !line.locked) {
      const by = event.shiftKey ? 10 : 1;
      const group = together.includes(handle.value) ? handles.filter((one) => together.includes(one.value)) : [handle];
      gesture.burst(`handle ${line.id} ${handle.value}`, () => {
        if (point) gesture.change((now) => withPointsMoved(now, line.id, handles, group, way[0] * by, way[1] * by));
        else gesture.change((now) => withNumber(now, line.id, handle, (handle.now[0] ?? 0) + (way[0] - way[1]) * by * stepOf(handle)));
      });
    } else return;
    event.preventDefault();
    event.stopPropagation();
  }

  // Of a corner's two points the one that goes on from it is taken hold of; by its place among those that are
  // drawn it stays the same mark, and keeps the focus, as it is made a corner or smooth.
  const drawn = handles.map((handle, i) => ({ handle, i })).filter(({ handle, i }) => !(handle.corners && isTwin(handle, handles[i + 1])));

  // A handle that makes a rail another shape is another one then.
  const alone = ({ value }: Handle) => handles.filter((one) => one.value === value).length === 1;

  return (
    <g>
      <g transform={`scale(${view.k}) translate(${-view.x} ${-view.y})`} className="pointer-events-none fill-none">
        {curves.map((d, i) => (
          <g key={i}>
            <path d={d} className="stroke-card/80" strokeWidth={4} vectorEffect="non-scaling-stroke" />
            <path d={d} className="stroke-plum" strokeWidth={1.75} vectorEffect="non-scaling-stroke" />
          </g>
        ))}
      </g>
      {handles.map((handle, i) => {
        const next = handles[i + 1];
        if (!handle.grows || !next || listOf(next)?.list !== listOf(handle)?.list || isTwin(handle, next)) return null;
        const [x, y] = spot([(handle.at[0] + next.at[0]) / 2, (handle.at[1] + next.at[1]) / 2]);
        return (
          <circle
            key={`${handle.value} more`}
            data-more={handle.value}
            cx={x}
            cy={y}
            r={4}
            className="cursor-copy fill-plum-soft stroke-plum"
            onPointerDown={(event) => {
              event.stopPropagation();
              gesture.change((now) => withPointAfter(now, line.id, handles, handle));
            }}
          >
            <title>Another point here</title>
          </circle>
        );
      })}
      {drawn.map(({ handle, i }, place) => {
        const [x, y] = spot(handle.at);
        const corner = handle.corners && isTwin(handle, handles[i - 1]);
        const chosen = together.includes(handle.value);
        const figure = listOf(handle) ? null : reading(handle, design).format(handle.now[0] ?? 0);
        return (
          <g key={place}>
            <rect
              data-handle={handle.value}
              role="slider"
              tabIndex={0}
              aria-label={handle.label}
              aria-valuenow={handle.now[0] ?? 0}
              aria-valuemin={handle.low}
              aria-valuemax={handle.high}
              aria-valuetext={figure ?? `${handle.now.map((one) => Math.round(one * 10) / 10).join(" across, ")} down`}
              x={x - RADIUS}
              y={y - RADIUS}
              width={2 * RADIUS}
              height={2 * RADIUS}
              rx={corner ? 1.5 : RADIUS}
              strokeWidth={2.5}
              className={`cursor-grab stroke-plum outline-none focus-visible:stroke-saffron ${chosen ? "fill-saffron" : "fill-card"}`}
              onPointerDown={(event) => take(event, handle, i)}
              onPointerMove={pull}
              onPointerUp={finish}
              onPointerCancel={finish}
              onLostPointerCapture={finish}
              onKeyDown={(event) => onKey(event, handle)}
              onDoubleClick={() => {
                if (handle.corners && !line.locked) gesture.change((now) => withCorner(now, line.id, handles, handle));
              }}
            >
              <title>{`${handle.label}${handle.grows ? "; Enter adds one after it, Delete takes it away" : ""}${handle.corners ? ", C or a double click makes it a corner or smooth" : ""}`}</title>
            </rect>
            {taken?.value === handle.value && (taken.index === i || alone(handle)) && figure && <Figure x={x} y={y} text={figure} />}
          </g>
        );
      })}
    </g>
  );
}

/** How far one step of a key goes: small figures count finer. */
const stepOf = (handle: Handle) => (handle.reads === "number" ? 0.25 : 1);

function Figure({ x, y, text }: { x: number; y: number; text: string }) {
  const width = 7.5 * text.length + 18;
  return (
    <g transform={`translate(${x + width / 2 + 12} ${y})`} className="pointer-events-none">
      <rect x={-width / 2} y={-11} width={width} height={22} rx={7} className="fill-plum" />
      <text textAnchor="middle" y={4} className="fill-card text-[12px] font-semibold">
        {text}
      </text>
    </g>
  );
}
