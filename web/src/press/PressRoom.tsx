import type { Design } from "../api/client";
import type { ShownProof } from "../state/useProof";
import { Chip } from "../ui/Chip";
import { formatCutLength, formatLength, formatSize } from "../units";
import { HeatBars } from "./HeatBars";
import { MaterialSentence } from "./MaterialSentence";
import { StepRow } from "./StepRow";
import { usePlan } from "./usePlan";

const nameOf = (design: Design, id: string) => design.plies.find((one) => one.id === id)?.name ?? "";

/** The press plan: a page to print, and what the materials say. */
export function PressRoom({ design, proof }: { design: Design; proof: ShownProof | null }) {
  const plan = usePlan(design);
  const { steps = [], heat = [], warnings = [], seconds = 0, seams = [], drift = 0 } = plan.data ?? {};
  const box = proof?.bounds;
  const used = design.materials.filter((one) => design.plies.some((ply) => ply.material === one.id));
  const count = new Set(steps.flatMap((step) => step.shown)).size;

  return (
    <>
      <main className="flex min-h-0 flex-1">
        <h1 className="sr-only">Press plan of {design.name}</h1>
        <section aria-label="Plan" className="min-w-0 flex-1 overflow-y-auto bg-bench p-5">
          <article data-print className="mx-auto max-w-175 rounded-lg border border-line bg-card p-8">
            <header className="flex items-start justify-between border-b border-line pb-4">
              <div>
                <h2 className="font-display text-[24px] leading-tight font-bold">{design.name}</h2>
                <p className="text-soft">
                  on {design.ground.name}
                  {box && `, ${formatSize(box[2] - box[0], box[3] - box[1], design.unit)}`}, {count === 1 ? "1 ply" : `${count} plies`}
                </p>
              </div>
              {seconds > 0 && (
                <div className="text-right">
                  <p className="font-display text-[20px] font-bold">{seconds} s of heat</p>
                  <p className="text-soft">one full press, at the end</p>
                </div>
              )}
            </header>
            {plan.isError && (
              <p role="alert" className="py-6">
                {plan.error.message}
              </p>
            )}
            {plan.data && steps.length === 0 && <p className="py-6 text-soft">Nothing to press yet: give a ply something to cut on the Bench.</p>}
            <ol>
              {steps.map((step, index) => (
                <StepRow key={index} step={step} number={index + 1} design={design} proof={proof} seams={seams} />
              ))}
            </ol>
          </article>
        </section>
        <section aria-label="Materials" className="flex w-75 shrink-0 flex-col gap-4 overflow-y-auto border-l border-line bg-card p-3.5">
          {heat.length > 0 && <HeatBars design={design} heat={heat} />}
          {used.map((material) => (
            <MaterialSentence key={material.id} material={material} />
          ))}
        </section>
      </main>
      <footer aria-label="Press check" className="flex h-14 shrink-0 items-center gap-2.5 border-t border-line bg-card px-4">
        <h2 className="mr-1 font-display text-[14px] font-bold whitespace-nowrap">Press check</h2>
        <ul className="flex min-w-0 flex-1 items-center gap-2.5 overflow-x-auto [scrollbar-width:none] py-1">
          {steps.length > 0 && warnings.length === 0 && seams.length === 0 && (
            <Chip level="holds">{heat.length > 0 ? "Every material within its heat" : "Nothing here needs heat"}</Chip>
          )}
          {warnings.map(({ level, text }) => (
            <Chip key={text} level={level}>
              {text}
            </Chip>
          ))}
          {seams.map(({ under, over, length }) => (
            <Chip key={`${under} ${over}`} level="look">
              {nameOf(design, over)} meets {nameOf(design, under)} along {formatCutLength(length, design.unit)}: {formatLength(drift, design.unit)} of drift would show
            </Chip>
          ))}
        </ul>
      </footer>
    </>
  );
}
