/** Copies of lines, cut from the same plies. */

import type { Design, Kind } from "../api/client";
import { freeId } from "./edits";
import { withPlace } from "./placing";
import { lineOf, refTo, resultOf } from "./refs";
import { standsFor } from "./sources";

/** Which result of a line each ref stands for, its own included. */
function standIns(design: Design, id: string, kinds: Kind[] | undefined): Map<string, string> {
  const found = new Map<string, string>();
  const own = (ref: string) => (lineOf(ref) === id ? ref : found.get(ref));
  for (const ply of design.plies) for (const ref of ply.results) if (lineOf(ref) === id) found.set(ref, ref);
  for (const line of design.recipe) {
    for (const { name, source } of standsFor(line, kinds)) {
      const stands = own(source);
      if (stands) found.set(refTo(line.id, name), stands);
    }
  }
  return found;
}

/** The design with a copy of a line right after it, cut from the same plies, and the copy's id. */
export function withCopy(design: Design, id: string, kinds: Kind[] | undefined): [Design, string] {
  const index = design.recipe.findIndex((one) => one.id === id);
  const line = design.recipe[index];
  if (!line) return [design, id];
  const copy = freeId(
    "l",
    design.recipe.map((one) => one.id),
  );
  const shown = standIns(design, id, kinds);
  const plies = design.plies.map((ply) => {
    const copied = ply.results.flatMap((ref) => shown.get(ref) ?? []).map((ref) => refTo(copy, resultOf(ref)));
    return copied.length ? { ...ply, results: [...ply.results, ...new Set(copied)] } : ply;
  });
  return [{ ...design, recipe: design.recipe.toSpliced(index + 1, 0, { ...line, id: copy }), plies }, copy];
}

/** The design with copies of several lines, those held to another of them held to its copy; and their ids. */
export function withCopies(design: Design, ids: string[], kinds: Kind[] | undefined): [Design, string[]] {
  const copies = new Map<string, string>();
  let next = design;
  for (const id of ids) {
    const [copied, copy] = withCopy(next, id, kinds);
    next = copied;
    copies.set(id, copy);
  }
  const renamed = (ref: string | null | undefined) => {
    const copy = copies.get(lineOf(ref));
    return copy ? refTo(copy, resultOf(ref)) : ref;
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
