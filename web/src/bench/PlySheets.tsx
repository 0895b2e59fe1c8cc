import type { Design } from "../api/client";
import type { ShownProof } from "../state/useProof";
import { groundBox } from "../proof/PlyPaths";
import { useBench } from "../state/store";

const WIDTH = 240;
const HEIGHT = 250;

/** The plies as separated sheets over the ground, top one first, each lying in the same slant. */
export function PlySheets({ design, proof }: { design: Design; proof: ShownProof }) {
  const { ply: chosen, selectPly } = useBench();
  if (!proof.bounds) return null;
  const [x0, y0, x1, y1] = groundBox(proof.bounds as [number, number, number, number], proof.design.ground);
  const [w, h] = [x1 - x0, y1 - y0];
  const sheets = [...design.plies].reverse();
  const count = sheets.length + 1;
  // A sheet lies flat: its width runs right and down, its height left and down.
  const scale = 1 / (0.8 * w + 0.8 * h);
  const size = WIDTH * scale * 0.96;
  const [ax, ay, bx, by] = [0.8 * size, 0.3 * size, -0.8 * size, 0.3 * size];
  const tall = (w + h) * 0.3 * size;
  const gap = Math.min(56, (HEIGHT - tall) / Math.max(1, count - 1));
  const lying = (index: number) =>
    `matrix(${ax} ${ay} ${bx} ${by} ${WIDTH * 0.02 + 0.8 * size * h - (ax * x0 + bx * y0)} ${index * gap - (ay * x0 + by * y0)})`;
  const total = tall + gap * (count - 1) + 4;

  return (
    <svg viewBox={`0 -2 ${WIDTH} ${total}`} className="mx-auto w-full max-w-60" aria-hidden>
      <g transform={lying(count - 1)}>
        <rect x={x0} y={y0} width={w} height={h} fill={design.ground.colour} className="stroke-[#b9ae99]" vectorEffect="non-scaling-stroke" />
      </g>
      {sheets
        .map((ply, index) => ({ ply, index }))
        .reverse()
        .map(({ ply, index }) => {
          const shown = proof.plies.find((one) => one.id === ply.id);
          const material = design.materials.find((one) => one.id === ply.material);
          return (
            <g
              key={ply.id}
              transform={lying(index)}
              opacity={ply.hidden ? 0.3 : 1}
              className="cursor-pointer"
              onClick={() => selectPly(ply.id)}
            >
              <rect
                x={x0}
                y={y0}
                width={w}
                height={h}
                fillOpacity={0.86}
                className={ply.id === chosen ? "fill-plum-soft stroke-plum" : "fill-[#faf5ea] stroke-[#cfc5b1]"}
                vectorEffect="non-scaling-stroke"
              />
              <path d={shown?.d ?? ""} fill={material?.colour} fillRule="evenodd" className="stroke-ink/15" vectorEffect="non-scaling-stroke" strokeWidth={0.5} />
            </g>
          );
        })}
    </svg>
  );
}
