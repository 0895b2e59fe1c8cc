import { type PointerEvent, useRef } from "react";
import type { Design, Kind, Line, Place } from "../api/client";
import { resultLabel } from "../bench/labels";
import { gesture, isPlaced, shifted, useBench, withPlace, withValue } from "../bench/store";
import type { ShownProof } from "../bench/useProof";
import type { View } from "./useView";

interface Props {
  design: Design;
  proof: ShownProof;
  view: View;
  kinds: Kind[] | undefined;
}

const round = (mm: number) => Math.round(mm * 10) / 10;

/** Invisible copies of what can be taken hold of: click selects, drag moves. */
export function HitLayer({ design, proof, view, kinds }: Props) {
  const picking = useBench((state) => state.picking);
  if (picking) return <PickLayer design={design} proof={proof} kinds={kinds} />;
  return (
    <g>
      {proof.results
        .filter((result) => isPlaced(design.recipe.find((line) => line.id === result.line)))
        .map((result) => {
          const line = design.recipe.find((one) => one.id === result.line);
          return line ? <Grip key={result.ref} line={line} d={result.d} k={view.k} /> : null;
        })}
    </g>
  );
}

function Grip({ line, d, k }: { line: Line; d: string; k: number }) {
  const drag = useRef<{ x: number; y: number; place: Place; moved: boolean } | null>(null);

  function begin(event: PointerEvent) {
    if (event.button !== 0 || !isPlaced(line)) return;
    event.stopPropagation();
    useBench.getState().select(line.id);
    event.currentTarget.setPointerCapture(event.pointerId);
    drag.current = { x: event.clientX, y: event.clientY, place: line.place, moved: false };
  }

  function move(event: PointerEvent) {
    const from = drag.current;
    if (!from) return;
    const dx = event.clientX - from.x;
    const dy = event.clientY - from.y;
    if (!from.moved && Math.hypot(dx, dy) < 4) return;
    if (!from.moved) gesture.begin();
    from.moved = true;
    const place = shifted(from.place, dx / k, dy / k);
    gesture.change((now) => withPlace(now, line.id, () => ({ ...place, x: round(place.x), y: round(place.y) })));
  }

  function end() {
    if (drag.current?.moved) gesture.end();
    drag.current = null;
  }

  return (
    <path
      data-line={line.id}
      d={d}
      fillRule="evenodd"
      fill="transparent"
      stroke="transparent"
      strokeWidth={6}
      vectorEffect="non-scaling-stroke"
      className="cursor-move"
      onPointerDown={begin}
      onPointerMove={move}
      onPointerUp={end}
      onPointerCancel={end}
    />
  );
}

/** While a value waits for a result: everything that may be picked lights up. */
function PickLayer({ design, proof, kinds }: Omit<Props, "view">) {
  const { picking, pick, select } = useBench();
  if (!picking) return null;
  return (
    <g>
      {proof.results
        .filter((result) => picking.from.includes(result.ref))
        .map((result) => (
          <path
            key={result.ref}
            data-pick={result.ref}
            d={result.d}
            fillRule="evenodd"
            className="cursor-crosshair fill-plum/15 stroke-plum stroke-1 hover:fill-plum/45"
            vectorEffect="non-scaling-stroke"
            onPointerDown={(event) => {
              event.stopPropagation();
              gesture.change((now) => withValue(now, picking.line, picking.field, result.ref));
              pick(null);
              select(picking.line);
            }}
          >
            <title>{resultLabel(design, result.ref, kinds)}</title>
          </path>
        ))}
    </g>
  );
}
