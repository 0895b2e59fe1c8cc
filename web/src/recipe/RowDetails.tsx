import { RotateCcw } from "lucide-react";
import type { ReactNode } from "react";
import type { Lettering, Row } from "../api/client";
import { useFonts } from "../api/queries";
import type { Unit } from "../units";
import { IconButton } from "../ui/IconButton";
import { Pick } from "../ui/Pick";
import { FontChooser } from "./FontChooser";
import { LengthValue } from "./slots/LengthValue";

interface Props {
  row: Row;
  first: boolean;
  line: Lettering;
  unit: Unit;
  onChange: (part: Partial<Row>) => void;
}

const FITS = { wide: "wide", tall: "tall" };
const SPACINGS = { clear: "apart", font: "beyond the font's" };
const GAPS = { mm: "clear", percent: "of its height" };

const percent = {
  format: (value: number) => `${Number(value.toFixed(1))} %`,
  parse: (typed: string) => {
    const number = Number(typed.replace("%", ""));
    return typed.trim() && Number.isFinite(number) ? number : null;
  },
};

/** What a row has of its own: font, size, gaps, and a stretch that is meant. What it has not it shares. */
export function RowDetails({ row, first, line, unit, onChange }: Props) {
  const fonts = useFonts();
  const name = (id: string) => fonts.data?.find((font) => font.id === id)?.name ?? id;
  const above = row.above ?? line.row_gap;

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
        <LengthValue label="Size of this row" mm={row.size ?? line.size} unit={unit} low={1} high={3000} step={1} onChange={(size) => onChange({ size })} />{" "}
        <Pick
          label="Size of this row by"
          value={row.fit ?? line.fit}
          choices={FITS}
          onChange={(fit) => onChange({ fit: fit as "wide" | "tall", size: row.size ?? line.size })}
        />
      </Own>
      <Own name="Stretch" own={row.stretch !== 100} onReset={() => onChange({ stretch: 100 })}>
        <LengthValue label="Stretch of this row" mm={row.stretch} unit="mm" low={20} high={500} step={1} {...percent} onChange={(stretch) => onChange({ stretch })} />{" "}
        of its own width
      </Own>
      <Own name="Letters" own={row.gap != null || row.spacing != null} onReset={() => onChange({ gap: null, spacing: null })}>
        <LengthValue label="Gap between letters of this row" mm={row.gap ?? line.gap} unit={unit} low={-20} high={200} step={0.1} onChange={(gap) => onChange({ gap })} />{" "}
        <Pick
          label="How letters of this row are spaced"
          value={row.spacing ?? line.spacing}
          choices={SPACINGS}
          onChange={(spacing) => onChange({ spacing: spacing as "clear" | "font" })}
        />
      </Own>
      {!first && (
        <Own name="Row above" own={row.above != null} onReset={() => onChange({ above: null })}>
          <LengthValue
            label="Gap to the row above"
            mm={above.value}
            unit={above.of === "mm" ? unit : "mm"}
            low={-200}
            high={500}
            step={0.5}
            {...(above.of === "percent" ? percent : {})}
            onChange={(value) => onChange({ above: { ...above, value } })}
          />{" "}
          <Pick
            label="Gap to the row above in"
            value={above.of}
            choices={GAPS}
            onChange={(of) => onChange({ above: { value: of === "percent" ? 75 : 3, of: of as "mm" | "percent" } })}
          />
        </Own>
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
