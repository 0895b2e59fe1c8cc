import type { Unit } from "../units";
import { RULER, type View } from "./useView";
import { heldStill } from "../state/heldStill";

const STEPS: Record<Unit, number[]> = {
  mm: [0.1, 0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500, 1000],
  in: [1 / 16, 1 / 8, 1 / 4, 1 / 2, 1, 2, 5, 10, 20, 50].map((inches) => inches * 25.4),
};

interface Props {
  view: View;
  width: number;
  height: number;
  unit: Unit;
  /** where the rulers count from, in mm */
  origin: [number, number];
}

/** Rulers along the top and left edges, counting from the finished piece's corner. */
function Scales({ view, width, height, unit, origin }: Props) {
  return (
    <g aria-hidden className="pointer-events-none select-none">
      <rect width={width} height={RULER} className="fill-bench" />
      <rect width={RULER} height={height} className="fill-bench" />
      <Ruler along="x" from={view.x - origin[0]} k={view.k} length={width} unit={unit} />
      <Ruler along="y" from={view.y - origin[1]} k={view.k} length={height} unit={unit} />
      <rect width={RULER} height={RULER} className="fill-bench" />
      <text x={RULER / 2} y={14} textAnchor="middle" className="fill-ink/75 text-[10px]">
        {unit}
      </text>
    </g>
  );
}

interface RulerProps {
  along: "x" | "y";
  from: number;
  k: number;
  length: number;
  unit: Unit;
}

function Ruler({ along, from, k, length, unit }: RulerProps) {
  const steps = STEPS[unit];
  const major = steps.find((step) => step * k >= 56) ?? steps[steps.length - 1] ?? 1;
  const minor = steps.find((step) => step * k >= 7 && step < major && Math.abs(major / step - Math.round(major / step)) < 1e-6);
  const step = minor ?? major;
  const first = Math.ceil(from / step);
  const count = Math.min(600, Math.floor((from + length / k) / step) - first + 1);
  const ticks = Array.from({ length: Math.max(0, count) }, (_, i) => (first + i) * step);
  return (
    <>
      {ticks.map((at) => {
        const p = (at - from) * k;
        const isMajor = Math.abs(at / major - Math.round(at / major)) < 1e-6;
        const size = isMajor ? 8 : 4;
        const label = String(Number((unit === "in" ? at / 25.4 : at).toFixed(3)));
        // Half a figure beside the corner says nothing.
        const figured = p > RULER + 3 * label.length;
        return along === "x" ? (
          <g key={at}>
            <line x1={p} x2={p} y1={RULER} y2={RULER - size} className="stroke-[#a39a86]" />
            {isMajor && figured && (
              <text x={p} y={11} textAnchor="middle" className="fill-ink/75 text-[10px]">
                {label}
              </text>
            )}
          </g>
        ) : (
          <g key={at}>
            <line y1={p} y2={p} x1={RULER} x2={RULER - size} className="stroke-[#a39a86]" />
            {isMajor && figured && (
              <text transform={`translate(11 ${p}) rotate(-90)`} textAnchor="middle" className="fill-ink/75 text-[10px]">
                {label}
              </text>
            )}
          </g>
        );
      })}
    </>
  );
}

export const Rulers = heldStill(Scales);
