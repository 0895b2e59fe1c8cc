/** What a step did, in words: found by comparing the design before and after it. */

import type { Design, Kind, Line, Lettering } from "../api/client";
import { kindOf } from "./kindOf";
import { isLettering } from "./lettering";

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
const short = (text: string) => (text.length > 18 ? `${text.slice(0, 17)}…` : text);

/** "line 2 moved", "gap between letters of line 1 changed"; what was done first comes first. */
export function stepInWords(before: Design, after: Design, kinds: Kind[] | undefined): string {
  const said = differences(before, after, kinds);
  if (said.length === 0) return "nothing to see";
  return said.length > 2 ? `${said[0]} and ${said.length - 1} more changes` : said.join(", ");
}

function differences(before: Design, after: Design, kinds: Kind[] | undefined): string[] {
  const said: string[] = [];
  const ids = (design: Design) => design.recipe.map((line) => line.id);
  after.recipe.forEach((line, index) => {
    const old = before.recipe.find((one) => one.id === line.id);
    const number = index + 1;
    if (!old) said.push(`line ${number} added`);
    else if (!same(old, line)) said.push(...lineChanges(old, line, number, kinds));
  });
  before.recipe.forEach((line, index) => {
    if (!ids(after).includes(line.id)) said.push(`line ${index + 1} removed`);
  });
  const kept = ids(before).filter((id) => ids(after).includes(id));
  if (!same(kept, ids(after).filter((id) => kept.includes(id)))) said.push("lines put in another order");
  if (before.name !== after.name) said.push(`name changed to “${short(after.name)}”`);
  if (before.unit !== after.unit) said.push(`shown in ${after.unit === "mm" ? "millimetres" : "inches"}`);
  if (!same(before.ground, after.ground)) said.push("ground changed");
  if (!same(before.guides, after.guides)) said.push("guides changed");
  if (!same(before.materials, after.materials)) said.push("a material changed");
  if (!same(before.plies, after.plies) && said.length === 0) said.push(plyChange(before, after));
  return said;
}

function lineChanges(old: Line, line: Line, number: number, kinds: Kind[] | undefined): string[] {
  const said: string[] = [];
  const [a, b] = [old as unknown as Record<string, unknown>, line as unknown as Record<string, unknown>];
  for (const field of Object.keys(b)) {
    if (same(a[field], b[field])) continue;
    if (field === "place" && "place" in old && "place" in line) said.push(placeChange(old.place, line.place, number));
    else if (field === "off") said.push(`line ${number} switched ${line.off ? "off" : "on"}`);
    else if (field === "locked") said.push(`line ${number} ${line.locked ? "locked" : "unlocked"}`);
    else if (field === "rows" && isLettering(old) && isLettering(line)) said.push(rowsChange(old, line, number));
    else if (field === "size" || field === "width" || field === "height" || field === "stretch") said.push(`line ${number} resized`);
    else {
      const slot = kindOf(kinds, line.kind)?.slots.find((one) => one.field === field);
      said.push(`${(slot?.label ?? FIELDS[field] ?? "a value").toLowerCase()} of line ${number} changed`);
    }
  }
  // A pull on a corner moves and resizes at once: that is one thing to her.
  const resized = said.find((one) => one.endsWith("resized"));
  return resized ? [resized] : [...new Set(said)];
}

const FIELDS: Record<string, string> = {
  case: "capitals",
  gives: "what may stretch",
  joins: "script joins",
  features: "letter forms",
  axes: "weight and width of the font",
};

type Placed = Extract<Line, { kind: "shape" }>["place"];

function placeChange(old: Placed, now: Placed, number: number): string {
  if (old.on !== now.on || old.across !== now.across || old.down !== now.down) return `line ${number} held elsewhere`;
  if (old.as_wide !== now.as_wide || old.as_tall !== now.as_tall) return `size of line ${number} held to another`;
  if (old.flip !== now.flip) return `line ${number} flipped`;
  return old.rotate === now.rotate ? `line ${number} moved` : `line ${number} turned`;
}

function rowsChange(old: Lettering, line: Lettering, number: number): string {
  const words = (one: Lettering) => one.rows.map((row) => row.text);
  if (!same(words(old), words(line))) {
    const changed = words(line).find((text, i) => text !== words(old)[i]);
    return changed ? `words of line ${number} changed to “${short(changed)}”` : `a row of line ${number} removed`;
  }
  const own = (one: Lettering) => one.rows.map((row) => row.own);
  if (!same(own(old), own(line))) return `letter of line ${number} changed by hand`;
  return `row of line ${number} changed`;
}

function plyChange(before: Design, after: Design): string {
  const gone = before.plies.find((ply) => !after.plies.some((one) => one.id === ply.id));
  if (gone) return `ply “${short(gone.name)}” removed`;
  const added = after.plies.find((ply) => !before.plies.some((one) => one.id === ply.id));
  if (added) return `ply “${short(added.name)}” added`;
  const changed = after.plies.find((ply) => !same(ply, before.plies.find((one) => one.id === ply.id)));
  if (!changed) return "plies put in another order";
  const old = before.plies.find((ply) => ply.id === changed.id);
  if (old && old.hidden !== changed.hidden) return `ply “${short(changed.name)}” ${changed.hidden ? "hidden" : "shown"}`;
  return `ply “${short(changed.name)}” changed`;
}
