import type { Machine } from "../api/client";
import { NumberValue } from "../fields/NumberValue";
import { formatLength, formatSize, lengthIn, type Unit } from "../units";
import { useCutter, useFitBlade } from "./useJobs";

/** The cutter on the wire: its bed, the knife in it, what is on its memory stick. */
export function CutterPanel({ machine, unit }: { machine: Machine | undefined; unit: Unit }) {
  const cutter = useCutter();
  const fit = useFitBlade();
  if (cutter.isError) return <p className="border-t border-line pt-3 text-soft">{cutter.error.message}</p>;
  if (!cutter.data) return null;
  const { width, length, blade, stick } = cutter.data;
  const led = machine?.blade ?? 0;
  return (
    <div className="border-t border-line pt-3">
      <h2 className="font-display text-[15px] font-bold">The cutter on the wire</h2>
      <p className="mt-1 leading-[1.9]">
        A simulated one, {formatSize(width, length, unit)}. The tip of its knife trails by{" "}
        <NumberValue label="Knife in the cutter" value={blade} as={lengthIn(unit)} low={0} high={2} step={0.05} onChange={(offset) => fit.mutate(offset)} />.
      </p>
      {Math.abs(blade - led) > 1e-6 && (
        <p className="mt-1 rounded-lg border border-saffron/50 bg-saffron-soft px-2.5 py-1.5 leading-snug">
          {machine?.name} leads a knife that trails by {formatLength(led, unit)}: corners will be off. Make both the same.
        </p>
      )}
      <p className="mt-2 text-soft">
        {stick.length === 0 ? "Its memory stick holds nothing it can read." : `On its memory stick: ${stick.length === 1 ? "1 file" : `${stick.length} files`} of HP-GL.`}
      </p>
    </div>
  );
}
