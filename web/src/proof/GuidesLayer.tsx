import { type PointerEvent, useRef } from "react";
import type { Design } from "../api/client";
import { gesture, useBench } from "../state/store";
import { formatLength, type Unit } from "../units";
import { gridStep } from "./grid";
import type { View } from "./useView";

type Along = "x" | "y";
const THICK = 22;
const tidy = (mm: number) => Math.round(mm * 10) / 10;

interface Props {
  design: Design;
  view: View;
  width: number;
  height: number;
}

const setGuides = (along: Along, list: number[]) =>
  gesture.change((now) => ({ ...now, guides: { ...now.guides, [along]: list } }));

function useGuideDrag(view: View, along: Along) {
  const at = useRef<number | null>(null);

  function begin(event: PointerEvent, index: number | null) {
    if (event.button !== 0) return;
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    gesture.begin();
    at.current = index;
    if (index === null) {
      const list = useBench.getState().design.guides[along];
      at.current = list.length;
    }
  }

  /** The guide follows the pointer; over the ruler it is gone. */
  function move(event: PointerEvent) {
    if (at.current === null) return;
    const area = event.currentTarget.closest("svg")?.getBoundingClientRect();
    const pixel = along === "x" ? event.clientX - (area?.left ?? 0) : event.clientY - (area?.top ?? 0);
    const list = [...useBench.getState().design.guides[along]];
    if (pixel < THICK) {
      if (at.current < list.length) setGuides(along, list.toSpliced(at.current, 1));
      return;
    }
    list.splice(at.current, 1, tidy(pixel / view.k + (along === "x" ? view.x : view.y)));
    setGuides(along, list);
    at.current = Math.min(at.current, list.length - 1);
  }

  function end() {
    if (at.current !== null) gesture.end();
    at.current = null;
  }
  return { begin, move, end };
}

/** The guides she pulled out of the rulers, and the rulers to pull more from. */
export function Guides({ design, view, width, height }: Props) {
  return (
    <g>
      <GuidesAlong along="x" list={design.guides.x} view={view} length={height} unit={design.unit} />
      <GuidesAlong along="y" list={design.guides.y} view={view} length={width} unit={design.unit} />
    </g>
  );
}

function GuidesAlong({ along, list, view, length, unit }: { along: Along; list: number[]; view: View; length: number; unit: Unit }) {
  const drag = useGuideDrag(view, along);
  const upright = along === "x";
  const ruler = upright ? { width: THICK, height: length } : { width: length, height: THICK };
  const handlers = { onPointerMove: drag.move, onPointerUp: drag.end, onPointerCancel: drag.end, onLostPointerCapture: drag.end };
  return (
    <g>
      {list.map((at, index) => {
        const p = (at - (upright ? view.x : view.y)) * view.k;
        if (p < THICK) return null;
        const ends = upright ? { x1: p, x2: p, y1: 0, y2: length } : { y1: p, y2: p, x1: 0, x2: length };
        return (
          <g key={index}>
            <line {...ends} className="pointer-events-none stroke-card/70" strokeWidth={2} />
            <line {...ends} className="pointer-events-none stroke-leaf" strokeWidth={1} strokeDasharray="6 3" />
            <line
              {...ends}
              data-guide={`${along} ${index}`}
              stroke="transparent"
              strokeWidth={7}
              className={upright ? "cursor-ew-resize" : "cursor-ns-resize"}
              onPointerDown={(event) => drag.begin(event, index)}
              {...handlers}
            >
              <title>{`Guide at ${formatLength(at, unit)} from the design's middle; drag it onto the ruler to remove it`}</title>
            </line>
          </g>
        );
      })}
      <rect
        {...ruler}
        data-ruler={along}
        fill="transparent"
        className={upright ? "cursor-ew-resize" : "cursor-ns-resize"}
        onPointerDown={(event) => drag.begin(event, null)}
        {...handlers}
      >
        <title>Pull out a guide</title>
      </rect>
    </g>
  );
}

/** The grid, on demand. */
export function Grid({ view, width, height, unit }: { view: View; width: number; height: number; unit: Unit }) {
  const step = gridStep(unit, view.k);
  const ticks = (from: number, length: number) => {
    const first = Math.ceil(from / step);
    return Array.from({ length: Math.floor((from + length / view.k) / step) - first + 1 }, (_, i) => ((first + i) * step - from) * view.k);
  };
  return (
    <g className="pointer-events-none stroke-ink/12" strokeWidth={1}>
      {ticks(view.x, width).map((x) => (
        <line key={`x${x}`} x1={x} x2={x} y1={0} y2={height} />
      ))}
      {ticks(view.y, height).map((y) => (
        <line key={`y${y}`} y1={y} y2={y} x1={0} x2={width} />
      ))}
    </g>
  );
}

/** A line that shows on any ground: leaf in a pale casing. */
function MarkLine(ends: Record<"x1" | "y1" | "x2" | "y2", number>) {
  return (
    <>
      <line {...ends} className="stroke-card/85" strokeWidth={4} />
      <line {...ends} className="stroke-leaf" strokeWidth={1.5} />
    </>
  );
}

/** What a drag is lined up with, and distances in figures. */
export function DragMarks({ view, unit }: { view: View; unit: Unit }) {
  const marks = useBench((state) => state.marks);
  if (!marks) return null;
  const x = (mm: number) => (mm - view.x) * view.k;
  const y = (mm: number) => (mm - view.y) * view.k;
  return (
    <g className="pointer-events-none" data-testid="drag-marks">
      {marks.lines.map((line, index) => (
        <MarkLine
          key={index}
          {...(line.along === "x"
            ? { x1: x(line.at), x2: x(line.at), y1: y(line.from) - 12, y2: y(line.to) + 12 }
            : { y1: y(line.at), y2: y(line.at), x1: x(line.from) - 12, x2: x(line.to) + 12 })}
        />
      ))}
      {marks.gaps.map((gap, index) => {
        const text = formatLength(Math.round((gap.to - gap.from) * 100) / 100, unit);
        const half = 3.4 * text.length + 5;
        const [cx, cy] =
          gap.along === "x" ? [x((gap.from + gap.to) / 2), y(gap.across)] : [x(gap.across), y((gap.from + gap.to) / 2)];
        const ends =
          gap.along === "x"
            ? { x1: x(gap.from), x2: x(gap.to), y1: cy, y2: cy }
            : { x1: cx, x2: cx, y1: y(gap.from), y2: y(gap.to) };
        // The figure stands beside its line, which may be shorter than the figure.
        const [tx, ty] = gap.along === "x" ? [cx, cy - 14] : [cx + half + 6, cy];
        return (
          <g key={`gap ${index}`}>
            <MarkLine {...ends} />
            <rect x={tx - half} y={ty - 9} width={2 * half} height={18} rx={9} className="fill-leaf" />
            <text x={tx} y={ty + 4} textAnchor="middle" className="fill-card text-[11px] font-semibold">
              {text}
            </text>
          </g>
        );
      })}
    </g>
  );
}
