import { useRef } from "react";
import { knownKinds } from "../api/cache";
import type { Box, Design, Line } from "../api/client";
import { withLine } from "../design/edits";
import { extent, growsExactly, heldByMiddles, isPlaced, scaledTogether, shifted, stretchedLine, turnedTogether, turnsTogether, within360, withPlace } from "../design/placing";
import { gesture, useBench } from "../state/store";
import type { ShownProof } from "../state/useProof";
import { formatSize } from "../units";
import { boxNow, pivotOf } from "./ahead";
import { surroundings } from "./around";
import { Frame, type Pull } from "./Frame";
import { type Around, REACH, settlePull, unionOf } from "./snap";
import type { View } from "./useView";

interface Props {
  design: Design;
  lines: Line[];
  proof: ShownProof;
  view: View;
}

/** The frame around what is chosen; one line alone has handles. */
export function Selection({ design, lines, proof, view }: Props) {
  const held = useRef<{ line: Line; box: Box; around: Around; on: string | null | undefined } | null>(null);
  const dragged = useBench((state) => state.marks !== null && state.marks.gaps.length > 0);
  const box = unionOf(lines.map((one) => boxNow(one, proof)).filter((one) => one !== null));
  const [line] = lines;
  if (!box || !line) return null;
  const size = formatSize(box[2] - box[0], box[3] - box[1], design.unit);
  if (lines.length > 1) return <Several design={design} lines={lines} proof={proof} view={view} box={box} label={dragged ? null : `${lines.length} things, ${size}`} />;
  const movable = isPlaced(line) && !line.locked;

  function pull(asked: Pull) {
    const from = held.current;
    if (!from || !isPlaced(from.line)) return;
    const { guided, setMarks } = useBench.getState();
    const settled = guided && !asked.free ? settlePull(from.box, asked, growsExactly(from.line), from.around, REACH / view.k) : null;
    setMarks(settled?.marks ?? null);
    const { fx, fy, sx, sy } = settled ?? asked;
    const changed = stretchedLine(from.line, sx, sy, settled !== null);
    // Figures are rounded, so what counts is the ratio that came of it.
    const [now, before] = [extent(changed), extent(from.line)];
    const { place } = from.line;
    // Only where middles count does the middle have to move for the opposite handle to stay.
    const [w, h] = [from.box[2] - from.box[0], from.box[3] - from.box[1]];
    const dx = place.on && place.across !== "middle" ? 0 : (fx - 0.5) * w * (now[0] / before[0] - 1);
    const dy = place.on && place.down !== "middle" ? 0 : (fy - 0.5) * h * (now[1] / before[1] - 1);
    const next = { ...changed, place: shifted(place, dx, dy) } as Line;
    gesture.change((design) => withLine(design, from.line.id, () => next));
  }

  function turn(degrees: number, step: number) {
    const from = held.current;
    if (!from || !isPlaced(from.line)) return;
    const rotate = within360(Math.round((from.line.place.rotate + degrees) / step) * step);
    const anchor = proof.results.find((one) => one.ref === from.on)?.box;
    gesture.change((design) =>
      withPlace(design, from.line.id, (place) => ({ ...(anchor ? heldByMiddles(place, from.box, anchor as Box) : place), rotate })),
    );
  }

  return (
    <Frame
      box={box}
      pivot={pivotOf(line)}
      view={view}
      label={dragged ? null : line.locked ? `${size}, locked` : size}
      name="line"
      onBegin={() => (held.current = { line, box, around: surroundings(design, proof, [line.id], view), on: isPlaced(line) ? line.place.on : null })}
      onEnd={() => useBench.getState().setMarks(null)}
      onPull={movable && !sizeTaken(line) ? pull : undefined}
      onTurn={movable ? turn : undefined}
    />
  );
}

interface SeveralProps extends Props {
  box: Box;
  label: string | null;
}

/** The frame around several things: its corners resize them together, its knob turns them as one. */
function Several({ design, lines, proof, view, box, label }: SeveralProps) {
  const held = useRef<{ design: Design; boxes: Map<string, Box>; box: Box } | null>(null);
  const ids = lines.map((one) => one.id);
  const boxes = new Map(lines.flatMap((one) => boxEntry(one, proof)));
  const movable = lines.filter((one) => isPlaced(one) && !one.locked);

  function pull({ fx, fy, sx }: Pull) {
    const from = held.current;
    if (!from) return;
    const [x0, y0, x1, y1] = from.box;
    const fixed: [number, number] = [fx === 0 ? x1 : x0, fy === 0 ? y1 : y0];
    gesture.change(() => scaledTogether(from.design, ids, knownKinds(), from.boxes, fixed, sx));
  }

  function turn(degrees: number, step: number) {
    const from = held.current;
    if (!from) return;
    const [x0, y0, x1, y1] = from.box;
    gesture.change(() => turnedTogether(from.design, ids, [(x0 + x1) / 2, (y0 + y1) / 2], Math.round(degrees / step) * step));
  }

  return (
    <g>
      {[...boxes].map(([id, own]) => (
        <Outline key={id} box={own} view={view} />
      ))}
      <Frame
        box={box}
        view={view}
        label={label}
        name="chosen"
        proportional
        onBegin={() => (held.current = { design, boxes, box })}
        onPull={movable.length > 0 && !movable.some(sizeTaken) ? pull : undefined}
        onTurn={movable.length > 0 && turnsTogether(design, ids, knownKinds()) ? turn : undefined}
      />
    </g>
  );
}

function boxEntry(line: Line, proof: ShownProof): [string, Box][] {
  const box = boxNow(line, proof);
  return box ? [[line.id, box]] : [];
}

/** Whether a thing takes its size from another: then a hand cannot give it one. */
const sizeTaken = (line: Line) => isPlaced(line) && (line.place.as_wide ?? line.place.as_tall) != null;

function Outline({ box, view }: { box: Box; view: View }) {
  const [x, y] = [(box[0] - view.x) * view.k, (box[1] - view.y) * view.k];
  return (
    <rect
      x={x}
      y={y}
      width={(box[2] - box[0]) * view.k}
      height={(box[3] - box[1]) * view.k}
      className="pointer-events-none fill-none stroke-plum/60"
      strokeDasharray="4 3"
    />
  );
}
