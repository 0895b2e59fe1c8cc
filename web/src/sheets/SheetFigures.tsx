import type { SheetLaid } from "../api/client";
import { formatArea, formatCutLength, type Unit } from "../units";
import { formatTime } from "./time";

/** What one sheet takes: material, cutting, weeding, time. */
export function SheetFigures({ sheet, unit }: { sheet: SheetLaid; unit: Unit }) {
  const { kept, weeded, whole, cutting, pieces, small, seconds } = sheet.figures;
  const all = kept + weeded + whole || 1;
  const rows = [
    ["Kept", formatArea(kept, unit)],
    ["Weeded out", formatArea(weeded, unit)],
    ["Left whole", formatArea(whole, unit)],
    ["Length of cut", formatCutLength(cutting, unit)],
    ["Pieces", small > 0 ? `${pieces}, ${small} of them small` : String(pieces)],
    ["About", formatTime(seconds)],
  ];
  return (
    <div>
      <h2 className="font-display text-[15px] font-bold">This sheet</h2>
      <div aria-hidden className="mt-2 flex h-2 overflow-hidden rounded-full bg-line">
        <span style={{ width: `${(100 * kept) / all}%`, background: sheet.colour }} />
        <span style={{ width: `${(100 * weeded) / all}%`, background: sheet.colour, opacity: 0.35 }} />
      </div>
      <dl className="mt-2 flex flex-col gap-1">
        {rows.map(([name, value]) => (
          <div key={name} className="flex justify-between">
            <dt className="text-soft">{name}</dt>
            <dd className="font-semibold tabular-nums">{value}</dd>
          </div>
        ))}
      </dl>
    </div>
  );
}
