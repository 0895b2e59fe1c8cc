import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import { api, type Box, data, type Design, type Line, type Piece } from "../api/client";
import { usePieces } from "../api/queries";
import { withLine } from "../design/edits";
import { faceOf, type Pieces } from "../design/face";
import { useCalled } from "../state/shown";
import { refTo } from "../design/refs";
import { gesture, useBench } from "../state/store";
import type { ShownProof } from "../state/useProof";
import { formatSize } from "../units";
import { sayProblem } from "../ui/notices";
import type { View } from "./useView";

interface Props {
  design: Design;
  line: Line;
  pieces: Pieces;
  proof: ShownProof;
  view: View;
  /** says what is under the pointer, or nothing */
  onHint: (hint: string | null) => void;
}

/** Pieces of a chosen line where they lie, tinted by the ply they go to: clicked, framed, walked through by keys. */
export function PiecesLayer({ design, line, pieces, proof, view, onHint }: Props) {
  const called = useCalled();
  const key = proof.results.filter((one) => one.line === line.id).map((one) => one.key).join();
  const found = usePieces(proof.design, line, `${key} ${JSON.stringify(line)}`, !proof.checked).data ?? [];
  const marks = useRef<(SVGPathElement | null)[]>([]);
  /** the piece that Tab comes to; arrow keys go on from it */
  const [at, setAt] = useState(0);
  const from = useRef<[number, number] | null>(null);
  const [frame, setFrame] = useState<Box | null>(null);
  /** a piece under the hand: where it was taken hold of, and how far it is by now */
  const [held, setHeld] = useState<{ index: number; from: [number, number]; by: [number, number] } | null>(null);
  const colours = coloursOf(design, line);

  function click(some: Piece[]) {
    const to = useBench.getState().pieceTo;
    if (some.length && !line.locked) gesture.change((now) => withLine(now, line.id, (one) => pieces.clicked(one, some, to)));
  }

  function spot(event: PointerEvent): [number, number] {
    const area = (event.currentTarget as SVGElement).ownerSVGElement?.getBoundingClientRect();
    return [(event.clientX - (area?.left ?? 0)) / view.k + view.x, (event.clientY - (area?.top ?? 0)) / view.k + view.y];
  }

  function end(event: PointerEvent) {
    const start = from.current;
    from.current = null;
    setFrame(null);
    if (!start) return;
    if (frame) click(found.filter(({ box }) => box && box[0] >= frame[0] && box[1] >= frame[1] && box[2] <= frame[2] && box[3] <= frame[3]));
    else if (pieces.on && pieces.added) place(spot(event), pieces.added);
    else useBench.getState().select(null);
  }

  /** A piece set where there was none, or moved there; beside what the line works on it is let go of. */
  function place(at: [number, number], put: NonNullable<Pieces["added"]>) {
    const of = pieces.on?.(line);
    const box = proof.results.find((one) => one.ref === of)?.box;
    if (!of || !box || at[0] < box[0] || at[0] > box[2] || at[1] < box[1] || at[1] > box[3]) {
      useBench.getState().select(null);
      return;
    }
    data<{ anchor: Parameters<typeof put>[1] }>(api.POST("/api/pieces/anchor", { body: { design: proof.design, of, at } }))
      .then(({ anchor }) => gesture.change((now) => withLine(now, line.id, (one) => put(one, anchor))))
      .catch(sayProblem);
  }

  function take(event: PointerEvent<SVGPathElement>, index: number) {
    if (event.button !== 0) return;
    event.stopPropagation();
    setAt(index);
    if (line.locked || !(pieces.dragged || (pieces.moved && found[index]?.pick.to))) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    setHeld({ index, from: spot(event), by: [0, 0] });
  }

  function letGo(piece: Piece) {
    const { moved, dragged } = pieces;
    const [dx, dy] = held?.by ?? [0, 0];
    setHeld(null);
    if (dragged && Math.hypot(dx, dy) * view.k >= 4) {
      gesture.change((now) => withLine(now, line.id, (one) => dragged(one, piece, [dx, dy])));
      return;
    }
    if (!moved || !piece.box || Math.hypot(dx, dy) * view.k < 4) return click([piece]);
    const middle: [number, number] = [(piece.box[0] + piece.box[2]) / 2 + dx, (piece.box[1] + piece.box[3]) / 2 + dy];
    place(middle, (one, anchor) => moved(one, piece, anchor));
  }

  function onKey(event: KeyboardEvent, index: number) {
    const step = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key];
    const piece = found[index];
    if (step) {
      const next = (index + step + found.length) % found.length;
      setAt(next);
      marks.current[next]?.focus();
    } else if ((event.key === "Enter" || event.key === " ") && piece) click([piece]);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  return (
    <g data-testid="pieces">
      <rect
        x={view.x}
        y={view.y}
        width={1e5}
        height={1e5}
        className="fill-transparent"
        onPointerDown={(event) => {
          if (event.button !== 0) return;
          event.stopPropagation();
          event.currentTarget.setPointerCapture(event.pointerId);
          from.current = spot(event);
        }}
        onPointerMove={(event) => {
          const start = from.current;
          if (!start) return;
          const [x, y] = spot(event);
          if (!frame && Math.hypot(x - start[0], y - start[1]) * view.k < 4) return;
          setFrame([Math.min(x, start[0]), Math.min(y, start[1]), Math.max(x, start[0]), Math.max(y, start[1])]);
        }}
        onPointerUp={end}
        onLostPointerCapture={() => {
          from.current = null;
          setFrame(null);
        }}
      />
      {/* A pale line under the plum one shows on any colour. */}
      <path d={found.map((piece) => piece.d).join("")} fill="none" strokeWidth={3.5} vectorEffect="non-scaling-stroke" className="pointer-events-none stroke-card/80" />
      {found.map((piece, index) => {
        const { to, parents } = piece.pick;
        const size = piece.box ? formatSize(piece.box[2] - piece.box[0], piece.box[3] - piece.box[1], design.unit) : "";
        const what = piece.name || `piece of ${parents.map(called).join(" and ")}`;
        const hint = `${what}${piece.name ? "" : `, ${size}`}${to || pieces.stays ? "" : ", dropped"}: ${pieces.says(line, piece)}`;
        return (
          <path
            key={index}
            ref={(mark) => {
              marks.current[index] = mark;
            }}
            data-piece={index}
            d={piece.d}
            fillRule="evenodd"
            role="checkbox"
            aria-checked={to !== ""}
            aria-label={hint}
            tabIndex={index === Math.min(at, found.length - 1) ? 0 : -1}
            strokeWidth={1.25}
            strokeDasharray={to ? undefined : "4 3"}
            vectorEffect="non-scaling-stroke"
            style={to ? { fill: colours[to] ?? "var(--color-plum)" } : undefined}
            className={`cursor-pointer stroke-plum outline-none hover:stroke-[3px] focus-visible:stroke-saffron focus-visible:stroke-[3px] ${to ? "[fill-opacity:0.45] hover:[fill-opacity:0.75]" : "fill-transparent hover:fill-plum/15"}`}
            onPointerEnter={() => onHint(hint)}
            onPointerLeave={() => onHint(null)}
            onFocus={() => {
              setAt(index);
              onHint(hint);
            }}
            onBlur={() => onHint(null)}
            transform={held?.index === index ? `translate(${held.by.join(" ")})` : undefined}
            onPointerDown={(event) => take(event, index)}
            onPointerMove={(event) => {
              if (held?.index !== index) return;
              const [x, y] = spot(event);
              setHeld({ ...held, by: [x - held.from[0], y - held.from[1]] });
            }}
            onPointerUp={(event) => {
              if (event.button === 0) letGo(piece);
            }}
            onLostPointerCapture={() => setHeld(null)}
            onKeyDown={(event) => onKey(event, index)}
          />
        );
      })}
      {frame && (
        <rect
          x={frame[0]}
          y={frame[1]}
          width={frame[2] - frame[0]}
          height={frame[3] - frame[1]}
          vectorEffect="non-scaling-stroke"
          strokeDasharray="4 3"
          className="pointer-events-none fill-plum/10 stroke-plum"
        />
      )}
    </g>
  );
}

/** By where pieces go, the colour of what they are cut from. */
function coloursOf(design: Design, line: Line): Record<string, string> {
  const found: Record<string, string> = {};
  for (const ply of design.plies) {
    const colour = design.materials.find((one) => one.id === ply.material)?.colour;
    for (const ref of ply.results) {
      if (ref.startsWith(refTo(line.id, "")) && colour) found[ref.slice(refTo(line.id, "").length)] = colour;
    }
  }
  return found;
}

/** How pieces of the one chosen line are picked, if they are. */
export const piecesOf = (line: Line | undefined) => (line ? faceOf(line).pieces : undefined);
