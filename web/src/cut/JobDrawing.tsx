import type { JobSeen } from "../api/client";
import { formatSize, type Unit } from "../units";

/** Places that were missed are ringed, in mm. */
const RING = 2.5;

/** The outlines that are wanted, pale, and over them what was cut so far. */
export function JobDrawing({ job, unit }: { job: JobSeen; unit: Unit }) {
  const margin = 0.04 * Math.max(job.width, job.length);
  return (
    <svg
      role="img"
      aria-label={`${job.name}, ${formatSize(job.width, job.length, unit)}, ${Math.round(100 * job.share)} % cut`}
      data-testid="job"
      viewBox={`${-margin} ${-margin} ${job.width + 2 * margin} ${job.length + 2 * margin}`}
      className="min-h-0 w-full flex-1 p-3"
    >
      <rect width={job.width} height={job.length} rx={job.width / 90} className="fill-[#faf5ea] stroke-[#c4b9a3]" strokeWidth={1.25} vectorEffect="non-scaling-stroke" />
      <g fill="none" vectorEffect="non-scaling-stroke">
        <path d={job.wanted} className="stroke-ink/25" strokeWidth={1.25} vectorEffect="non-scaling-stroke" />
        <path d={job.cut} className="stroke-plum" strokeWidth={2} vectorEffect="non-scaling-stroke" />
        {job.missed.map(([x, y], index) => (
          <circle key={index} cx={x} cy={y} r={RING} className="stroke-brick" strokeWidth={1.5} vectorEffect="non-scaling-stroke" />
        ))}
      </g>
    </svg>
  );
}
