/** Plain edits of the document; anything that needs the trade's rules is asked of the server. */

import type { Design, Lettering, Line, Material, OwnLetter, Ply } from "../api/client";

export function withLine(design: Design, id: string, edit: (line: Line) => Line): Design {
  return { ...design, recipe: design.recipe.map((line) => (line.id === id ? edit(line) : line)) };
}

export function withValue(design: Design, id: string, field: string, value: unknown): Design {
  return withLine(design, id, (line) => ({ ...line, [field]: value }) as Line);
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

export function freeId(prefix: string, taken: string[]): string {
  for (let n = 1; ; n++) if (!taken.includes(`${prefix}${n}`)) return `${prefix}${n}`;
}

// -- letters by hand

/** A letter by its row and its first character's place in that row as typed, both from 0. */
export interface PickedLetter {
  row: number;
  at: number;
}
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
