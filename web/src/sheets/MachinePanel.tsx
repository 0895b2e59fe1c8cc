import { Settings2 } from "lucide-react";
import type { Machine, Machines } from "../api/client";
import { freeId } from "../design/edits";
import { NumberValue } from "../fields/NumberValue";
import { IconButton } from "../ui/IconButton";
import { Pick } from "../ui/Pick";
import { Pop } from "../ui/Pop";
import { TextField } from "../ui/TextField";
import { Button } from "../ui/Button";
import { formatSize, lengthIn, SPEED, type Unit } from "../units";
import { useChangeMachines } from "./useSheets";

const NEW = "+";
const FED: Record<Machine["fed"], string> = { free: "material as it is", mat: "material on a mat" };

/** The machine that cuts, and what its files are called before they are made. */
export function MachinePanel({ machines: { machines, chosen, reads }, unit, files }: { machines: Machines; unit: Unit; files: string[] }) {
  const change = useChangeMachines();
  const machine = machines.find((one) => one.id === chosen);
  if (!machine) return null;
  const set = (part: Partial<Machine>) =>
    change.mutate({ chosen, machines: machines.map((one) => (one.id === chosen ? { ...one, ...part } : one)) });

  function choose(id: string) {
    if (id !== NEW) {
      change.mutate({ machines, chosen: id });
      return;
    }
    const fresh = freeId("m", machines.map((one) => one.id));
    if (machine) change.mutate({ machines: [...machines, { ...machine, id: fresh, name: "New cutter" }], chosen: fresh });
  }

  return (
    <div className="border-t border-line pt-3">
      <div className="flex items-center justify-between">
        <h2 className="font-display text-[15px] font-bold">Cutter</h2>
        <Pop
          label={`Settings of ${machine.name}`}
          side="left"
          trigger={
            <IconButton label={`Settings of ${machine.name}`}>
              <Settings2 size={15} />
            </IconButton>
          }
        >
          <div className="flex flex-col gap-3">
            <TextField label="Name" value={machine.name} maxLength={80} onText={(name) => name && set({ name })} />
            <p className="leading-[1.9]">
              Takes {side("Width", machine.width, 5000, unit, (width) => set({ width }))} of width and{" "}
              {side("Length", machine.length, 50_000, unit, (length) => set({ length }))} of length, cuts at{" "}
              <NumberValue label="Cutting speed" value={machine.speed} as={SPEED} low={1} high={2000} step={5} onChange={(speed) => set({ speed })} /> and moves
              lifted at{" "}
              <NumberValue label="Lifted speed" value={machine.travel} as={SPEED} low={1} high={2000} step={5} onChange={(travel) => set({ travel })} />.
            </p>
            <p className="leading-[1.9]">
              It is fed <Pick label="How it is fed" value={machine.fed} choices={FED} onChange={(fed) => set({ fed: fed as Machine["fed"] })} />
              {machine.fed === "mat" && (
                <>
                  {" "}
                  that can be cut on over {side("Width of the mat", machine.mat_width, 5000, unit, (wide) => set({ mat_width: wide }))} by{" "}
                  {side("Length of the mat", machine.mat_length, 50_000, unit, (long) => set({ mat_length: long }))}
                </>
              )}
              .
            </p>
            {machine.reads === "hpgl" && (
              <p className="leading-[1.9]">
                Its knife trails by{" "}
                <NumberValue label="Knife offset" value={machine.blade} as={lengthIn(unit)} low={0} high={2} step={0.05} onChange={(blade) => set({ blade })} />, led
                round corners accordingly, and cuts{" "}
                <NumberValue label="Overcut" value={machine.overcut} as={lengthIn(unit)} low={0} high={20} step={0.5} onChange={(overcut) => set({ overcut })} /> past
                each start.
              </p>
            )}
            {machines.length > 1 && (
              <Button look="quiet" className="text-brick" onClick={() => change.mutate(without(machines, chosen))}>
                Remove this cutter
              </Button>
            )}
          </div>
        </Pop>
      </div>
      <div className="mt-2 flex flex-col gap-2">
        <Pick
          label="Cutter"
          look="field"
          value={chosen}
          choices={{ ...Object.fromEntries(machines.map((one) => [one.id, one.name])), [NEW]: "another cutter" }}
          onChange={choose}
        />
        <p className="leading-[1.9]">
          {machine.fed === "mat"
            ? `On a mat of ${formatSize(machine.mat_width, machine.mat_length, unit)}`
            : formatSize(machine.width, machine.length, unit)}
          , reads{" "}
          <Pick label="What it reads" value={machine.reads} choices={reads} onChange={(next) => set({ reads: next as Machine["reads"] })} />
        </p>
      </div>
      {files.length > 0 && (
        <>
          <h3 className="mt-3 font-semibold">In the zip</h3>
          <ul className="mt-1 flex flex-col gap-1 text-soft">
            {files.map((file) => (
              <li key={file} className="break-words">
                {file}
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}

const without = (machines: Machine[], id: string) => {
  const rest = machines.filter((one) => one.id !== id);
  return { machines: rest, chosen: rest[0]?.id ?? "" };
};

const side = (label: string, value: number, high: number, unit: Unit, onChange: (value: number) => void) => (
  <NumberValue label={label} value={value} as={lengthIn(unit)} low={20} high={high} step={5} onChange={onChange} />
);
