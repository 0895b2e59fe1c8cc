/** What lines are made of, as their kinds say it: a new kind of line needs nothing here. */

import { knownKinds } from "../api/cache";
import type { Design, Kind, Line } from "../api/client";
import { kindOf } from "./kindOf";
import { refTo, resultOf } from "./refs";

const valuesOf = (line: Line) => line as unknown as Record<string, unknown>;

/** Results a line works on, its place's not among them. */
export function madeOf(line: Line, kinds: Kind[] | undefined): string[] {
  const slots = kindOf(kinds, line.kind)?.slots ?? [];
  return slots.filter((slot) => slot.slot === "ref" || slot.slot === "refs").flatMap((slot) => valuesOf(line)[slot.field] as string | string[]);
}

/** Results of a line that stand for others, on their ply and in their place: what is left of words, for the words. */
export function standsFor(line: Line, kinds: Kind[] | undefined): { name: string; source: string }[] {
  const { replaces = {} } = kindOf(kinds, line.kind) ?? {};
  const taken = Object.entries(replaces).flatMap(([name, field]) => [valuesOf(line)[field] as string | string[]].flat().map((source) => ({ name, source })));
  return [...taken, ...namedAfter(line, kinds).map((ref) => ({ name: ref, source: ref }))];
}

/** The names of a line's results. */
export function resultNames(line: Line, kinds: Kind[] | undefined): string[] {
  return [...Object.keys(kindOf(kinds, line.kind)?.results ?? {}), ...namedAfter(line, kinds)];
}

/** Whether plies go with a value when it is changed: what a line works on by it, or what is cut of that. */
export function decidesPlies(line: Line, field: string, kinds: Kind[] | undefined): boolean {
  const { replaces = {}, each = [], not_cut = {}, slots = [] } = kindOf(kinds, line.kind) ?? {};
  return field in not_cut || each.includes(field) || Object.values(replaces).includes(field) || slots.some((slot) => slot.field === field && slot.plies);
}

/** Results a line works on that each give one of its own. */
function namedAfter(line: Line, kinds: Kind[] | undefined): string[] {
  const { each = [], not_cut = {} } = kindOf(kinds, line.kind) ?? {};
  const cut = (field: string) => !not_cut[field] || valuesOf(line)[not_cut[field][0]] !== not_cut[field][1];
  return [...new Set(each.filter(cut).flatMap((field) => valuesOf(line)[field] as string[]))];
}

/** The results a line gives another shape: none of one that does not. */
export function shapes(line: Line, kinds: Kind[] | undefined): string[] {
  return kindOf(kinds, line.kind)?.shapes ? namedAfter(line, kinds) : [];
}

/** What shows as it was while a line is chosen: what it shapes, or, of a thing that is shaped later, itself. */
export function shapedBy(design: Design, line: Line): string[] {
  const later = shapedAnywhere(design);
  const own = resultNames(line, knownKinds()).map((name) => refTo(line.id, name));
  return [...shapes(line, knownKinds()), ...own.filter((ref) => later.has(ref))];
}

/** Results that a later line shapes, and what those were made of under the same name. */
export function shapedAnywhere(design: Design): Set<string> {
  const found = new Set<string>();
  for (const line of design.recipe.filter((one) => !one.off)) {
    for (let ref of shapes(line, knownKinds())) {
      found.add(ref);
      while ((ref = resultOf(ref)).includes("/")) found.add(ref);
    }
  }
  return found;
}
