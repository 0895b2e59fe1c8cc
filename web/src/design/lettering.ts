/** Rows of words, and letters of them that are set by hand. */

import type { Design, Lettering, Line, OwnLetter } from "../api/client";
import { tidied } from "../units";
import { withLine } from "./edits";

export const isLettering = (line: Line | null | undefined): line is Lettering => line?.kind === "letter";

export function withLettering(design: Design, id: string, edit: (line: Lettering) => Lettering): Design {
  return withLine(design, id, (line) => (isLettering(line) ? edit(line) : line));
}

/** A letter by its row and its first character's place in that row as typed, both from 0. */
export interface PickedLetter {
  row: number;
  at: number;
}
const AUTOMATIC = { x: 0, y: 0, turn: 0, wide: 100, tall: 100, form: null };

export function ownLetter(line: Lettering, letter: PickedLetter): OwnLetter {
  return line.rows[letter.row]?.own.find((one) => one.at === letter.at) ?? { at: letter.at, ...AUTOMATIC };
}

/** The lettering with one letter changed by hand and, as it is moved, those after it in its row taken along. */
export function withLettersFrom(line: Lettering, letter: PickedLetter, part: Partial<OwnLetter>, along: boolean): Lettering {
  const own = ownLetter(line, letter);
  const [dx, dy] = [(part.x ?? own.x) - own.x, (part.y ?? own.y) - own.y];
  const after = along && (dx !== 0 || dy !== 0) ? Array.from(line.rows[letter.row]?.text ?? "").flatMap((sign, at) => (at > letter.at && sign.trim() ? [at] : [])) : [];
  return after.reduce((next, at) => {
    const { x, y } = ownLetter(next, { row: letter.row, at });
    return withOwnLetter(next, { row: letter.row, at }, { x: tidied(x + dx), y: tidied(y + dy) });
  }, withOwnLetter(line, letter, part));
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
