import { Plus, SlidersHorizontal, X } from "lucide-react";
import { useState } from "react";
import type { Lettering, Row } from "../../api/client";
import { keptByHand, withValue } from "../../bench/edits";
import { gesture } from "../../bench/store";
import type { Unit } from "../../units";
import { Button } from "../../ui/Button";
import { IconButton } from "../../ui/IconButton";
import { Pick } from "../../ui/Pick";
import { Pop } from "../../ui/Pop";
import { Phrase } from "../../ui/Phrase";
import { RowDetails } from "../RowDetails";
import { type SlotProps, VALUE } from "./types";

const CASES = { typed: "As typed", upper: "CAPITALS", title: "Title Case" };
const blank = (): Row => ({ text: "", font: null, size: null, stretch: 100, own: [] });

/** The words, row by row; typing shows on the proof as it happens. */
export function RowsValue({ design, line, value, slot, onChange }: SlotProps) {
  const rows = value as Row[];
  const shown = rows.map((row) => row.text.trim()).filter(Boolean);
  if (line.kind !== "letter") return null;

  return (
    <Pop
      label={slot.label}
      width={316}
      onOpenChange={(open) => {
        if (open) gesture.begin();
        else gesture.end();
      }}
      trigger={
        <Phrase aria-label={`Words: ${shown.join(" over ") || "no words yet"}`} className="cursor-pointer rounded-sm">
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
        </Phrase>
      }
    >
      <RowsEditor line={line} rows={rows} unit={design.unit} onChange={onChange} />
    </Pop>
  );
}

interface EditorProps {
  line: Lettering;
  rows: Row[];
  unit: Unit;
  onChange: (rows: Row[]) => void;
}

function RowsEditor({ line, rows, unit, onChange }: EditorProps) {
  const [detailed, setDetailed] = useState<number | null>(null);
  const setRow = (index: number, part: Partial<Row>) =>
    onChange(rows.map((one, i) => (i === index ? { ...one, ...part } : one)));

  return (
    <>
      <ul className="flex flex-col gap-2">
        {rows.map((row, index) => (
          <li key={index}>
            <div className="flex items-center gap-1">
              <input
                aria-label={`Row ${index + 1}`}
                autoFocus={index === 0}
                value={row.text}
                maxLength={200}
                onChange={(event) => {
                  const text = event.target.value;
                  setRow(index, { text, own: keptByHand(row.own, row.text, text) });
                }}
                onFocus={(event) => event.target.select()}
                onKeyDown={(event) => {
                  if (event.key === "Enter") onChange(rows.toSpliced(index + 1, 0, blank()));
                }}
                className="h-8 min-w-0 flex-1 rounded-lg border border-line bg-card px-2 hover:border-plum"
              />
              <IconButton
                label={`Font, size and gaps of row ${index + 1}`}
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
              <RowDetails row={row} first={index === 0} line={line} unit={unit} onChange={(part) => setRow(index, part)} />
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
    </>
  );
}
