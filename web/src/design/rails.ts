/** Rails of lines, by which others can go. */

import { knownKinds } from "../api/cache";
import type { Design, Line } from "../api/client";
import { isLettering } from "./lettering";
import { lineOf, resultOf } from "./refs";
import { standsFor } from "./sources";

export type RailsLine = Extract<Line, { kind: "rails" }>;

export const isRails = (line: Line | undefined): line is RailsLine => line?.kind === "rails";

/** Every rail of the lines before one, or of all lines: what it goes by, and what it is called. */
export function railsToFollow(design: Design, before: string | null): { like: string; name: string }[] {
  const end = before === null ? design.recipe.length : design.recipe.findIndex((line) => line.id === before);
  return design.recipe.slice(0, end).flatMap((line, index) => {
    if (!isRails(line)) return [];
    const sides = ["top", ...line.between.map((_, i) => `between.${i}`), "bottom"];
    return sides.map((side) => {
      const [name = "", number] = side.split(".");
      const called = number === undefined ? `the ${name} rail` : `the rail under row ${Number(number) + 1}`;
      return { like: `${line.id}/${side}`, name: `${called} of line ${index + 1}` };
    });
  });
}

/** The rows of words that a line works on, from the top down. */
export function rowsOf(design: Design, refs: string[]): string[] {
  const roots = new Set(refs.map((ref) => rootOf(design, ref)));
  const letterings = design.recipe.filter((line) => roots.has(line.id)).filter(isLettering);
  return letterings.flatMap((line) => line.rows.map((row) => row.text.trim()).filter(Boolean));
}

/** The line a result comes from in the end: through those that take another's place. */
export function rootOf(design: Design, ref: string): string {
  const line = design.recipe.find((one) => one.id === lineOf(ref));
  const source = line && standsFor(line, knownKinds()).find((one) => one.name === resultOf(ref))?.source;
  return source ? rootOf(design, source) : lineOf(ref);
}
