/** What lines are made of, as their kinds say it: a new kind of line needs nothing here. */

import { knownKinds } from "../api/cache";
import type { Design, Kind, Line } from "../api/client";
import { kindOf } from "./kindOf";
import { refTo } from "./refs";

const valuesOf = (line: Line) => line as unknown as Record<string, unknown>;

/** Results a line works on, its place's not among them. */
export function madeOf(line: Line, kinds: Kind[] | undefined): string[] {
  const slots = kindOf(kinds, line.kind)?.slots ?? [];
  return slots.filter((slot) => slot.slot === "ref" || slot.slot === "refs").flatMap((slot) => valuesOf(line)[slot.field] as string | string[]);
}

/** Results of a line that stand for another one, on its ply and in its place: what is left of words, for the words. */
export function standsFor(line: Line, kinds: Kind[] | undefined): Record<string, string> {
  const { replaces = {}, each = "" } = kindOf(kinds, line.kind) ?? {};
  const taken = Object.entries(replaces).map(([name, field]) => [name, String(valuesOf(line)[field])]);
  return Object.fromEntries([...taken, ...eachOf(line, each).map((ref) => [ref, ref])]);
}

/** The names of a line's results. */
export function resultNames(line: Line, kinds: Kind[] | undefined): string[] {
  const { results = {}, each = "" } = kindOf(kinds, line.kind) ?? {};
  return [...Object.keys(results), ...eachOf(line, each)];
}

/** Whether plies go with a value when a line is given other things to work on by it. */
export function decidesPlies(line: Line, field: string, kinds: Kind[] | undefined): boolean {
  const { replaces = {}, each = "" } = kindOf(kinds, line.kind) ?? {};
  return field === each || Object.values(replaces).includes(field);
}

const eachOf = (line: Line, each: string) => (each ? (valuesOf(line)[each] as string[]) : []);

/** What shows flat while a line is chosen: what it shapes, or, of a thing that is shaped later, itself. */
export function shapedBy(design: Design, line: Line): string[] {
  const each = (one: Line) => eachOf(one, kindOf(knownKinds(), one.kind)?.each ?? "");
  const later = design.recipe.filter((one) => !one.off).flatMap(each);
  return [...each(line), ...resultNames(line, knownKinds()).map((name) => refTo(line.id, name)).filter((ref) => later.includes(ref))];
}
