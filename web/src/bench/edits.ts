/** Plain edits of the document; anything that needs the trade's rules is asked of the server. */

import type { Design, Lettering, Line, Material, OwnLetter, Place, Ply } from "../api/client";
import type { PickedLetter } from "./store";

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

/** Lines moved by so much on the proof, to thousandths of a mm. */
export function withMoved(design: Design, ids: string[], dx: number, dy: number): Design {
  return ids.reduce(
    (next, id) =>
      withPlace(next, id, (place) => {
        const { x, y } = shifted(place, dx, dy);
        return { ...place, x: tidied(x), y: tidied(y) };
      }),
    design,
  );
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

/** The design with copies of several lines, those held to another of them held to its copy; and their ids. */
export function withCopies(design: Design, ids: string[]): [Design, string[]] {
  const copies = new Map<string, string>();
  let next = design;
  for (const id of ids) {
    const [copied, copy] = withCopy(next, id);
    next = copied;
    copies.set(id, copy);
  }
  const renamed = (ref: string | null | undefined) => {
    const [line = "", result] = ref?.split("/") ?? [];
    return copies.has(line) ? `${copies.get(line)}/${result}` : ref;
  };
  for (const copy of copies.values()) {
    next = withPlace(next, copy, (place) => ({
      ...place,
      on: renamed(place.on),
      as_wide: renamed(place.as_wide),
      as_tall: renamed(place.as_tall),
    }));
  }
  return [next, [...copies.values()]];
}

/** Which of some lines are to be moved when all of them move: what is held to another goes with it. */
export function moversOf(design: Design, ids: string[]): string[] {
  const goesAlong = (ref: string | null | undefined, before: number): boolean => {
    const at = sourceOf(design, ref, before);
    const line = design.recipe[at];
    if (!line) return false;
    const along = (one: string | null | undefined) => goesAlong(one, at);
    if (isPlaced(line)) return (ids.includes(line.id) && !line.locked) || along(line.place.on);
    if (line.kind === "knock_out") return along(ref?.endsWith("/shows") ? line.picture : line.target);
    return line.kind === "back" ? line.of.length > 0 && line.of.every(along) : line.kind === "clean" && along(line.of);
  };
  return design.recipe
    .filter((line, at) => ids.includes(line.id) && isPlaced(line) && !line.locked && !goesAlong(line.place.on, at))
    .map((line) => line.id);
}

/** Where in the recipe the line of a result stands; -1 unless before a place, as results of later lines count for nothing. */
function sourceOf(design: Design, ref: string | null | undefined, before: number): number {
  const at = design.recipe.findIndex((one) => one.id === ref?.split("/")[0]);
  return at < before ? at : -1;
}

/** The line a placed one is held to. */
export function anchorOf(design: Design, id: string): Line | undefined {
  const at = design.recipe.findIndex((one) => one.id === id);
  const line = design.recipe[at];
  return isPlaced(line) ? design.recipe[sourceOf(design, line.place.on, at)] : undefined;
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

/** To thousandths: what of a figure counts. */
export const tidied = (mm: number) => Math.round(mm * 1000) / 1000;

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
