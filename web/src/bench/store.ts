import { temporal } from "zundo";
import { create } from "zustand";
import type { Box, Design, Line, Material, Place, Ply } from "../api/client";

/** A value in a sentence waits for a result to be picked on the proof. */
export interface Picking {
  line: string;
  field: string;
  /** results that may be picked: those of earlier lines */
  from: string[];
}

export type Look = "finished" | "cut";

interface BenchState {
  /** the id of the design that is on the bench */
  opened: string | null;
  design: Design;
  selected: string | null;
  ply: string | null;
  picking: Picking | null;
  look: Look;
  showNodes: boolean;
  keysShown: boolean;
  /** a place on the proof that something wants looked at; a new object each time */
  lookAt: { box: Box } | null;
  open: (id: string, design: Design) => void;
  change: (edit: (design: Design) => Design) => void;
  select: (line: string | null) => void;
  selectPly: (ply: string | null) => void;
  pick: (picking: Picking | null) => void;
  setLook: (look: Look) => void;
  setShowNodes: (show: boolean) => void;
  showKeys: (show: boolean) => void;
  goTo: (box: Box) => void;
}

const EMPTY: Design = {
  format: "perigram",
  version: 1,
  name: "New design",
  unit: "mm",
  ground: { name: "White cotton tee", colour: "#F2F0EA" },
  materials: [],
  pictures: [],
  recipe: [],
  plies: [],
};

/** What is on the bench. The design alone is under undo; the rest is where she is looking. */
export const useBench = create<BenchState>()(
  temporal(
    (set) => ({
      opened: null,
      design: EMPTY,
      selected: null,
      ply: null,
      picking: null,
      look: "finished",
      showNodes: false,
      keysShown: false,
      lookAt: null,
      open: (opened, design) => set({ opened, design, selected: null, ply: null, picking: null, lookAt: null }),
      change: (edit) => set((state) => ({ design: edit(state.design) })),
      select: (selected) => set({ selected, ply: null, picking: null }),
      selectPly: (ply) => set({ ply, selected: null, picking: null }),
      pick: (picking) => set({ picking }),
      setLook: (look) => set({ look }),
      setShowNodes: (showNodes) => set({ showNodes }),
      showKeys: (keysShown) => set({ keysShown }),
      goTo: (box) => set({ lookAt: { box } }),
    }),
    {
      partialize: (state) => ({ design: state.design }),
      equality: (a, b) => a.design === b.design,
      limit: 300,
    },
  ),
);

/** Changes between `begin` and `end` are one step to undo: a drag, a burst of typing. */
export const gesture = {
  running: false,
  recorded: false,
  begin() {
    this.running = true;
    this.recorded = false;
  },
  change(edit: (design: Design) => Design) {
    useBench.getState().change(edit);
    if (this.running && !this.recorded) {
      this.recorded = true;
      useBench.temporal.getState().pause();
    }
  },
  end() {
    this.running = false;
    useBench.temporal.getState().resume();
  },
};

// -- plain edits of the document; anything that needs the trade's rules is asked of the server

export function withLine(design: Design, id: string, edit: (line: Line) => Line): Design {
  return { ...design, recipe: design.recipe.map((line) => (line.id === id ? edit(line) : line)) };
}

export function withValue(design: Design, id: string, field: string, value: unknown): Design {
  return withLine(design, id, (line) => ({ ...line, [field]: value }) as Line);
}

export function withPlace(design: Design, id: string, edit: (place: Place) => Place): Design {
  return withLine(design, id, (line) => ("place" in line ? { ...line, place: edit(line.place) } : line));
}

/** A place moved by so much on the proof: a gap on the far side grows the other way. */
export function shifted(place: Place, dx: number, dy: number): Place {
  return {
    ...place,
    x: place.x + (place.on && place.across === "before" ? -dx : dx),
    y: place.y + (place.on && place.down === "above" ? -dy : dy),
  };
}

export function withPly(design: Design, id: string, edit: (ply: Ply) => Ply): Design {
  return { ...design, plies: design.plies.map((ply) => (ply.id === id ? edit(ply) : ply)) };
}

export function withMaterial(design: Design, id: string, edit: (material: Material) => Material): Design {
  return { ...design, materials: design.materials.map((one) => (one.id === id ? edit(one) : one)) };
}

export function moved<T>(list: T[], from: number, to: number): T[] {
  const copy = [...list];
  const [item] = copy.splice(from, 1);
  if (item !== undefined) copy.splice(to, 0, item);
  return copy;
}

/** The design with a copy of a line right after it, cut from the same plies, and the copy's id. */
export function withCopy(design: Design, id: string): [Design, string] {
  const index = design.recipe.findIndex((one) => one.id === id);
  const line = design.recipe[index];
  if (!line) return [design, id];
  const copy = freeId(
    "l",
    design.recipe.map((one) => one.id),
  );
  const plies = design.plies.map((ply) => {
    const copied = ply.results.filter((ref) => ref.startsWith(`${id}/`)).map((ref) => ref.replace(id, copy));
    return copied.length ? { ...ply, results: [...ply.results, ...copied] } : ply;
  });
  return [{ ...design, recipe: design.recipe.toSpliced(index + 1, 0, { ...line, id: copy }), plies }, copy];
}

export function freeId(prefix: string, taken: string[]): string {
  for (let n = 1; ; n++) if (!taken.includes(`${prefix}${n}`)) return `${prefix}${n}`;
}

/** The line scaled in proportion; gaps and other fixed measures stay as they are. */
export function scaledLine(line: Line, ratio: number): Line {
  const round = (value: number) => Math.max(1, Math.round(value * ratio * 10) / 10);
  if (line.kind === "letter" || line.kind === "art") return { ...line, size: round(line.size) };
  if (line.kind === "shape") return { ...line, width: round(line.width), height: round(line.height) };
  return line;
}

export function isPlaced(line: Line | undefined): line is Extract<Line, { place: Place }> {
  return line !== undefined && "place" in line;
}
