import { useEffect } from "react";
import { isPlaced, shifted, useBench, withCopy, withPlace } from "./store";
import { useLineEdits } from "./useLineEdits";

const NUDGES: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** Which way, and by how many degrees; with Shift the keys read differently. */
const TURNS: Record<string, [number, number]> = {
  ",": [-1, 1],
  ".": [1, 1],
  "<": [-1, 15],
  ">": [1, 15],
  ";": [-1, 15],
  ":": [1, 15],
};

const tidy = (mm: number) => Math.round(mm * 1000) / 1000;

/** Degrees kept from -180 to 180. */
export const within360 = (degrees: number) => tidy(degrees - 360 * Math.round(degrees / 360));

/** Undo, redo, nudging and removing by keyboard, wherever nothing is being typed. */
export function useKeys() {
  const { remove } = useLineEdits();
  const removeLine = remove.mutate;

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target instanceof HTMLElement ? event.target : null;
      const typing = target?.closest("input, textarea");
      const { selected, design, change, select, pick, picking, showKeys } = useBench.getState();
      if ((event.ctrlKey || event.metaKey) && !typing) {
        const history = useBench.temporal.getState();
        const key = event.key.toLowerCase();
        if (key === "d" && selected) {
          const [next, copy] = withCopy(design, selected);
          change(() => next);
          select(copy);
        } else if (key === "z" && !event.shiftKey) history.undo();
        else if (key === "y" || key === "z") history.redo();
        else return;
        event.preventDefault();
        return;
      }
      if (typing || target?.closest("[role=dialog], [role=menu], [role=listbox], [role=radiogroup]")) return;
      if (event.key === "Escape") {
        if (picking) pick(null);
        else select(null);
      }
      if (event.key === "?") showKeys(true);
      // Tab goes through the lines while nothing else has the focus; in panels it does what it always does.
      if (event.key === "Tab" && (target === document.body || target?.closest("[data-testid=proof]"))) {
        const at = design.recipe.findIndex((one) => one.id === selected);
        const next = design.recipe[at + (event.shiftKey ? -1 : 1)];
        if (next) {
          event.preventDefault();
          select(next.id);
        }
      }
      const line = design.recipe.find((one) => one.id === selected);
      if (!line) return;
      const turn = TURNS[event.key];
      if (turn && isPlaced(line)) {
        const by = turn[0] * turn[1];
        change((now) => withPlace(now, line.id, (place) => ({ ...place, rotate: within360(place.rotate + by) })));
      }
      const nudge = NUDGES[event.key];
      if (nudge && isPlaced(line)) {
        event.preventDefault();
        const by = event.shiftKey ? 1 : 0.1;
        change((now) =>
          withPlace(now, line.id, (place) => {
            const next = shifted(place, nudge[0] * by, nudge[1] * by);
            return { ...next, x: tidy(next.x), y: tidy(next.y) };
          }),
        );
      }
      if (event.key === "Delete" && (!target || !target.closest("button"))) removeLine(line.id);
    };
    addEventListener("keydown", onKey);
    return () => removeEventListener("keydown", onKey);
  }, [removeLine]);
}
