import { type PointerEvent, useRef } from "react";
import type { Box, Lettering, OwnLetter, PlacedLetter } from "../api/client";
import { knownBasics } from "../api/cache";
import { useLetters } from "../api/queries";
import { isLettering, withLettering, ownLetter, withLettersFrom, type PickedLetter } from "../design/lettering";
import { tidied } from "../units";
import { gesture, useBench } from "../state/store";
import { within360 } from "../design/placing";
import type { ShownProof } from "../state/useProof";
import { Frame, type Pull } from "./Frame";
import { type Around, REACH, settle, shiftedBox } from "./snap";
import { useLineDrag } from "./useLineDrag";
import type { View } from "./useView";

const tidy = (mm: number) => Math.round(mm * 10) / 10;

/** Letters of the lettering as it was in the proof shown; a letter is found by its row and place. */
export function usePlacedLetters(line: Lettering, proof: ShownProof): PlacedLetter[] {
  const result = proof.results.find((one) => one.line === line.id);
  return useLetters(proof.design, line.id, result).data ?? [];
}

export const isLetter = (letter: PickedLetter | null) => (one: PickedLetter) =>
  letter !== null && one.row === letter.row && one.at === letter.at;

/** Changes one letter by hand. */
export function changeLetter(line: string, letter: PickedLetter, part: Partial<OwnLetter>) {
  gesture.change((design) => withLettering(design, line, (one) => withLettersFrom(one, letter, part, useBench.getState().along)));
}

/** A move on the proof as the lettering sees it before it was turned and flipped. */
export function unturned(line: Lettering, dx: number, dy: number): [number, number] {
  const angle = (-line.place.rotate * Math.PI) / 180;
  const x = dx * Math.cos(angle) - dy * Math.sin(angle);
  const y = dx * Math.sin(angle) + dy * Math.cos(angle);
  return [line.place.flip ? -x : x, y];
}

interface Props {
  line: Lettering;
  proof: ShownProof;
  view: View;
}

/** The picked letter's frame: it moves, turns and resizes by itself. */
export function LetterFrame({ line, proof, view }: Props) {
  const letter = useBench((state) => state.letter);
  const letters = usePlacedLetters(line, proof);
  const held = useRef<OwnLetter | null>(null);
  const placed = letters.find(isLetter(letter));
  const box = placed?.box as Box | null | undefined;
  if (!letter || !placed || !box) return null;
  const own = ownLetter(line, letter);
  const then = proof.design.recipe.find((one) => one.id === line.id);
  const before = isLettering(then) ? ownLetter(then, letter) : own;
  // Ahead of the proof only by what is sure: where a hand moves it.
  const ahead = line.place.rotate === 0 ? shiftedBox(box, own.x - before.x, own.y - before.y) : box;

  function pull({ sx, sy }: Pull) {
    const from = held.current;
    if (!from || !letter) return;
    const { low = 10, high = 500 } = knownBasics()?.ranges["OwnLetter.wide"] ?? {};
    const percent = (value: number) => Math.min(high, Math.max(low, Math.round(value)));
    changeLetter(line.id, letter, { wide: percent(from.wide * sx), tall: percent(from.tall * sy) });
  }

  return (
    <Frame
      box={ahead}
      view={view}
      label={`“${placed.text}” by hand`}
      name="letter"
      onBegin={() => (held.current = own)}
      onPull={line.locked ? undefined : pull}
      onTurn={
        line.locked
          ? undefined
          : (degrees, step) => {
              const from = held.current;
              if (from) changeLetter(line.id, letter, { turn: within360(Math.round((from.turn + degrees) / step) * step) });
            }
      }
    />
  );
}

interface Nudge {
  x: number;
  y: number;
  own: OwnLetter;
  moved: boolean;
  box: Box;
  around: Around | null;
}

