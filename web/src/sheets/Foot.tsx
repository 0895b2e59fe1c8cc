import type { SheetLaid } from "../api/client";
import { Chip } from "../ui/Chip";
import { formatArea, formatCutLength, type Unit } from "../units";

interface Props {
  sheets: SheetLaid[];
  warnings: string[];
  marks: boolean;
  unit: Unit;
}

/** What holds and what needs a look, and what all sheets take together. */
export function Foot({ sheets, warnings, marks, unit }: Props) {
  const small = sheets.filter((sheet) => sheet.figures.small > 0);
  const sum = (of: (sheet: SheetLaid) => number) => sheets.reduce((total, sheet) => total + sheet.times * of(sheet), 0);
  return (
    <footer aria-label="Sheet check" className="flex h-14 shrink-0 items-center gap-2.5 border-t border-line bg-card px-4">
      <h2 className="mr-1 font-display text-[14px] font-bold whitespace-nowrap">Sheet check</h2>
      <ul className="flex min-w-0 flex-1 items-center gap-2.5 overflow-x-auto [scrollbar-width:none] py-1">
        {sheets.length > 0 && (
          <Chip level="holds">
            {sum(() => 1) === 1 ? "1 sheet" : `${sum(() => 1)} sheets`}
            {marks && sheets.length > 1 && ", same marks"}
          </Chip>
        )}
        {warnings.map((text) => (
          <Chip key={text} level="look">
            {text}
          </Chip>
        ))}
        {small.map((sheet) => (
          <Chip key={`${sheet.ply} ${sheet.number}`} level="look">
            {sheet.figures.small} small {sheet.figures.small === 1 ? "piece" : "pieces"} of {sheet.name} to weed
          </Chip>
        ))}
      </ul>
      {sheets.length > 0 && (
        <p className="shrink-0 text-soft tabular-nums">
          {formatArea(sum((sheet) => sheet.width * sheet.used), unit)} of material · {formatCutLength(sum((sheet) => sheet.figures.cutting), unit)} of cutting
        </p>
      )}
    </footer>
  );
}
