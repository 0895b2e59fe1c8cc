/** Plain edits of the document; anything that needs the trade's rules is asked of the server. */

import type { Design, Line, Material, Ply } from "../api/client";

export function withLine(design: Design, id: string, edit: (line: Line) => Line): Design {
  return { ...design, recipe: design.recipe.map((line) => (line.id === id ? edit(line) : line)) };
}

export function withValue(design: Design, id: string, field: string, value: unknown): Design {
  return withLine(design, id, (line) => ({ ...line, [field]: value }) as Line);
}

export function withPly(design: Design, id: string, edit: (ply: Ply) => Ply): Design {
  return { ...design, plies: design.plies.map((ply) => (ply.id === id ? edit(ply) : ply)) };
}

/** A ply that cuts these results; of those it was to share with another ply, the ones that are left. */
const cutting = (ply: Ply, results: string[]): Ply => ({ ...ply, results, also: ply.also.filter((ref) => results.includes(ref)) });

const less = (ply: Ply, ref: string) => cutting(ply, ply.results.filter((one) => one !== ref));

/** The plies without those that cut something before and cut nothing now. */
const withoutEmptied = (plies: Ply[], before: Ply[]) =>
  plies.filter((ply) => ply.results.length > 0 || before.some((one) => one.id === ply.id && one.results.length === 0));

/** The design with a result cut no more from a ply; a ply that cuts nothing then goes. */
export function withoutResult(design: Design, id: string, ref: string): Design {
  return { ...design, plies: withoutEmptied(withPly(design, id, (ply) => less(ply, ref)).plies, design.plies) };
}

/** The design with a result cut from one ply and no other; plies that cut nothing then go. */
export function withResultOn(design: Design, id: string, ref: string): Design {
  const plies = design.plies.map((ply) => (ply.id === id ? { ...ply, results: [...less(ply, ref).results, ref] } : less(ply, ref)));
  return { ...design, plies: withoutEmptied(plies, design.plies) };
}

/** The design with a result cut from one ply, whichever others cut it too. */
export const withResultAlsoOn = (design: Design, id: string, ref: string): Design =>
  withPly(design, id, (ply) => ({ ...ply, results: [...ply.results, ref], also: [...ply.also, ref] }));

/** The design with one ply's results cut from another, which keeps its name and material. */
export function mergedPlies(design: Design, from: string, into: string): Design {
  const gone = design.plies.find((ply) => ply.id === from);
  const merged = withPly(design, into, (ply) => ({
    ...ply,
    results: [...new Set([...ply.results, ...(gone?.results ?? [])])],
    also: [...new Set([...ply.also, ...(gone?.also ?? [])])],
  }));
  return { ...merged, plies: merged.plies.filter((ply) => ply.id !== from) };
}

/** The design with the names its plies go by just now, where those follow what is cut. */
export function withPlyNames(design: Design, named: readonly { id: string; name: string }[]): Design {
  const nameOf = (ply: Ply) => (ply.typed ? ply.name : (named.find(({ id }) => id === ply.id)?.name ?? ply.name));
  if (design.plies.every((ply) => nameOf(ply) === ply.name)) return design;
  return { ...design, plies: design.plies.map((ply) => ({ ...ply, name: nameOf(ply) })) };
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
