import { Progress } from "radix-ui";
import type { CutJob } from "../api/client";
import type { Unit } from "../units";
import { saysOf } from "./words";
import { isOver } from "./useJobs";

interface Props {
  jobs: CutJob[];
  chosen: string | undefined;
  unit: Unit;
  onChoose: (id: string) => void;
}

/** What was sent to the cutter, newest first; one of them is looked at. */
export function JobList({ jobs, chosen, unit, onChoose }: Props) {
  if (jobs.length === 0) return <p className="text-soft">Nothing yet. Choose a sheet on the left and send it.</p>;
  return (
    <ul aria-label="Sent to the cutter" className="flex flex-col gap-2">
      {jobs.map((job) => (
        <li key={job.id}>
          <button
            type="button"
            aria-current={job.id === chosen}
            onClick={() => onChoose(job.id)}
            className="w-full rounded-[10px] border border-line p-2.5 text-left hover:border-plum aria-[current=true]:border-plum/40 aria-[current=true]:bg-plum-soft"
          >
            <span className="block leading-snug font-semibold break-words">{job.name}</span>
            {!isOver(job) && (
              <Progress.Root aria-label={`Cut of ${job.name}`} value={100 * job.share} className="my-1 h-1.5 overflow-hidden rounded-full bg-line">
                <Progress.Indicator className="h-full rounded-full bg-plum" style={{ width: `${100 * job.share}%` }} />
              </Progress.Root>
            )}
            <span className="block text-[#615866]">{saysOf(job, unit)}</span>
          </button>
        </li>
      ))}
    </ul>
  );
}
