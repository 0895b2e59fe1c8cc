import type { Machine, Machines } from "../api/client";
import { useChangeMachines } from "./useSheets";

interface Answer {
  says: string;
  suits: string;
  machine: string;
  reads: Machine["reads"];
  /** a line drawing of it, in a box of 48 by 32 */
  d: string;
}

const ANSWERS: Answer[] = [
  {
    says: "A home cutter, through its own program",
    suits: "SVG in mm",
    machine: "home",
    reads: "svg-mm",
    d: "M4 24h40v-9l-5-5H9l-5 5zM9 10V6h30v4M12 18h24M20 18v3M28 27l3-3M8 24v4h32v-4",
  },
  {
    says: "A vinyl cutter, on a wire or by a memory stick",
    suits: "HP-GL, knife led",
    machine: "sandpiper",
    reads: "hpgl",
    d: "M3 9h42v8H3zM7 17v11M41 17v11M3 28h8M37 28h8M14 17v12M34 17v12M14 29q10 4 20 0M24 9v11M22 20h4l-2 3z",
  },
  {
    says: "A sign shop’s or drawing program",
    suits: "DXF in mm",
    machine: "home",
    reads: "dxf-mm",
    d: "M6 4h36v21H6zM20 25v4M28 25v4M14 29h20M12 20l7-9 6 6 5-4 6 7z",
  },
];

/** Asked once: what cuts the sheets, with what each kind of file suits. */
export function AskMachine({ machines: { machines } }: { machines: Machines }) {
  const change = useChangeMachines();
  const take = ({ machine, reads }: Answer) =>
    change.mutate({ chosen: machine, machines: machines.map((one) => (one.id === machine ? { ...one, reads } : one)) });
  return (
    <fieldset className="rounded-[10px] border border-plum/40 bg-plum-soft p-3">
      <legend className="px-1 font-display text-[14px] font-bold">What cuts it?</legend>
      <ul className="flex flex-col gap-1.5">
        {ANSWERS.map((answer) => (
          <li key={answer.says}>
            <button
              type="button"
              onClick={() => take(answer)}
              className="flex w-full items-center gap-3 rounded-lg border border-line bg-card px-2.5 py-2 text-left leading-snug hover:border-plum"
            >
              <svg aria-hidden viewBox="0 0 48 34" className="h-8 w-11 shrink-0 fill-none stroke-plum" strokeWidth={1.6} strokeLinejoin="round">
                <path d={answer.d} />
              </svg>
              <span>
                <span className="block font-semibold">{answer.says}</span>
                <span className="block text-soft">{answer.suits}</span>
              </span>
            </button>
          </li>
        ))}
      </ul>
    </fieldset>
  );
}
