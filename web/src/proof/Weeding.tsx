import type { Box, Design } from "../api/client";
import { useBench } from "../state/store";
import type { ShownProof } from "../state/useProof";
import { Pick } from "../ui/Pick";
import { Ground, shownPlies, type PliesProps } from "./PlyPaths";

/** How far in mm waste is drawn round a ply, and rings round what is small. */
const AROUND = 5;
const RING = 3;

/** The ply that is weeded: the one chosen, or the topmost. */
function weeded(props: PliesProps, chosen: string | null) {
  const plies = shownPlies(props).filter((one) => one.box);
  return plies.find((one) => one.id === chosen) ?? plies.at(-1);
}

/** One ply as it lies on its carrier: what stays is solid, what lifts out pale, what is hard to lift ringed. */
export function Weeding(props: PliesProps) {
  const chosen = useBench((state) => state.ply);
  const ply = weeded(props, chosen);
  const [x0, y0, x1, y1] = (ply?.box as Box | null | undefined) ?? [0, 0, 0, 0];
  return (
    <g>
      {props.proof.bounds && <Ground box={props.proof.bounds} ground={props.design.ground} fill="#FFFDF8" />}
      {ply && (
        <>
          <rect x={x0 - AROUND} y={y0 - AROUND} width={x1 - x0 + 2 * AROUND} height={y1 - y0 + 2 * AROUND} fill={ply.colour} fillOpacity={0.16} className="stroke-ink/25" strokeDasharray="4 3" vectorEffect="non-scaling-stroke" />
          <path d={ply.d} fill={ply.colour} fillRule="evenodd" className="stroke-ink/40" strokeWidth={0.75} vectorEffect="non-scaling-stroke" />
          <g fill="none" className="stroke-saffron" strokeWidth={2.5}>
            {ply.small.map(([a, b, c, d], index) => (
              <circle key={index} cx={(a + c) / 2} cy={(b + d) / 2} r={Math.max(c - a, d - b) / 2 + RING} vectorEffect="non-scaling-stroke" />
            ))}
          </g>
        </>
      )}
    </g>
  );
}

/** Which ply is weeded, and how much of it is hard. */
export function WeededPly({ design, proof }: { design: Design; proof: ShownProof }) {
  const { ply: chosen, selectPly } = useBench();
  const ply = weeded({ design, proof }, chosen);
  if (!ply) return null;
  const choices = Object.fromEntries(shownPlies({ design, proof }).filter((one) => one.box).map((one) => [one.id, design.plies.find(({ id }) => id === one.id)?.name ?? ""]));
  const small = ply.small.length;
  return (
    <p className="absolute right-4">
      <Pick label="Ply that is weeded" value={ply.id} choices={choices} onChange={selectPly} />
      {small === 0 ? ": nothing small" : `: ${small} small ${small === 1 ? "place" : "places"}`}
    </p>
  );
}
