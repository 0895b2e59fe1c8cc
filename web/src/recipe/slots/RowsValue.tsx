import { Plus, SlidersHorizontal, X } from "lucide-react";
import { useState } from "react";
import type { Line } from "../../api/client";
import { useFonts } from "../../api/queries";
import { gesture, withValue } from "../../bench/store";
import type { Unit } from "../../units";
import { Button } from "../../ui/Button";
import { IconButton } from "../../ui/IconButton";
import { Pick } from "../../ui/Pick";
import { Pop } from "../../ui/Pop";
import { LengthValue } from "./LengthValue";
import { type SlotProps, VALUE } from "./types";

type Lettering = Extract<Line, { kind: "letter" }>;
type Row = Lettering["rows"][number];

const SHARED = "shared";
const CASES = { typed: "As typed", upper: "CAPITALS", title: "Title Case" };
const blank = (): Row => ({ text: "", font: null, size: null, stretch: 100 });

/** The words, row by row; typing shows on the proof as it happens. */
export function RowsValue({ design, line, value, slot, onChange }: SlotProps) {
  const [detailed, setDetailed] = useState<number | null>(null);
  const rows = value as Row[];
  const shown = rows.map((row) => row.text.trim()).filter(Boolean);
  const setRow = (index: number, part: Partial<Row>) =>
    onChange(rows.map((one, i) => (i === index ? { ...one, ...part } : one)));
  if (line.kind !== "letter") return null;

  return (
    <Pop
      label={slot.label}
      width={316}
      onOpenChange={(open) => {
        if (open) gesture.begin();
        else gesture.end();
        setDetailed(null);
      }}
      trigger={
        <button type="button" aria-label={`Words: ${shown.join(" over ") || "no words yet"}`} className="rounded-sm text-left">
          {shown.length === 0 ? (
            <span className={VALUE}>no words yet</span>
          ) : (
            shown.map((text, index) => (
              <span key={index}>
                {index > 0 && " over "}
                <span className={VALUE}>{text}</span>
              </span>
            ))
          )}
        </button>
      }
    >
      <ul className="flex flex-col gap-2">
        {rows.map((row, index) => (
          <li key={index}>
            <div className="flex items-center gap-1">
              <input
                aria-label={`Row ${index + 1}`}
                autoFocus={index === 0}
                value={row.text}
                maxLength={200}
                onChange={(event) => setRow(index, { text: event.target.value })}
                onFocus={(event) => event.target.select()}
                onKeyDown={(event) => {
                  if (event.key === "Enter") onChange(rows.toSpliced(index + 1, 0, blank()));
                }}
                className="h-8 min-w-0 flex-1 rounded-lg border border-line bg-card px-2 hover:border-plum"
              />
              <IconButton
                label={`Font and size of row ${index + 1}`}
                aria-expanded={detailed === index}
                className="aria-expanded:bg-plum-soft"
                onClick={() => setDetailed(detailed === index ? null : index)}
              >
                <SlidersHorizontal size={14} />
              </IconButton>
              <IconButton
                label={`Remove row ${index + 1}`}
                disabled={rows.length === 1}
                onClick={() => onChange(rows.filter((_, i) => i !== index))}
              >
                <X size={14} />
              </IconButton>
            </div>
            {detailed === index && (
              <RowDetails row={row} line={line} unit={design.unit} onChange={(part) => setRow(index, part)} />
            )}
          </li>
        ))}
      </ul>
      <div className="mt-2 flex items-center justify-between gap-3">
        <Button look="quiet" onClick={() => onChange([...rows, blank()])}>
          <Plus size={14} /> Add a row
        </Button>
        <div className="w-32">
          <Pick
            label="Letters as"
            look="field"
            value={line.case}
            choices={CASES}
            onChange={(chosen) => gesture.change((now) => withValue(now, line.id, "case", chosen))}
          />
        </div>
      </div>
    </Pop>
  );
}

interface DetailsProps {
  row: Row;
  line: Lettering;
  unit: Unit;
  onChange: (part: Partial<Row>) => void;
}

/** What a row has of its own: font, size, and a stretch that is meant. */
function RowDetails({ row, line, unit, onChange }: DetailsProps) {
  const fonts = useFonts();
  const names = Object.fromEntries(fonts.data?.map((font) => [font.id, font.name]) ?? []);
  const across = line.fit === "wide" ? "wide" : "tall";

  return (
    <div className="mt-1 grid grid-cols-[auto_1fr_auto] items-center gap-x-3 gap-y-2 rounded-lg bg-paper p-2.5">
      <span>Font</span>
      <div className="col-span-2">
        <Pick
          label="Font of this row"
          look="field"
          value={row.font ?? SHARED}
          choices={{ [SHARED]: `as the others: ${names[line.font] ?? line.font}`, ...names }}
          onChange={(font) => onChange({ font: font === SHARED ? null : font })}
        />
      </div>
      <span>Size</span>
      <span>
        <LengthValue
          label="Size of this row"
          mm={row.size ?? line.size}
          unit={unit}
          low={1}
          high={3000}
          step={1}
          onChange={(size) => onChange({ size })}
        />{" "}
        {across}
      </span>
      {row.size === null || row.size === undefined ? (
        <span className="text-soft">as the others</span>
      ) : (
        <Button look="quiet" className="h-6! px-1.5!" onClick={() => onChange({ size: null })}>
          As the others
        </Button>
      )}
      <span>Stretch</span>
      <LengthValue
        label="Stretch of this row"
        mm={row.stretch}
        unit="mm"
        low={20}
        high={500}
        step={1}
        format={(percent) => `${Number(percent.toFixed(1))} %`}
        parse={(typed) => {
          const number = Number(typed.replace("%", ""));
          return typed.trim() && Number.isFinite(number) ? number : null;
        }}
        onChange={(stretch) => onChange({ stretch })}
      />
      <span className="text-soft">of its own width</span>
    </div>
  );
}
