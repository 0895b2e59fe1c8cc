import { useRef, useState } from "react";
import { gesture } from "../../bench/store";
import { formatLength, parseLength, stepIn, type Unit } from "../../units";
import { VALUE } from "./types";

interface Props {
  label: string;
  mm: number;
  unit: Unit;
  low: number;
  high: number;
  step: number;
  onChange: (mm: number) => void;
  /** how it reads and is read, where that is not a plain length */
  format?: (mm: number) => string;
  parse?: (text: string) => number | null;
}

const tidy = (value: number) => Math.round(value * 10000) / 10000;

/** A length in a sentence: type it, drag it sideways, or step it with the arrow keys. */
export function LengthValue({ label, mm, unit, low, high, step, onChange, format, parse }: Props) {
  const [text, setText] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const drag = useRef<{ x: number; mm: number; moved: boolean } | null>(null);
  const shown = format ? format(mm) : formatLength(mm, unit);
  const by = stepIn(unit, step);
  const clamp = (value: number) => tidy(Math.min(high, Math.max(low, value)));

  function commit() {
    if (text === null) return;
    const value = parse ? parse(text) : parseLength(text, unit);
    if (value === null) {
      setProblem("Not a length. Try 1.5, 2 cm, 1/16 in or 254/2.");
      return;
    }
    if (value < low || value > high) {
      setProblem(`From ${formatLength(low, unit)} to ${formatLength(high, unit)}.`);
      return;
    }
    setText(null);
    setProblem(null);
    if (text !== shown) onChange(tidy(value));
  }

  if (text !== null) {
    return (
      <span className="relative inline-block">
        <input
          aria-label={label}
          aria-invalid={problem !== null}
          autoFocus
          value={text}
          size={Math.max(5, text.length)}
          onChange={(event) => {
            setText(event.target.value);
            setProblem(null);
          }}
          onFocus={(event) => event.target.select()}
          onBlur={() => {
            if (problem) {
              setText(null);
              setProblem(null);
            } else commit();
          }}
          onKeyDown={(event) => {
            if (event.key === "Enter") commit();
            if (event.key === "Escape") {
              setText(null);
              setProblem(null);
            }
            if (event.key === "ArrowUp" || event.key === "ArrowDown") {
              event.preventDefault();
              const now = parse ? parse(text) : parseLength(text, unit);
              if (now === null) return;
              const next = clamp(now + (event.key === "ArrowUp" ? by : -by) * (event.shiftKey ? 10 : 1));
              setText(format ? format(next) : formatLength(next, unit));
              onChange(next);
            }
          }}
          className="rounded-sm border-b-2 border-plum bg-card px-0.5 font-semibold text-plum outline-none"
        />
        {problem && (
          <span
            role="alert"
            className="absolute top-full left-0 z-30 mt-1 w-44 rounded-md bg-brick px-2 py-1 text-card"
          >
            {problem}
          </span>
        )}
      </span>
    );
  }

  return (
    <button
      type="button"
      aria-label={`${label}: ${shown}`}
      className={`${VALUE} cursor-ew-resize! touch-none select-none`}
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        drag.current = { x: event.clientX, mm, moved: false };
      }}
      onPointerMove={(event) => {
        const from = drag.current;
        if (!from) return;
        const steps = Math.round((event.clientX - from.x) / 4);
        if (!from.moved && steps === 0) return;
        if (!from.moved) gesture.begin();
        from.moved = true;
        const next = clamp(from.mm + steps * by);
        if (next !== mm) onChange(next);
      }}
      onPointerUp={() => {
        if (drag.current?.moved) gesture.end();
        setTimeout(() => (drag.current = null));
      }}
      onPointerCancel={() => {
        if (drag.current?.moved) gesture.end();
        drag.current = null;
      }}
      onClick={() => {
        if (!drag.current?.moved) setText(shown);
      }}
      onKeyDown={(event) => {
        if (event.key !== "ArrowUp" && event.key !== "ArrowDown") return;
        event.preventDefault();
        event.stopPropagation();
        onChange(clamp(mm + (event.key === "ArrowUp" ? by : -by) * (event.shiftKey ? 10 : 1)));
      }}
    >
      {shown}
    </button>
  );
}
