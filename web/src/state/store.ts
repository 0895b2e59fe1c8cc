import { temporal } from "zundo";
import { create } from "zustand";
import type { Box, Design } from "../api/client";
import type { PickedLetter } from "../design/lettering";

/** A value in a sentence waits for a result to be picked on the proof. */
export interface Picking {
  line: string;
  field: string;
  /** whether it takes several */
  many: boolean;
}

/** Things pointed at, by the words for them or on the proof. */
export interface Lit {
  refs: string[];
  by: "words" | "proof";
}

/** What a drag is lined up with, to be drawn. */
export interface Marks {
  lines: { along: "x" | "y"; at: number; from: number; to: number }[];
  /** clear distances, to be shown in figures */
  gaps: { along: "x" | "y"; from: number; to: number; across: number }[];
}

/** All chosen lines, the one shown in the recipe first. */
export function chosenLines({ selected, others }: { selected: string | null; others: string[] }): string[] {
  return selected ? [selected, ...others] : [];
}

export type Look = "finished" | "cut" | "weeding";

interface BenchState {
  /** the id of the design that is on the bench */
  opened: string | null;
  design: Design;
  selected: string | null;
  /** the line that was added last, as long as it was not chosen by hand */
  fresh: string | null;
  /** lines chosen along with it */
  others: string[];
  /** the letter of the chosen lettering that is picked by itself */
  letter: PickedLetter | null;
  ply: string | null;
  picking: Picking | null;
  lit: Lit | null;
  look: Look;
  showNodes: boolean;
  keysShown: boolean;
  /** guides appear while things are dragged, and things settle on them */
  guided: boolean;
  gridShown: boolean;
  /** whether letters after one that is moved by hand go along */
  along: boolean;
  /** whether the panel that lines things up is open */
  arranging: boolean;
  /** the value whose panel opened by itself, as its line was added and wants it filled */
  asked: { line: string; field: string } | null;
  /** where a piece that is clicked goes: to one of its sources' plies, or away */
  pieceTo: string;
  /** the kind of line that is pointed at before it is added, and the values it would start with */
  tried: { id: string; given: Record<string, string> } | null;
  /** what a drag is lined up with just now */
  marks: Marks | null;
  /** a place on the proof that something wants looked at; a new object each time */
  lookAt: { box: Box; design: Design } | null;
  open: (id: string, design: Design) => void;
  change: (edit: (design: Design) => Design) => void;
  select: (line: string | null, others?: string[]) => void;
  /** choose a line that was just added */
  selectFresh: (line: string | null) => void;
  /** add a line to those chosen, or let go of it */
  selectAlso: (line: string) => void;
  pickLetter: (letter: PickedLetter | null) => void;
  selectPly: (ply: string | null) => void;
  pick: (picking: Picking | null) => void;
  light: (lit: Lit | null) => void;
  setLook: (look: Look) => void;
  setShowNodes: (show: boolean) => void;
  showKeys: (show: boolean) => void;
  setGuided: (on: boolean) => void;
  showGrid: (show: boolean) => void;
  ask: (asked: BenchState["asked"]) => void;
  takeAlong: (along: boolean) => void;
  arrange: (open: boolean) => void;
  setPieceTo: (to: string) => void;
  tryOut: (tried: BenchState["tried"]) => void;
  setMarks: (marks: Marks | null) => void;
  goTo: (box: Box) => void;
}

/** Before a design is opened. */
const NOTHING: Design = {
  format: "perigram",
  version: 2,
  name: "",
  unit: "mm",
  ground: { name: "", colour: "" },
  guides: { x: [], y: [] },
  materials: [],
  pictures: [],
  recipe: [],
  plies: [],
  was_cut_from: {},
  sheets: { copies: 1, layout: "registered", keeps: "designs", turned: true, apart: 0, edge: 0, marks: "none", border: false, across: 0, frame: false, split: "no", overlap: 10 },
};

