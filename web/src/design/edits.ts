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
