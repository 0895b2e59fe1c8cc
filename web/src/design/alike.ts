import type { Design, Line } from "../api/client";

/** Whether two states of a line differ in where it lies at most. */
export function onlyMoved(a: Line, b: Line | undefined): boolean {
  if (a === b) return true;
  if (!b || a.kind !== b.kind) return false;
  const [was, is] = [a as unknown as Record<string, unknown>, b as unknown as Record<string, unknown>];
  return Object.keys(is).every((field) => field === "place" || was[field] === is[field]);
}

/** Whether two states of a design differ in where things lie at most: what is named and chosen is the same. */
export function onlyThingsMoved(a: Design, b: Design): boolean {
  if (a === b) return true;
  const rest = (Object.keys(b) as (keyof Design)[]).every((field) => field === "recipe" || field === "guides" || a[field] === b[field]);
  return rest && a.recipe.length === b.recipe.length && a.recipe.every((line, i) => onlyMoved(line, b.recipe[i]));
}
