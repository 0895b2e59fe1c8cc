import type { Box, Design } from "../api/client";
import { heldStill } from "../state/heldStill";
import type { ShownProof } from "../state/useProof";
import { unionOf } from "./snap";

/** The ground shown: the finished piece, and all that can be covered where that is known, with some space around. */
export function groundBox(piece: Box, { width, height }: Design["ground"]): Box {
  const covered: Box[] = width && height ? [[-width / 2, -height / 2, width / 2, height / 2]] : [];
  const [x0, y0, x1, y1] = unionOf([piece, ...covered]) ?? piece;
  const margin = Math.max(6, (covered.length > 0 ? 0.03 : 0.09) * Math.max(x1 - x0, y1 - y0));
  return [x0 - margin, y0 - margin, x1 + margin, y1 + margin];
}

export interface PliesProps {
  proof: ShownProof;
  design: Design;
}

export function shownPlies({ proof, design }: PliesProps) {
  return proof.plies.flatMap((shown) => {
    const ply = design.plies.find((one) => one.id === shown.id);
    const material = design.materials.find((one) => one.id === ply?.material);
    return ply && material && !ply.hidden ? [{ ...shown, colour: material.colour }] : [];
  });
}

export function Ground({ box, ground, fill = ground.colour }: { box: Box; ground: Design["ground"]; fill?: string }) {
  const [x0, y0, x1, y1] = groundBox(box, ground);
  return <rect x={x0} y={y0} width={x1 - x0} height={y1 - y0} rx={(x1 - x0) / 70} fill={fill} />;
}

/** The look of the finished piece: the ground and each material in its colour. */
export const Finished = heldStill(function Finished(props: PliesProps) {
  return (
    <g>
      {props.proof.bounds && <Ground box={props.proof.bounds} ground={props.design.ground} />}
      {shownPlies(props).map((ply) => (
        <path key={ply.id} d={ply.d} fill={ply.colour} fillRule="evenodd" />
      ))}
    </g>
  );
});

/** A line colour that can be seen on paper: pale materials are drawn darker. */
function lineColour(hex: string): string {
  const [r = 0, g = 0, b = 0] = [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16));
  const light = (0.299 * r + 0.587 * g + 0.114 * b) / 255;
  return light > 0.72 ? "#8b8072" : hex;
}

/** The end points in path data, each as a dot: a line of no length with round ends. */
function nodeDots(d: string): string {
  const dots: string[] = [];
  for (const [, numbers = ""] of d.matchAll(/[MLC]([^MLCZ]*)/g)) {
    const at = numbers.trim().split(/[\s,]+/).slice(-2);
    dots.push(`M${at.join(" ")}h0`);
  }
  return dots.join("");
}

/** The look of the cut: hairlines only, every ply in its colour, nodes on request. */
export const CutLines = heldStill(function CutLines({ showNodes, ...props }: PliesProps & { showNodes: boolean }) {
  return (
    <g fill="none">
      {props.proof.bounds && <Ground box={props.proof.bounds} ground={props.design.ground} fill="#FFFDF8" />}
      {shownPlies(props).map((ply) => (
        <path
          key={ply.id}
          d={ply.d}
          stroke={lineColour(ply.colour)}
          strokeWidth={1.2}
          strokeLinejoin="round"
          vectorEffect="non-scaling-stroke"
        />
      ))}
      {showNodes &&
        props.proof.checked &&
        shownPlies(props).map((ply) => (
          <path
            key={ply.id}
            d={nodeDots(ply.d)}
            className="stroke-plum"
            strokeWidth={4.5}
            strokeLinecap="round"
            vectorEffect="non-scaling-stroke"
          />
        ))}
    </g>
  );
});
