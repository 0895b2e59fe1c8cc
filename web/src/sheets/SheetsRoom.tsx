import { useState } from "react";
import type { Design, Machine } from "../api/client";
import { Looks } from "../ui/Looks";
import { AskMachine } from "./AskMachine";
import { Foot } from "./Foot";
import { MachinePanel } from "./MachinePanel";
import { NestBar } from "./NestBar";
import { OrderBar } from "./OrderBar";
import { SheetDrawing, type SheetLook } from "./SheetDrawing";
import { SheetFigures } from "./SheetFigures";
import { SheetList } from "./SheetList";
import { SheetSentence } from "./SheetSentence";
import { StockSentence } from "./StockSentence";
import { useMachines, useSheets } from "./useSheets";

const LOOKS: Record<SheetLook, string> = { lies: "As it lies", order: "Cut order", weeding: "Weeding" };

/** Every ply as it lies in the machine, the order it is cut in, and what it takes. */
export function SheetsRoom({ design }: { design: Design }) {
  const machines = useMachines().data;
  const machine = machines?.machines.find((one) => one.id === machines.chosen);
  const laid = useSheets(design, machine && JSON.stringify(machine));
  const [at, setAt] = useState(0);
  const [look, setLook] = useState<SheetLook>("lies");
  const [done, setDone] = useState(0);
  const sheets = laid.data?.sheets ?? [];
  const sheet = sheets[Math.min(at, sheets.length - 1)];

  return (
    <>
      <main className="flex min-h-0 flex-1">
        <h1 className="sr-only">Sheets of {design.name}</h1>
        <section aria-label="Sheets" className="flex w-67 shrink-0 flex-col gap-3 overflow-y-auto border-r border-line bg-card p-3.5">
          <SheetList
            sheets={sheets}
            at={at}
            unit={design.unit}
            onChoose={(next) => {
              setAt(next);
              setDone(0);
            }}
          />
          <SheetSentence design={design} />
          {laid.data && <NestBar design={design} nesting={laid.data.nesting} />}
        </section>
        <section aria-label="This sheet as it lies" className="relative flex min-w-0 flex-1 flex-col bg-bench">
          <div className="flex h-13 shrink-0 items-center justify-center">
            <Looks looks={LOOKS} look={look} onLook={setLook} />
          </div>
          {sheet && <SheetDrawing sheet={sheet} mat={matOf(machine)} look={look} done={done} unit={design.unit} />}
          {sheet && look === "order" && <OrderBar sheet={sheet} done={done} onDone={setDone} />}
          {laid.isError && (
            <p role="alert" className="m-auto max-w-110 p-6 text-center">
              {laid.error.message}
            </p>
          )}
          {laid.isPending && <p className="m-auto text-soft">Laying the plies out…</p>}
        </section>
        <section aria-label="What it takes" className="flex w-75 shrink-0 flex-col gap-4 overflow-y-auto border-l border-line bg-card p-3.5">
          {machines && !machines.known && <AskMachine machines={machines} />}
          {sheet && <SheetFigures sheet={sheet} unit={design.unit} />}
          {sheet && <StockSentence design={design} sheet={sheet} onMat={machine?.fed === "mat"} />}
          {machines && <MachinePanel machines={machines} unit={design.unit} files={sheets.map((one) => one.file)} />}
        </section>
      </main>
      <Foot sheets={sheets} warnings={laid.data?.warnings ?? []} marks={design.sheets.marks !== "none" && !(design.sheets.layout === "packed" && design.sheets.keeps === "pieces")} unit={design.unit} />
    </>
  );
}

const matOf = (machine: Machine | undefined) => (machine?.fed === "mat" ? { width: machine.mat_width, length: machine.mat_length } : undefined);
