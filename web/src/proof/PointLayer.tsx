import { type PointerEvent, useEffect, useRef, useState } from "react";
import type { Box, Design, Kind } from "../api/client";
import { plyOf, successors, thingsBefore, usedElsewhere } from "../design/things";
import { type Picking, useBench } from "../state/store";
import { useCalled } from "../state/shown";
import type { ShownProof } from "../state/useProof";
import { workOn } from "../state/workOn";
import type { View } from "./useView";

interface Props {
  design: Design;
  proof: ShownProof;
  view: View;
  kinds: Kind[] | undefined;
  picking: Picking;
}

const onScreen = (view: View, [x0, y0, x1, y1]: Box): Box => [(x0 - view.x) * view.k, (y0 - view.y) * view.k, (x1 - view.x) * view.k, (y1 - view.y) * view.k];
const inDesign = (view: View) => `scale(${view.k}) translate(${-view.x} ${-view.y})`;

/**
 * While a value waits for a thing, the proof is where it is chosen: what is under the pointer keeps its colour, all
 * else is dimmed; a click takes it, Shift takes several, the arrow down goes on to what lies below.
 */
export function PointLayer({ design, proof, view, kinds, picking }: Props) {
  const { lit, light, pick, select } = useBench();
  const called = useCalled();
  const [under, setUnder] = useState<string[]>([]);
  const [depth, setDepth] = useState(0);
  const layer = useRef<SVGGElement>(null);
  const line = design.recipe.find((one) => one.id === picking.line);
  const next = successors(design, kinds);
  const height = (ref: string) => design.plies.findIndex((ply) => ply === plyOf(design, ref, next));
  const barred = line ? usedElsewhere(line, picking.field, kinds) : [];
  const results = thingsBefore(design, picking.line, kinds)
    .newest.flatMap((ref) => proof.results.filter((result) => result.ref === ref && result.box && !barred.includes(ref)))
    .sort((a, b) => height(a.ref) - height(b.ref));
  const chosen = line ? [(line as unknown as Record<string, string | string[]>)[picking.field] ?? []].flat() : [];

  useEffect(() => () => light(null), [light]);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key !== "ArrowDown" || under.length < 2) return;
      event.preventDefault();
      event.stopPropagation();
      const at = (depth + 1) % under.length;
      setDepth(at);
      light({ refs: under.slice(at, at + 1), by: "proof" });
    };
    addEventListener("keydown", onKey, true);
    return () => removeEventListener("keydown", onKey, true);
  }, [under, depth, light]);

  /** What lies under the pointer, the topmost first. */
  function look(event: PointerEvent) {
    const found = document
      .elementsFromPoint(event.clientX, event.clientY)
      .flatMap((one) => (one instanceof SVGElement && layer.current?.contains(one) && one.dataset.pick ? [one.dataset.pick] : []));
    if (found.join() === under.join()) return;
    setUnder(found);
    setDepth(0);
    light(found.length ? { refs: found.slice(0, 1), by: "proof" } : null);
  }

  function take(event: PointerEvent) {
    event.stopPropagation();
    const ref = under[depth];
    if (!line || ref === undefined) {
      pick(null);
      return;
    }
    const several = picking.many && event.shiftKey;
    workOn(line, picking.field, (now) => {
      if (!picking.many) return ref;
      const refs = [now].flat();
      if (!several) return [ref];
      return refs.includes(ref) ? refs.filter((one) => one !== ref) : [...refs, ref];
    });
    if (several) return;
    pick(null);
    select(picking.line);
  }

  const shown = results.find((result) => lit?.refs.includes(result.ref));
  return (
    <g data-testid="pointing">
      <rect width="100%" height="100%" className="cursor-crosshair fill-bench/65" onPointerMove={look} onPointerDown={take} />
      <g transform={inDesign(view)}>
        {results.filter((result) => chosen.includes(result.ref) || result === shown).map((result) => (
          <path
            key={result.ref}
            d={result.d}
            fillRule="evenodd"
            fill={design.materials.find((one) => one.id === plyOf(design, result.ref, next)?.material)?.colour ?? "#8A8190"}
            fillOpacity={result === shown ? 1 : 0.55}
            className="pointer-events-none stroke-plum"
            strokeWidth={result === shown ? 2.5 : 1.25}
            vectorEffect="non-scaling-stroke"
          />
        ))}
      </g>
      <g ref={layer} transform={inDesign(view)}>
        {results.map((result) => (
          <path
            key={result.ref}
            data-pick={result.ref}
            d={result.d}
            fillRule="evenodd"
            fill="transparent"
            stroke="transparent"
            strokeWidth={8}
            vectorEffect="non-scaling-stroke"
            className="cursor-crosshair"
            onPointerMove={look}
            onPointerDown={take}
          >
            <title>{called(result.ref)}</title>
          </path>
        ))}
      </g>
      {shown?.box && (
        <Tag box={onScreen(view, shown.box as Box)} name={called(shown.ref)} says={`line ${design.recipe.findIndex((one) => one.id === shown.line) + 1}${under.length > 1 ? `, ${depth + 1} of ${under.length}, ↓ next below` : ""}`} />
      )}
    </g>
  );
}

/** What is lit, on its upper edge. */
function Tag({ box, name, says }: { box: Box; name: string; says: string }) {
  return (
    <foreignObject x={Math.max(box[0], 30)} y={Math.max(box[1] - 38, 24)} width={460} height={34} className="pointer-events-none">
      <p className="inline-flex h-7.5 max-w-full items-center gap-2.5 rounded-md bg-plum px-3 whitespace-nowrap text-card">
        <span className="truncate font-semibold">{name}</span>
        <span className="text-[12px] text-card/85">{says}</span>
      </p>
    </foreignObject>
  );
}

/** The things that words pointed at stand for, outlined. */
export function WordsLit({ proof, view }: { proof: ShownProof; view: View }) {
  const lit = useBench((state) => state.lit);
  if (lit?.by !== "words") return null;
  return (
    <g transform={inDesign(view)} className="pointer-events-none fill-plum/15 stroke-plum">
      {proof.results
        .filter((result) => lit.refs.includes(result.ref))
        .map((result) => (
          <path key={result.ref} data-lit={result.ref} d={result.d} fillRule="evenodd" strokeWidth={2} vectorEffect="non-scaling-stroke" />
        ))}
    </g>
  );
}
