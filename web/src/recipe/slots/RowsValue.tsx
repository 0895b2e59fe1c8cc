import { Plus, SlidersHorizontal, X } from "lucide-react";
import { type ClipboardEvent, type KeyboardEvent, useEffect, useRef, useState } from "react";
import type { Lettering, Row } from "../../api/client";
import { moved, withValue } from "../../design/edits";
import { isLettering, keptByHand } from "../../design/lettering";
import { OneStep } from "../../state/OneStep";
import { gesture } from "../../state/store";
import { useAsked } from "../../state/useAsked";
import type { Unit } from "../../units";
import { Button } from "../../ui/Button";
import { IconButton } from "../../ui/IconButton";
import { Pick } from "../../ui/Pick";
import { Pop } from "../../ui/Pop";
import { Phrase } from "../../ui/Phrase";
import { RowDetails } from "../RowDetails";
import { VALUE } from "../../ui/value";
import type { SlotProps } from "./types";

const CASES = { typed: "As typed", upper: "CAPITALS", title: "Title Case" };
const MOST_ROWS = 40;
const LONGEST = 200;
/** A row with nothing of its own. */
const blank = (text: string): Row => ({ text, font: null, size: null, stretch: 100, own: [] });

/** The words, row by row; typing shows on the proof as it happens. */
export function RowsValue({ design, line, value, slot, onChange }: SlotProps) {
  const rows = value as Row[];
  const shown = rows.map((row) => row.text.trim()).filter(Boolean);
  const [open, setOpen] = useAsked(line.id, slot.field);
  if (!isLettering(line)) return null;

  /** An empty row is of no use once nothing is typed into it any more. */
  function show(now: boolean) {
    if (!now && shown.length > 0 && shown.length < rows.length) onChange(rows.filter((row) => row.text.trim()));
    setOpen(now);
  }

  return (
    <Pop
      label={slot.label}
      width={316}
      open={open}
      onOpenChange={show}
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
      <OneStep />
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
  const list = useRef<HTMLUListElement>(null);
  /** the row to type in next, once it is there */
  const next = useRef<number | null>(null);
  const field = (index: number) => list.current?.querySelector<HTMLInputElement>(`[data-row="${index}"]`);
  useEffect(() => {
    const input = next.current === null ? null : field(next.current);
    if (!input) return;
    input.focus();
    next.current = null;
  });

  function insert(at: number) {
    if (rows.length >= MOST_ROWS) return;
    next.current = at;
    setDetailed(null);
    onChange(rows.toSpliced(at, 0, blank("")));
  }

  function remove(index: number) {
    next.current = Math.max(0, index - 1);
    setDetailed(null);
    onChange(rows.toSpliced(index, 1));
  }

  function move(from: number, to: number) {
    setDetailed(to);
    onChange(moved(rows, from, to));
  }

  function onKey(event: KeyboardEvent<HTMLInputElement>, index: number) {
    // Enter may only be taking what an input method offers.
    if (event.nativeEvent.isComposing) return;
    if (event.key === "Enter") insert(index + 1);
    else if (event.key === "ArrowDown") field(index + 1)?.focus();
    else if (event.key === "ArrowUp") field(index - 1)?.focus();
    else if (event.key === "Backspace" && event.currentTarget.value === "" && rows.length > 1) remove(index);
    else return;
    event.preventDefault();
  }

  /** A list that is pasted becomes rows of its own. */
  function onPaste(event: ClipboardEvent<HTMLInputElement>, index: number) {
    const [first = "", ...rest] = event.clipboardData.getData("text").split(/\r?\n|\t/).filter((text) => text.trim());
    if (rest.length === 0) return;
    event.preventDefault();
    const input = event.currentTarget;
    const text = (input.value.slice(0, input.selectionStart ?? 0) + first + input.value.slice(input.selectionEnd ?? 0)).slice(0, LONGEST);
    next.current = Math.min(index + rest.length, MOST_ROWS - 1);
    setDetailed(null);
    const pasted = rest.map((one) => blank(one.slice(0, LONGEST)));
    const row = rows[index] ?? blank("");
    onChange(rows.toSpliced(index, 1, { ...row, text, own: keptByHand(row.own, row.text, text) }, ...pasted).slice(0, MOST_ROWS));
  }

  const setRow = (index: number, part: Partial<Row>) =>
    onChange(rows.map((one, i) => (i === index ? { ...one, ...part } : one)));

  return (
    <>
      <ul ref={list} className="flex flex-col gap-2">
        {rows.map((row, index) => (
          <li key={index}>
            <div className="flex items-center gap-1">
              <input
                aria-label={`Row ${index + 1}`}
                data-row={index}
                autoFocus={index === 0}
                value={row.text}
                maxLength={LONGEST}
                onChange={(event) => {
                  const text = event.target.value;
                  setRow(index, { text, own: keptByHand(row.own, row.text, text) });
                }}
                onFocus={(event) => event.target.select()}
                onKeyDown={(event) => onKey(event, index)}
                onPaste={(event) => onPaste(event, index)}
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
                onClick={() => remove(index)}
              >
                <X size={14} />
              </IconButton>
            </div>
            {detailed === index && (
              <RowDetails
                row={row}
                index={index}
                line={line}
                unit={unit}
                onChange={(part) => setRow(index, part)}
                onMove={(to) => move(index, to)}
              />
            )}
          </li>
        ))}
      </ul>
      <div className="mt-2 flex items-center justify-between gap-3">
        <Button look="quiet" disabled={rows.length >= MOST_ROWS} onClick={() => insert(rows.length)}>
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
