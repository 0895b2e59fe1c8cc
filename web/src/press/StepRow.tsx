import type { Design, PressPlan, PressStep } from "../api/client";
import { groundBox } from "../proof/PlyPaths";
import type { ShownProof } from "../state/useProof";

interface Props {
  step: PressStep;
  number: number;
  design: Design;
  proof: ShownProof | null;
  seams: PressPlan["seams"];
}

/** One step: what lies where when it is done, what to do, how long and how hot. */
export function StepRow({ step, number, design, proof, seams }: Props) {
  return (
    <li className="flex items-start gap-5 border-b border-line py-3 last:border-b-0 print:break-inside-avoid">
      <span aria-hidden className="w-6 font-display text-[20px] font-bold text-plum">
        {number}
      </span>
      <Lying shown={step.shown} design={design} proof={proof} seams={seams.filter((one) => one.over === step.ply)} />
      <div className="min-w-0 flex-1">
        <h3 className="font-semibold">{step.title}</h3>
        <p className="text-soft">{step.text}</p>
      </div>
      {step.seconds != null && (
        <div className="text-right tabular-nums">
          <p className="font-display text-[17px] font-bold">{step.seconds} s</p>
          <p>{step.heat} °C</p>
        </div>
      )}
    </li>
  );
}

/** The ground with the plies that lie on it by then, and where the last of them has to be laid with care. */
function Lying({ shown, design, proof, seams }: { shown: string[]; design: Design; proof: ShownProof | null; seams: PressPlan["seams"] }) {
  if (!proof?.bounds) return <span className="h-20 w-28" />;
  const [x0, y0, x1, y1] = groundBox(proof.bounds as [number, number, number, number], design.ground);
  return (
    <svg aria-hidden viewBox={`${x0} ${y0} ${x1 - x0} ${y1 - y0}`} className="h-20 w-28 shrink-0 rounded-md" style={{ background: design.ground.colour }}>
      {proof.plies
        .filter((ply) => shown.includes(ply.id))
        .map((ply) => {
          const material = design.plies.find((one) => one.id === ply.id)?.material;
          return <path key={ply.id} d={ply.d} fill={design.materials.find((one) => one.id === material)?.colour} fillRule="evenodd" />;
        })}
      {seams.map(({ under, d }) => (
        <path key={under} d={d} fill="none" className="stroke-brick" strokeWidth={1.5} vectorEffect="non-scaling-stroke" />
      ))}
    </svg>
  );
}
