/** Things through the recipe: which result stands where another stood, and which is the newest of each. */

import type { Design, Kind, Line } from "../api/client";
import { kindOf } from "./kindOf";
import { refTo } from "./refs";
import { resultNames, standsFor } from "./sources";

/** By each result whose place a later line takes, the result that stands there then; as far as a line, if one is named. */
export function successors(design: Design, kinds: Kind[] | undefined, before: string | null = null): Map<string, string> {
  const end = design.recipe.findIndex((line) => line.id === before);
  const lines = design.recipe.slice(0, end < 0 ? undefined : end);
  return new Map(lines.flatMap((line) => standsFor(line, kinds).map(({ name, source }) => [source, refTo(line.id, name)] as const)));
}

/** A result and all that came to stand in its place, the newest last. */
export function chainOf(ref: string, next: Map<string, string>): string[] {
  const chain = [ref];
  for (let at = next.get(ref); at !== undefined && !chain.includes(at); at = next.get(at)) chain.push(at);
  return chain;
}

/** Results that a line can work on: the newest of each thing, the last made first, and those others have taken the place of. */
export function thingsBefore(design: Design, line: string | null, kinds: Kind[] | undefined): { newest: string[]; earlier: string[] } {
  const end = line === null ? design.recipe.length : design.recipe.findIndex((one) => one.id === line);
  const all = design.recipe
    .slice(0, end)
    .flatMap((one) => resultNames(one, kinds).map((name) => refTo(one.id, name)))
    .reverse();
  const next = successors(design, kinds, line);
  return { newest: all.filter((ref) => !next.has(ref)), earlier: all.filter((ref) => next.has(ref)) };
}

/** The ply that cuts a result, or what stands in its place by now. */
export function plyOf(design: Design, ref: string, next: Map<string, string>) {
  const chain = chainOf(ref, next);
  return design.plies.find((ply) => ply.results.some((one) => chain.includes(one)));
}

/** Results that other values of a line name: none of them can be named twice. */
export function usedElsewhere(line: Line, field: string, kinds: Kind[] | undefined): string[] {
  const values = line as unknown as Record<string, string | string[]>;
  const slots = kindOf(kinds, line.kind)?.slots ?? [];
  return slots.filter((slot) => slot.field !== field && (slot.slot === "ref" || slot.slot === "refs")).flatMap((slot) => values[slot.field] ?? []);
}
