import { useRef, useState } from "react";
import { gesture } from "../state/store";
import type { Reading } from "../units";
import { VALUE } from "../ui/value";

interface Props {
  label: string;
  value: number;
  /** as what it reads: a length, a percentage, an angle */
  as: Reading;
  low: number;
  high: number;
  step: number;
  /** `typed`: the text it was read from, where it was typed */
  onChange: (value: number, typed?: string) => void;
}

const tidy = (value: number) => Math.round(value * 10000) / 10000;

/** A figure in a sentence: type it, drag it sideways, or step it with the arrow keys. */
export function NumberValue({ label, value, as, low, high, step, onChange }: Props) {
  const [text, setText] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  /** what it was when she began to type: Escape brings it back */
  const was = useRef(value);
  /** whether the figure takes the focus back from the field it was typed in */
  const refocus = useRef(false);
  const drag = useRef<{ x: number; value: number; moved: boolean } | null>(null);
  const shown = as.format(value);
  const by = as.step(step);
  const clamp = (next: number) => tidy(Math.min(high, Math.max(low, next)));
  const stepped = (from: number, event: { key: string; shiftKey: boolean }) =>
    clamp(from + (event.key === "ArrowUp" ? by : -by) * (event.shiftKey ? 10 : 1));

  function close(focusBack: boolean) {
    refocus.current = focusBack;
    setText(null);
    setProblem(null);
  }

  function commit(focusBack: boolean) {
    if (text === null) return;
    const typed = as.parse(text);
    if (typed === null) setProblem(as.hint);
    else if (typed < low || typed > high) setProblem(`From ${as.format(low)} to ${as.format(high)}.`);
    else {
      close(focusBack);
      if (text !== shown) onChange(tidy(typed), text);
    }
  }

  /** What is typed so far counts, and all lengths read in the other unit from now on. */
  function switchUnit(other: Reading["other"]) {
    if (!other || text === null) return;
    const typed = as.parse(text);
    const next = typed === null ? value : clamp(typed);
    if (text !== shown && next !== value) onChange(next);
    gesture.change((now) => ({ ...now, unit: other.unit }));
    setText(other.format(next));
    setProblem(null);
  }

  if (text !== null) {
    return (
      <span className="relative inline-block">
        <input
          aria-label={label}
          data-figure
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
            if (problem) close(false);
            else commit(false);
          }}
          onKeyDown={(event) => {
            if (event.key === "Enter") {
              // Or Enter would press the figure, which has the focus by then.
              event.preventDefault();
              commit(true);
            }
            if (event.key === "Escape") {
              close(true);
              if (value !== was.current) onChange(was.current);
            }
            if (event.key === "ArrowUp" || event.key === "ArrowDown") {
              event.preventDefault();
              const now = as.parse(text);
              if (now === null) return;
              const next = stepped(now, event);
              setText(as.format(next));
              gesture.burst(label, () => onChange(next));
            }
          }}
          className="rounded-sm border-b-2 border-plum bg-card px-0.5 font-semibold text-plum outline-none"
        />
        {as.other && (
          <button
            type="button"
            tabIndex={-1}
            aria-label={as.other.unit === "in" ? "Lengths in inches" : "Lengths in mm"}
            // Or the field would lose the focus, and be done.
            onPointerDown={(event) => event.preventDefault()}
            onClick={() => switchUnit(as.other)}
            className="absolute bottom-full left-0 z-30 mb-1 rounded-md border border-line bg-card px-1.5 text-[12px] leading-[1.6] font-semibold text-plum shadow hover:border-plum"
          >
            {as.other.unit}
          </button>
        )}
        {problem && (
          <span
            role="alert"
            className="absolute top-full left-0 z-30 mt-1 w-44 rounded-md bg-brick px-2 py-1 leading-snug whitespace-normal text-card"
          >
            {problem}
          </span>
        )}
      </span>
    );
  }

  return (
    <button
      ref={(node) => {
        if (node && refocus.current) node.focus();
        refocus.current = false;
      }}
      type="button"
      aria-label={`${label}: ${shown}`}
      className={`${VALUE} cursor-ew-resize! touch-none select-none`}
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        drag.current = { x: event.clientX, value, moved: false };
      }}
      onPointerMove={(event) => {
        const from = drag.current;
        if (!from) return;
        const steps = Math.round((event.clientX - from.x) / 4);
        if (!from.moved && steps === 0) return;
        if (!from.moved) gesture.begin();
        from.moved = true;
        const next = clamp(from.value + steps * by);
        if (next !== value) onChange(next);
      }}
      onLostPointerCapture={() => {
        // Comes after every end of a drag, and before the click that follows it.
        if (drag.current?.moved) gesture.end();
        setTimeout(() => (drag.current = null));
      }}
      onClick={() => {
        if (drag.current?.moved) return;
        was.current = value;
        setText(shown);
      }}
      onKeyDown={(event) => {
        if (event.key !== "ArrowUp" && event.key !== "ArrowDown") return;
        event.preventDefault();
        event.stopPropagation();
        gesture.burst(label, () => onChange(stepped(value, event)));
      }}
    >
      {shown}
    </button>
  );
}
