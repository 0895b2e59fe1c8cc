import { temporal } from "zundo";
import { create } from "zustand";
import type { Box, Design, Line, Lettering, Material, OwnLetter, Place, Ply } from "../api/client";
import type { Marks } from "../proof/snap";

/** A value in a sentence waits for a result to be picked on the proof. */
export interface Picking {
  line: string;
  field: string;
  /** results that may be picked: those of earlier lines */
  from: string[];
}

/** A letter by its row and its first character's place in that row as typed, both from 0. */
export interface PickedLetter {
  row: number;
  at: number;
}

/** All chosen lines, the one shown in the recipe first. */
export function chosenLines({ selected, others }: { selected: string | null; others: string[] }): string[] {
  return selected ? [selected, ...others] : [];
}

export type Look = "finished" | "cut";

interface BenchState {
  /** the id of the design that is on the bench */
  opened: string | null;
  design: Design;
  selected: string | null;
  /** lines chosen along with it */
  others: string[];
  /** the letter of the chosen lettering that is picked by itself */
  letter: PickedLetter | null;
  ply: string | null;
  picking: Picking | null;
  look: Look;
  showNodes: boolean;
  keysShown: boolean;
  /** guides appear while things are dragged, and things settle on them */
  guided: boolean;
  gridShown: boolean;
  /** what a drag is lined up with just now */
  marks: Marks | null;
  /** a place on the proof that something wants looked at; a new object each time */
  lookAt: { box: Box } | null;
  open: (id: string, design: Design) => void;
  change: (edit: (design: Design) => Design) => void;
  select: (line: string | null, others?: string[]) => void;
  /** add a line to those chosen, or let go of it */
  selectAlso: (line: string) => void;
  pickLetter: (letter: PickedLetter | null) => void;
  selectPly: (ply: string | null) => void;
  pick: (picking: Picking | null) => void;
  setLook: (look: Look) => void;
  setShowNodes: (show: boolean) => void;
  showKeys: (show: boolean) => void;
  setGuided: (on: boolean) => void;
  showGrid: (show: boolean) => void;
  setMarks: (marks: Marks | null) => void;
  goTo: (box: Box) => void;
}

const EMPTY: Design = {
  format: "perigram",
  version: 1,
  name: "New design",
  unit: "mm",
  ground: { name: "White cotton tee", colour: "#F2F0EA" },
  guides: { x: [], y: [] },
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
      others: [],
      letter: null,
      ply: null,
      picking: null,
      look: "finished",
      showNodes: false,
      keysShown: false,
      guided: true,
      gridShown: false,
      marks: null,
      lookAt: null,
      open: (opened, design) =>
        set({ opened, design, selected: null, others: [], letter: null, ply: null, picking: null, marks: null, lookAt: null }),
      change: (edit) => set((state) => ({ design: edit(state.design) })),
      select: (selected, others = []) => set({ selected, others, letter: null, ply: null, picking: null }),
      selectAlso: (line) =>
        set(({ selected, others }) => {
          const chosen = chosenLines({ selected, others });
          const next = chosen.includes(line) ? chosen.filter((one) => one !== line) : [...chosen, line];
          return { selected: next[0] ?? null, others: next.slice(1), letter: null, ply: null, picking: null };
        }),
      pickLetter: (letter) => set({ letter }),
      selectPly: (ply) => set({ ply, selected: null, others: [], letter: null, picking: null }),
      pick: (picking) => set({ picking }),
      setLook: (look) => set({ look }),
      setShowNodes: (showNodes) => set({ showNodes }),
      showKeys: (keysShown) => set({ keysShown }),
      setGuided: (guided) => set({ guided }),
      showGrid: (gridShown) => set({ gridShown }),
      setMarks: (marks) => set({ marks }),
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

const rounded = (value: number, least: number) => Math.max(least, Math.round(value * 10) / 10);

/** The line made so many times as wide and as tall; gaps and other fixed measures stay as they are. */
export function stretchedLine(line: Line, sx: number, sy: number): Line {
  if (line.kind === "shape") return { ...line, width: rounded(line.width * sx, 0.5), height: rounded(line.height * sy, 0.5) };
  if (line.kind === "art") {
    const size = rounded(line.size * (line.by === "wide" ? sx : sy), 0.5);
    return { ...line, size, stretch: rounded((line.stretch * sx) / sy, 5) };
  }
  if (line.kind !== "letter") return line;
  const side = (fit: "wide" | "tall") => (fit === "wide" ? sx : sy);
  const rows = line.rows.map((row) => ({
    ...row,
    size: row.size == null ? null : rounded(row.size * side(row.fit ?? line.fit), 1),
    stretch: rounded((row.stretch * sx) / sy, 20),
    own: row.own.map((own) => ({ ...own, x: tidied(own.x * sx), y: tidied(own.y * sy) })),
  }));
  return { ...line, size: rounded(line.size * side(line.fit), 1), rows };
}

const tidied = (mm: number) => Math.round(mm * 1000) / 1000;

/** How wide and tall a line is by its own figures: only ratios of these mean anything. */
export function extent(line: Line): [number, number] {
  if (line.kind === "shape") return [line.width, line.height];
  if (line.kind !== "letter" && line.kind !== "art") return [1, 1];
  const stretch = (line.kind === "art" ? line.stretch : (line.rows[0]?.stretch ?? 100)) / 100;
  const wide = line.kind === "art" ? line.by === "wide" : line.fit === "wide";
  return wide ? [line.size, line.size / stretch] : [line.size * stretch, line.size];
}

// -- letters by hand

const AUTOMATIC = { x: 0, y: 0, turn: 0, wide: 100, tall: 100, form: null };

export function ownLetter(line: Lettering, letter: PickedLetter): OwnLetter {
  return line.rows[letter.row]?.own.find((one) => one.at === letter.at) ?? { at: letter.at, ...AUTOMATIC };
}

/** The lettering with one letter changed by hand; one that is all automatic again is not kept. */
export function withOwnLetter(line: Lettering, letter: PickedLetter, part: Partial<OwnLetter>): Lettering {
  const next = { ...ownLetter(line, letter), ...part };
  const changed = Object.entries(AUTOMATIC).some(([key, value]) => next[key as keyof OwnLetter] !== value);
  const rows = line.rows.map((row, index) => {
    if (index !== letter.row) return row;
    const rest = row.own.filter((one) => one.at !== letter.at);
    return { ...row, own: changed ? [...rest, next].sort((a, b) => a.at - b.at) : rest };
  });
  return { ...line, rows };
}

/**
 * What hands changed, after the words around it were edited: letters before and after the edit keep
 * it, letters that were replaced lose it.
 */
export function keptByHand(own: OwnLetter[], before: string, after: string): OwnLetter[] {
  if (own.length === 0) return own;
  const [old, now] = [Array.from(before), Array.from(after)];
  let head = 0;
  while (head < Math.min(old.length, now.length) && old[head] === now[head]) head++;
  let tail = 0;
  while (tail < Math.min(old.length, now.length) - head && old[old.length - 1 - tail] === now[now.length - 1 - tail]) tail++;
  return own.flatMap((one) => {
    if (one.at < head) return [one];
    return one.at >= old.length - tail ? [{ ...one, at: one.at + now.length - old.length }] : [];
  });
}

export function isPlaced(line: Line | undefined): line is Extract<Line, { place: Place }> {
  return line !== undefined && "place" in line;
}
