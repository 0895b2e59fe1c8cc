import { useEffect } from "react";
import type { Design, Lettering, Line, PlacedLetter } from "../api/client";
import { knownKinds, queryClient } from "../api/cache";
import { withCopies } from "../design/copies";
import { moved, withLine } from "../design/edits";
import { isLettering, withLettering, ownLetter, withLettersFrom, type PickedLetter } from "../design/lettering";
import { lineOf } from "../design/refs";
import { tidied } from "../units";
import { flipped, isPlaced, moversOf, turned, upended, within360, withEachPlace, withMoved } from "../design/placing";
import { chosenLines, gesture, useBench } from "../state/store";
import { inPanel, isSwitchedOff, isTyping } from "../ui/focus";
import { redo, undo } from "../state/undo";
import { useLineEdits } from "../state/useLineEdits";

const NUDGES: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** Which way, and by how many degrees; with Shift the keys read differently. */
const TURNS: Record<string, number> = { ",": -1, ".": 1, "<": -15, ">": 15, ";": -15, ":": 15 };
/** Ply by ply towards the ground or the top. */
const ORDERS: Record<string, number> = { "[": -1, "]": 1 };

/** What the keyboard does wherever nothing is being typed. */
export function useKeys(onBench: boolean) {
  const { remove } = useLineEdits();
  const removeLine = remove.mutate;

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target instanceof HTMLElement ? event.target : null;
      const typing = isTyping(target);
      if ((event.ctrlKey || event.metaKey) && !typing) {
        if (onControlKey(event)) event.preventDefault();
        return;
      }
      if (!onBench || typing || inPanel(target) || isSwitchedOff(event)) return;
      const idle = target === document.body || target?.closest("[data-testid=proof]") != null;
      if (onPlainKey(event, idle)) event.preventDefault();
      const { selected } = useBench.getState();
      if (event.key === "Delete" && selected && !target?.closest("button, [role=button]")) removeLine(selected);
    };
    addEventListener("keydown", onKey);
    return () => removeEventListener("keydown", onKey);
  }, [removeLine, onBench]);
}

function onControlKey(event: KeyboardEvent): boolean {
  const { design, change, select } = useBench.getState();
  const chosen = chosenLines(useBench.getState());
  const key = event.key.toLowerCase();
  if (key === "z" && !event.shiftKey) undo();
  else if (key === "y" || key === "z") redo();
  else if (key === "a") {
    const ids = design.recipe.filter(isPlaced).map((line) => line.id);
    select(ids[0] ?? null, ids.slice(1));
  } else if (key === "arrowdown" || key === "arrowup") {
    chooseOn(design, chosen, key === "arrowdown" ? 1 : -1);
  } else if (key === "d" && chosen.length > 0) {
    const [next, copies] = withCopies(design, chosen, knownKinds());
    change(() => next);
    select(copies[0] ?? null, copies.slice(1));
  } else return false;
  return true;
}

/** Chooses the line next to the one chosen last along with it; on the way back lets go of it again. */
function chooseOn(design: Design, chosen: string[], step: number) {
  const last = chosen.at(-1);
  const next = design.recipe[design.recipe.findIndex((one) => one.id === last) + step]?.id;
  const { selectAlso } = useBench.getState();
  if (last && next) selectAlso(chosen.includes(next) ? last : next);
}

/** Does what a key says; `idle` when no control has the focus. True when the key was ours. */
function onPlainKey(event: KeyboardEvent, idle: boolean): boolean {
  const bench = useBench.getState();
  const { design, selected, letter, change } = bench;
  const line = design.recipe.find((one) => one.id === selected);
  switch (event.key) {
    case "Escape":
      if (bench.picking) bench.pick(null);
      else if (letter) bench.pickLetter(null);
      else bench.select(null);
      return false;
    case "?":
      bench.showKeys(true);
      return true;
    case "g":
      bench.showGrid(!bench.gridShown);
      return true;
    case "Tab":
      return idle && (letter && line ? nextLetter(line, letter, event.shiftKey) : nextLine(design, selected, event.shiftKey));
    case "Enter":
      return idle && isLettering(line) && !letter && nextLetter(line, null, false);
  }
  if (!line) return false;
  if (event.key === "l") {
    const locked = !line.locked;
    change((now) => onEach(now, (one) => ({ ...one, locked })));
    return true;
  }
  if (event.key === "h" || event.key === "H") {
    change((now) => withEachPlace(now, chosenLines(bench), event.shiftKey ? upended : flipped));
    return true;
  }
  const order = ORDERS[event.key];
  if (order) {
    change((now) => withPlyMoved(now, line.id, order));
    return true;
  }
  const turn = TURNS[event.key];
  const nudge = NUDGES[event.key];
  const by = event.shiftKey ? 1 : 0.1;
  if (!turn && !nudge) return false;
  const step = (edit: (now: Design) => Design) => gesture.burst(`${turn ? "turn" : "nudge"} ${chosenLines(bench).join()} ${letter?.row} ${letter?.at}`, () => change(edit));
  if (letter && isLettering(line)) {
    if (line.locked) return true;
    step((now) => withLettering(now, line.id, (one) => withLetterMoved(one, letter, turn ?? 0, nudge, by)));
  } else if (turn) step((now) => withEachPlace(now, chosenLines(bench), (place) => turned(place, turn)));
  else if (nudge) step((now) => withMoved(now, moversOf(now, chosenLines(bench), knownKinds()), nudge[0] * by, nudge[1] * by));
  return true;
}

function onEach(design: Design, edit: (line: Line) => Line): Design {
  return chosenLines(useBench.getState()).reduce((next, id) => withLine(next, id, edit), design);
}

function withLetterMoved(
  line: Lettering,
  letter: PickedLetter,
  turn: number,
  nudge: [number, number] | undefined,
  by: number,
): Lettering {
  const own = ownLetter(line, letter);
  const next = {
    x: tidied(own.x + (nudge?.[0] ?? 0) * by),
    y: tidied(own.y + (nudge?.[1] ?? 0) * by),
    turn: within360(own.turn + turn),
  };
  return withLettersFrom(line, letter, next, useBench.getState().along);
}

/** The ply a line is cut from, one nearer to the top or to the ground. */
function withPlyMoved(design: Design, line: string, by: number): Design {
  const at = design.plies.findIndex((ply) => ply.results.some((ref) => lineOf(ref) === line));
  const to = at + by;
  return at < 0 || to < 0 || to >= design.plies.length ? design : { ...design, plies: moved(design.plies, at, to) };
}

// Tab goes through the lines, or the letters of a lettering, while nothing else has the focus.
function nextLine(design: Design, selected: string | null, back: boolean): boolean {
  const at = design.recipe.findIndex((one) => one.id === selected);
  const next = design.recipe[at + (back ? -1 : 1)];
  if (next) useBench.getState().select(next.id);
  return next !== undefined;
}

function nextLetter(line: Line, letter: PickedLetter | null, back: boolean): boolean {
  const found = queryClient.getQueriesData<PlacedLetter[]>({ queryKey: ["letters", line.id] }).at(-1)?.[1] ?? [];
  const at = found.findIndex((one) => one.row === letter?.row && one.at === letter.at);
  const next = found[letter ? at + (back ? -1 : 1) : 0];
  if (next) useBench.getState().pickLetter({ row: next.row, at: next.at });
  return next !== undefined;
}
