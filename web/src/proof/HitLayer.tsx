import type { Design, Kind, Line } from "../api/client";
import { resultLabel } from "../design/labels";
import { isPlaced } from "../design/placing";
import { rootOf } from "../design/rails";
import { resultOf } from "../design/refs";
import { shapedAnywhere, shapedBy, shapes } from "../design/sources";
import { useBench } from "../state/store";
import type { ShownProof } from "../state/useProof";
import { workOn } from "../state/workOn";
import { LetterGrips } from "./LetterLayer";
import { useLineDrag } from "./useLineDrag";
import type { View } from "./useView";
import { isLettering } from "../design/lettering";

interface Props {
  design: Design;
  proof: ShownProof;
  view: View;
  kinds: Kind[] | undefined;
}

/** Invisible copies of what can be taken hold of: click selects, drag moves, Shift adds to what is chosen. */
export function HitLayer({ design, proof, view, kinds }: Props) {
  const { picking, selected, others } = useBench();
  if (picking) return <PickLayer design={design} proof={proof} kinds={kinds} />;
  const lines = proof.results.flatMap((result) => {
    const line = design.recipe.find((one) => one.id === result.line);
    return isPlaced(line) ? [{ line, result }] : [];
  });
  // What a later line has shaped is there flat only while it is worked on.
  const hidden = shapedAnywhere(design);
  const chosen = design.recipe.find((one) => one.id === selected);
  const flat = chosen ? shapedBy(design, chosen) : [];
  const shown = lines.filter(({ result }) => !hidden.has(result.ref) || flat.includes(result.ref));
  const bent = proof.results.flatMap((result) => {
    const line = design.recipe.find((one) => one.id === result.line);
    return line && shapes(line, kinds).includes(resultOf(result.ref)) && !hidden.has(result.ref) ? [{ line, result }] : [];
  });
  const lettering = lines.find(({ line }) => line.id === selected && others.length === 0)?.line;
  return (
    <g>
      {bent.map(({ line, result }) => (
        <Grip key={result.ref} line={line} d={result.d} proof={proof} view={view} moves={design.recipe.find((one) => one.id === rootOf(design, result.ref))} />
      ))}
      {shown.map(({ line, result }) => (
        <Grip key={result.ref} line={line} d={result.d} proof={proof} view={view} />
      ))}
      {isLettering(lettering) && <LetterGrips line={lettering} proof={proof} view={view} />}
    </g>
  );
}

interface GripProps {
  line: Line;
  d: string;
  proof: ShownProof;
  view: View;
  /** what is moved by it, if not the line itself: what it was made of */
  moves?: Line | undefined;
}

function Grip({ line, d, proof, view, moves }: GripProps) {
  const drag = useLineDrag(proof, view);
  return (
    <path
      data-line={line.id}
      d={d}
      fillRule="evenodd"
      fill="transparent"
      stroke="transparent"
      strokeWidth={6}
      vectorEffect="non-scaling-stroke"
      className={line.locked ? "cursor-default" : "cursor-move"}
      onPointerDown={(event) => drag.begin(event, line, moves)}
      onPointerMove={drag.move}
      onPointerUp={drag.end}
      onPointerCancel={drag.end}
      onLostPointerCapture={drag.end}
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
              const line = design.recipe.find((one) => one.id === picking.line);
              // One of several is added to them, or taken away again.
              const next = (now: string | string[]) =>
                Array.isArray(now) ? (now.includes(result.ref) ? now.filter((one) => one !== result.ref) : [...now, result.ref]) : result.ref;
              if (line) workOn(line, picking.field, next);
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
