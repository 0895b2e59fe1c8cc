import { Pause, Play } from "lucide-react";
import { useState } from "react";
import type { Design } from "../api/client";
import { SheetList } from "../sheets/SheetList";
import { useMachines, useSheets } from "../sheets/useSheets";
import { Button } from "../ui/Button";
import { Chip } from "../ui/Chip";
import { say } from "../ui/notices";
import { Comparison } from "./Comparison";
import { CutterPanel } from "./CutterPanel";
import { JobDrawing } from "./JobDrawing";
import { JobList } from "./JobList";
import { useCut, useJob, useJobs, usePressButton, useWriteToStick } from "./useJobs";
import { saysOf, wrongWith } from "./words";

interface Props {
  id: string;
  design: Design;
  saveNow: () => Promise<number>;
}

/** Sheets on their way: sent to the cutter or carried over, followed while they are cut, compared afterwards. */
export function CutRoom({ id, design, saveNow }: Props) {
  const machines = useMachines().data;
  const machine = machines?.machines.find((one) => one.id === machines.chosen);
  const laid = useSheets(design, machine && JSON.stringify(machine));
  const sheets = laid.data?.sheets ?? [];
  const [at, setAt] = useState(0);
  const sheet = Math.min(at, sheets.length - 1);
  const jobs = useJobs(id).data ?? [];
  const [picked, setPicked] = useState<string>();
  const chosen = jobs.some((job) => job.id === picked) ? picked : jobs[0]?.id;
  const job = useJob(id, chosen).data;
  const cut = useCut(id, saveNow, (sent) => {
    setPicked(sent.id);
    say(`${sent.name} is on its way to the cutter.`);
  });
  const write = useWriteToStick(id, saveNow);
  const press = usePressButton();
  const unit = design.unit;

  return (
    <>
      <main className="flex min-h-0 flex-1">
        <h1 className="sr-only">Cut of {design.name}</h1>
        <section aria-label="To be cut" className="flex w-67 shrink-0 flex-col gap-3 overflow-y-auto border-r border-line bg-card p-3.5">
          <SheetList sheets={sheets} at={sheet} unit={unit} onChoose={setAt} />
          {laid.isError && <p role="alert">{laid.error.message}</p>}
          {sheets.length > 0 && machines?.wired && (
            <div className="sticky -bottom-3.5 -mb-3.5 flex flex-col gap-2 border-t border-line bg-card pt-3 pb-3.5">
              <Button look="main" disabled={cut.isPending} onClick={() => cut.mutate({ sheet, by: "wire" })}>
                {cut.isPending ? "Sending…" : "Send this sheet to the cutter"}
              </Button>
              <Button disabled={write.isPending} onClick={() => write.mutate()}>
                Write all to the memory stick
              </Button>
              <Button disabled={cut.isPending} onClick={() => cut.mutate({ sheet, by: "stick" })}>
                Cut this sheet from the stick
              </Button>
            </div>
          )}
          {machines && !machines.wired && <p className="text-soft">No cutter is connected here. Download the sheets to carry them over.</p>}
        </section>
        <section aria-label="This cut" className="flex min-w-0 flex-1 flex-col bg-bench">
          {job ? (
            <>
              <div className="flex h-13 shrink-0 items-center gap-3 px-4">
                <p className="min-w-0 flex-1 truncate font-semibold">{job.name}</p>
                {job.state === "cutting" && (
                  <Button onClick={() => press.mutate("pause")}>
                    <Pause size={15} /> Pause the cutter
                  </Button>
                )}
                {job.state === "paused" && (
                  <Button onClick={() => press.mutate("go-on")}>
                    <Play size={15} /> Go on cutting
                  </Button>
                )}
                {job.state === "out of material" && <Button onClick={() => press.mutate("load")}>Material is in</Button>}
              </div>
              <JobDrawing job={job} unit={unit} />
            </>
          ) : (
            <p className="m-auto max-w-80 text-center text-soft">What is sent to the cutter is drawn here as it is cut, over the outlines that are wanted.</p>
          )}
        </section>
        <section aria-label="Sent" className="flex w-75 shrink-0 flex-col gap-4 overflow-y-auto border-l border-line bg-card p-3.5">
          <h2 className="font-display text-[15px] font-bold">Sent</h2>
          <JobList jobs={jobs} chosen={chosen} unit={unit} onChoose={setPicked} />
          {job?.found && <Comparison found={job.found} unit={unit} />}
          {machines?.wired && <CutterPanel machine={machine} unit={unit} />}
        </section>
      </main>
      <footer aria-label="As cut" className="flex h-14 shrink-0 items-center gap-2.5 border-t border-line bg-card px-4">
        <h2 className="mr-1 font-display text-[14px] font-bold whitespace-nowrap">As cut</h2>
        <ul className="flex min-w-0 flex-1 items-center gap-2.5 overflow-x-auto [scrollbar-width:none] py-1">
          {job && !job.found && <Chip level="look">{saysOf(job, unit)}</Chip>}
          {job?.found && wrongWith(job.found, unit).length === 0 && <Chip level="holds">{saysOf(job, unit)}</Chip>}
          {job?.found && wrongWith(job.found, unit).map((text) => <Chip key={text} level="look">{text}</Chip>)}
        </ul>
      </footer>
    </>
  );
}
