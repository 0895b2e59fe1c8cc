import type { Design, Kind, Line } from "../api/client";
import { isPlaced } from "../design/placing";
import { rootOf } from "../design/rails";
import { resultOf } from "../design/refs";
import { shapedAnywhere, shapedBy, shapes } from "../design/sources";
import { chainOf, successors } from "../design/things";
import { useBench } from "../state/store";
import type { ShownProof } from "../state/useProof";
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
  const { selected, others } = useBench();
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
  const next = successors(design, kinds);
  const lettering = lines.find(({ line }) => line.id === selected && others.length === 0)?.line;
  return (
    <g>
      {bent.map(({ line, result }) => (
        <Grip key={result.ref} line={line} d={result.d} refs={chainOf(result.ref, next)} proof={proof} view={view} moves={design.recipe.find((one) => one.id === rootOf(design, result.ref))} />
      ))}
      {shown.map(({ line, result }) => (
        <Grip key={result.ref} line={line} d={result.d} refs={chainOf(result.ref, next)} proof={proof} view={view} />
      ))}
      {isLettering(lettering) && <LetterGrips line={lettering} proof={proof} view={view} />}
    </g>
  );
}

interface GripProps {
  line: Line;
  d: string;
  /** what lights the sentences about it */
  refs: string[];
  proof: ShownProof;
  view: View;
  /** what is moved by it, if not the line itself: what it was made of */
  moves?: Line | undefined;
}

function Grip({ line, d, refs, proof, view, moves }: GripProps) {
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
      onPointerEnter={() => useBench.getState().light({ refs, by: "proof" })}
      onPointerLeave={() => useBench.getState().light(null)}
      onPointerDown={(event) => drag.begin(event, line, moves)}
      onPointerMove={drag.move}
      onPointerUp={drag.end}
      onPointerCancel={drag.end}
      onLostPointerCapture={drag.end}
    />
  );
}
