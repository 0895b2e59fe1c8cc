import type { SheetLaid } from "../api/client";
import { formatSize, type Unit } from "../units";
import { Laid } from "./Laid";

interface Props {
  sheets: SheetLaid[];
  at: number;
  unit: Unit;
  onChoose: (at: number) => void;
}

/** The sheets in the order they are cut, each small. */
export function SheetList({ sheets, at, unit, onChoose }: Props) {
  const all = sheets.reduce((sum, sheet) => sum + sheet.times, 0);
  return (
    <>
      <div className="flex items-baseline justify-between">
        <h2 className="font-display text-[15px] font-bold">Sheets</h2>
        <span className="text-soft">{all === 1 ? "1 sheet" : `${all} sheets`}</span>
      </div>
      <ul className="flex flex-col gap-2">
        {sheets.map((sheet, index) => (
          <li key={index}>
            <button
              type="button"
              aria-current={index === at}
              onClick={() => onChoose(index)}
              className="flex w-full items-center gap-3 rounded-[10px] border border-line p-2.5 text-left hover:border-plum aria-[current=true]:border-plum/40 aria-[current=true]:bg-plum-soft"
            >
              <svg aria-hidden viewBox={`0 0 ${sheet.width} ${sheet.used}`} className="h-13 w-16 shrink-0 rounded-md bg-[#faf5ea]">
                <Laid sheet={sheet} bare />
              </svg>
              <span className="min-w-0 flex-1 leading-snug">
                <span className="block truncate font-semibold">
                  {sheet.name}
                  {sheet.count > 1 && `, ${sheet.part || `${sheet.number} of ${sheet.count}`}`}
                </span>
                <span className="block truncate text-[#615866]">{sheet.material}</span>
                {sheet.times > 1 && <span className="block font-semibold">cut {sheet.times} times</span>}
                <span className="block text-[#615866]">
                  {formatSize(sheet.width, sheet.used, unit)}
                  {sheet.mirrored && ", mirrored"}
                  {sheet.turned && ", turned by a quarter"}
                </span>
              </span>
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}
