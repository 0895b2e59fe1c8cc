import type { Design, Kind, Line } from "../api/client";
import { faceOf } from "./face";
import { kindOf } from "./kindOf";
import { lineOf } from "./refs";

/** What a line is called in words: its picture's name, its words, or its kind. */
export function lineName(design: Design, line: Line, kinds: Kind[] | undefined): string {
  return faceOf(line).name?.(line, design) ?? kindOf(kinds, line.kind)?.name ?? line.kind;
}

/** Which line a result comes out of, and what that does. */
export function resultOrigin(design: Design, ref: string, kinds: Kind[] | undefined): string {
  const index = design.recipe.findIndex((line) => line.id === lineOf(ref));
  const line = design.recipe[index];
  return line ? `line ${index + 1}, ${kindOf(kinds, line.kind)?.name ?? line.kind}` : "";
}
