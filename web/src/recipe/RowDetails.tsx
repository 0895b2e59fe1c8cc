import { ArrowDown, ArrowUp, RotateCcw } from "lucide-react";
import type { ReactNode } from "react";
import type { Lettering, Row } from "../api/client";
import { useFonts } from "../api/queries";
import { lengthIn, PERCENT, type Unit } from "../units";
import { Button } from "../ui/Button";
import { IconButton } from "../ui/IconButton";
import { Pick } from "../ui/Pick";
import { FontChooser } from "./FontChooser";
import { RowGap } from "./slots/GapValue";
import { RangedValue } from "../fields/RangedValue";

interface Props {
  row: Row;
  index: number;
  line: Lettering;
  unit: Unit;
  onChange: (part: Partial<Row>) => void;
  /** to another place among the rows */
  onMove: (to: number) => void;
}

const FITS = { wide: "wide", tall: "tall" };
const SPACINGS = { clear: "apart", font: "beyond the font's" };

/** What a row has of its own: font, size, gaps, and a stretch that is meant. What it has not it shares. */
export function RowDetails({ row, index, line, unit, onChange, onMove }: Props) {
  const fonts = useFonts();
  const name = (id: string) => fonts.data?.find((font) => font.id === id)?.name ?? id;

  return (
    <div className="mt-1 grid grid-cols-[auto_1fr_auto] items-center gap-x-3 gap-y-1.5 rounded-lg bg-paper p-2.5">
      <Own name="Font" own={row.font != null} onReset={() => onChange({ font: null })}>
        <FontChooser
          label="Font of this row"
          words={row.text}
          chosen={row.font ?? line.font}
          onChoose={(font) => onChange({ font })}
          first={{ label: `As the others: ${name(line.font)}`, run: () => onChange({ font: null }) }}
          trigger={
            <button type="button" className="h-7 w-full truncate rounded-lg border border-line bg-card px-2 text-left hover:border-plum">
              {name(row.font ?? line.font)}
            </button>
          }
        />
      </Own>
      <Own name="Size" own={row.size != null || row.fit != null} onReset={() => onChange({ size: null, fit: null })}>
        <RangedValue of="Row.size" label="Size of this row" value={row.size ?? line.size} as={lengthIn(unit)} onChange={(size) => onChange({ size })} />{" "}
        <Pick
          label="Size of this row by"
          value={row.fit ?? line.fit}
          choices={FITS}
          onChange={(fit) => onChange({ fit: fit as "wide" | "tall", size: row.size ?? line.size })}
        />
      </Own>
      <Own name="Stretch" own={row.stretch !== 100} onReset={() => onChange({ stretch: 100 })}>
        <RangedValue of="Row.stretch" label="Stretch of this row" value={row.stretch} as={PERCENT} onChange={(stretch) => onChange({ stretch })} />{" "}
        of its own width
      </Own>
      <Own name="Letters" own={row.gap != null || row.spacing != null} onReset={() => onChange({ gap: null, spacing: null })}>
        <RangedValue of="Row.gap" label="Gap between letters of this row" value={row.gap ?? line.gap} as={lengthIn(unit)} onChange={(gap) => onChange({ gap })} />{" "}
        <Pick
          label="How letters of this row are spaced"
          value={row.spacing ?? line.spacing}
          choices={SPACINGS}
          onChange={(spacing) => onChange({ spacing: spacing as "clear" | "font" })}
        />
      </Own>
      {index > 0 && (
        <Own name="Row above" own={row.above != null} onReset={() => onChange({ above: null })}>
          <RowGap label="Gap to the row above" gap={row.above ?? line.row_gap} unit={unit} onChange={(above) => onChange({ above })} />
        </Own>
      )}
      {line.rows.length > 1 && (
        <div className="col-span-3 flex gap-1">
          <Button look="quiet" className="h-7! px-2!" disabled={index === 0} onClick={() => onMove(index - 1)}>
            <ArrowUp size={13} /> Row up
          </Button>
          <Button look="quiet" className="h-7! px-2!" disabled={index === line.rows.length - 1} onClick={() => onMove(index + 1)}>
            <ArrowDown size={13} /> Row down
          </Button>
        </div>
      )}
    </div>
  );
}

function Own({ name, own, onReset, children }: { name: string; own: boolean; onReset: () => void; children: ReactNode }) {
  return (
    <>
      <span>{name}</span>
      <span className="min-w-0">{children}</span>
      {own ? (
        <IconButton label={`${name} as the other rows`} className="size-6!" onClick={onReset}>
          <RotateCcw size={12} />
        </IconButton>
      ) : (
        <span className="size-6" />
      )}
    </>
  );
}