/** What a letter settles on: its neighbours, the lines its row stands on, and where it was automatically. */
function aroundLetter(line: Lettering, letters: PlacedLetter[], one: PlacedLetter, own: OwnLetter, proof: ShownProof): Around | null {
  const { rotate, flip } = line.place;
  const box = one.box as Box | null;
  // In lettering that is turned, level and upright are not what they are on the bench.
  if (rotate !== 0 || flip || !box) return null;
  const row = letters.filter((other) => other.row === one.row);
  const at = row.findIndex(isLetter(one));
  const boxes = [row[at - 1], row[at + 1]].flatMap((other) => (other?.box ? [other.box as Box] : []));
  const rows = [...new Set(letters.map((other) => other.row))].sort((a, b) => a - b);
  const lines = proof.results.find((one) => one.line === line.id)?.levels.slice(2 * rows.indexOf(one.row), 2 * rows.indexOf(one.row) + 2) ?? [];
  return {
    boxes,
    levels: lines.map((level) => ({ at: level })),
    own: lines.map((level) => level + own.y),
    guides: { x: [(box[0] + box[2]) / 2 - own.x], y: [] },
    grid: null,
    inRow: true,
  };
}

/** Invisible copies of a chosen lettering's letters: a click picks one, a drag of the picked one nudges it. */
export function LetterGrips({ line, proof, view }: Props) {
  const { letter, pickLetter } = useBench();
  const letters = usePlacedLetters(line, proof);
  const whole = useLineDrag(proof, view);
  const nudge = useRef<Nudge | null>(null);

  function begin(event: PointerEvent, one: PlacedLetter) {
    if (!isLetter(letter)(one) || line.locked || event.shiftKey) {
      whole.begin(event, line);
      return;
    }
    if (event.button !== 0) return;
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    const own = ownLetter(line, one);
    nudge.current = { x: event.clientX, y: event.clientY, own, moved: false, box: one.box as Box, around: aroundLetter(line, letters, one, own, proof) };
  }

  function move(event: PointerEvent, one: PlacedLetter) {
    whole.move(event);
    const from = nudge.current;
    if (!from) return;
    const [dx, dy] = [event.clientX - from.x, event.clientY - from.y];
    if (!from.moved && Math.hypot(dx, dy) < 3) return;
    if (!from.moved) gesture.begin();
    from.moved = true;
    const { guided, setMarks } = useBench.getState();
    const [mx, my] = [dx / view.k, dy / view.k];
    const settled = guided && from.around && !event.ctrlKey && !event.metaKey ? settle(from.box, mx, my, from.around, REACH / view.k) : null;
    setMarks(settled?.marks ?? null);
    const [x, y] = unturned(line, settled?.dx ?? mx, settled?.dy ?? my);
    // What settles on nothing stays on round figures.
    const kept = (by: number, free: boolean) => (free ? tidy(by) : tidied(by));
    changeLetter(line.id, one, {
      x: kept(from.own.x + x, settled === null || settled.dx === mx),
      y: kept(from.own.y + y, settled === null || settled.dy === my),
    });
  }

  function end() {
    whole.end();
    if (nudge.current?.moved) gesture.end();
    nudge.current = null;
    useBench.getState().setMarks(null);
  }

  return (
    <g>
      {letters.map((one) => (
        <path
          key={`${one.row} ${one.at}`}
          data-letter={`${one.row} ${one.at}`}
          d={one.d}
          fillRule="evenodd"
          stroke="transparent"
          strokeWidth={6}
          vectorEffect="non-scaling-stroke"
          className={isLetter(letter)(one) ? "cursor-move fill-plum/25" : "cursor-move fill-transparent hover:fill-plum/10"}
          onPointerDown={(event) => begin(event, one)}
          onPointerMove={(event) => move(event, one)}
          onPointerUp={end}
          onPointerCancel={end}
          onLostPointerCapture={end}
          onClick={(event) => {
            if (!whole.dragged.current && !event.shiftKey) pickLetter({ row: one.row, at: one.at });
          }}
        >
          <title>{`“${one.text}”: click to set it by hand`}</title>
        </path>
      ))}
    </g>
  );
}