/** What is on the bench. The design alone is under undo; the rest is where she is looking. */
export const useBench = create<BenchState>()(
  temporal(
    (set) => ({
      opened: null,
      design: NOTHING,
      selected: null,
      fresh: null,
      others: [],
      letter: null,
      ply: null,
      picking: null,
      lit: null,
      look: "finished",
      showNodes: false,
      keysShown: false,
      guided: true,
      gridShown: false,
      along: false,
      arranging: false,
      asked: null,
      pieceTo: "",
      marks: null,
      tried: null,
      lookAt: null,
      open: (opened, design) =>
        set({ opened, design, selected: null, others: [], letter: null, along: false, arranging: false, ply: null, picking: null, lit: null, marks: null, lookAt: null }),
      change: (edit) => set((state) => ({ design: edit(state.design) })),
      select: (selected, others = []) => set(({ picking, fresh }) => ({ selected, others, fresh: fresh === selected ? fresh : null, letter: null, ply: null, picking: picking?.line === selected ? picking : null, pieceTo: "", lookAt: null })),
      selectFresh: (selected) => set({ selected, fresh: selected, others: [], letter: null, ply: null, picking: null, pieceTo: "", lookAt: null }),
      selectAlso: (line) =>
        set(({ selected, others }) => {
          const chosen = chosenLines({ selected, others });
          const next = chosen.includes(line) ? chosen.filter((one) => one !== line) : [...chosen, line];
          return { selected: next[0] ?? null, others: next.slice(1), letter: null, ply: null, picking: null, lookAt: null };
        }),
      pickLetter: (letter) => set({ letter }),
      selectPly: (ply) => set({ ply, selected: null, others: [], letter: null, picking: null, lookAt: null }),
      pick: (picking) => set({ picking }),
      light: (lit) => set((now) => (now.lit?.refs.join() === lit?.refs.join() && now.lit?.by === lit?.by ? now : { lit })),
      setLook: (look) => set({ look }),
      setShowNodes: (showNodes) => set({ showNodes }),
      showKeys: (keysShown) => set({ keysShown }),
      setGuided: (guided) => set({ guided }),
      showGrid: (gridShown) => set({ gridShown }),
      ask: (asked) => set({ asked }),
      takeAlong: (along) => set({ along }),
      arrange: (arranging) => set({ arranging }),
      // Nothing tried and nothing tried before is no change: nobody is told of it.
      tryOut: (tried) => set((now) => (now.tried === tried ? now : { tried })),
      setPieceTo: (pieceTo) => set({ pieceTo }),
      setMarks: (marks) => set({ marks }),
      goTo: (box) => set(({ design }) => ({ lookAt: { box, design } })),
    }),
    {
      partialize: (state) => ({ design: state.design }),
      equality: (a, b) => a.design === b.design,
      limit: 300,
    },
  ),
);

/** Changes between `begin` and `end` are one step to undo: a drag, a panel's typing. Gestures may nest. */
export const gesture = {
  depth: 0,
  recorded: false,
  last: { key: "", at: 0, design: NOTHING },
  get running() {
    return this.depth > 0;
  },
  begin() {
    if (this.depth++ === 0) this.recorded = false;
  },
  change(edit: (design: Design) => Design) {
    useBench.getState().change(edit);
    if (this.running && !this.recorded) {
      this.recorded = true;
      useBench.temporal.getState().pause();
    }
  },
  end() {
    if (this.depth > 0) this.depth--;
    if (this.depth === 0) useBench.temporal.getState().resume();
  },
  /** What was held is gone, and whoever held it cannot say so any more. */
  drop() {
    this.depth = 0;
    useBench.temporal.getState().resume();
  },
  /** A change by a key: held or tapped quickly, it goes on with the step it began. */
  burst(key: string, act: () => void) {
    const goesOn = this.last.key === key && Date.now() - this.last.at < 700 && this.last.design === useBench.getState().design;
    const record = useBench.temporal.getState();
    if (goesOn && !this.running) record.pause();
    act();
    if (goesOn && !this.running) record.resume();
    this.last = { key, at: Date.now(), design: useBench.getState().design };
  },
};

// A thing that vanishes under the hand loses the pointer to the document: undo must not stay off for that.
if (typeof document !== "undefined") {
  document.addEventListener("lostpointercapture", (event) => {
    if (event.target === document) gesture.drop();
  });
}
