import type { JobSeen } from "../api/client";
import { formatLength, type Unit } from "../units";

/** What the cutter says it cut, laid over the design, in figures. */
export function Comparison({ found, unit }: { found: NonNullable<JobSeen["found"]>; unit: Unit }) {
  const rows: [string, string, boolean][] = [
    ["Farthest off an outline", `${found.deviation.toFixed(3)} mm`, false],
    ["Missing", found.missing > 0 ? formatLength(Math.round(found.missing), unit) : "nothing", found.missing > 0],
    ["Cut twice", found.twice > 0 ? formatLength(Math.round(found.twice), unit) : "nothing", found.twice > 0],
    ["Way round", found.mirrored ? "mirrored" : "as designed", found.mirrored],
  ];
  return (
    <div className="border-t border-line pt-3">
      <h2 className="font-display text-[15px] font-bold">As it was cut</h2>
      <dl className="mt-2 flex flex-col gap-1">
        {rows.map(([name, value, wrong]) => (
          <div key={name} className="flex justify-between">
            <dt className="text-soft">{name}</dt>
            <dd className={`font-semibold tabular-nums ${wrong ? "text-brick" : ""}`}>{value}</dd>
          </div>
        ))}
      </dl>
    </div>
  );
}
