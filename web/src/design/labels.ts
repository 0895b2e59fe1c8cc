import type { Design, Kind, Line } from "../api/client";
import { faceOf } from "../kinds";
import { kindOf } from "./kindOf";
import { lineOf, refTo, resultOf } from "./refs";

/** What a line is called in words: its picture's name, its words, or its kind. */
export function lineName(design: Design, line: Line, kinds: Kind[] | undefined): string {
  return faceOf(line).name?.(line, design) ?? kindOf(kinds, line.kind)?.name ?? line.kind;
}

/** A result in a sentence: "Lighthouse", "line 1", "line 3 words". */
export function resultLabel(design: Design, ref: string, kinds: Kind[] | undefined): string {
  const [id, name] = [lineOf(ref), resultOf(ref)];
  const index = design.recipe.findIndex((line) => line.id === id);
  const line = design.recipe[index];
  if (!line || !name) return ref ? "something removed" : "choose";
  const results = kindOf(kinds, line.kind)?.results ?? {};
  if (faceOf(line).named) return lineName(design, line, kinds);
  if (Object.keys(results).length === 1) return `line ${index + 1}`;
  return `line ${index + 1} ${results[name] ?? name}`;
}

/** Every result of the lines before one, or of all lines. */
export function resultsBefore(design: Design, lineId: string | null, kinds: Kind[] | undefined): string[] {
  const end = lineId === null ? design.recipe.length : design.recipe.findIndex((line) => line.id === lineId);
  return design.recipe
    .slice(0, end)
    .flatMap((line) => Object.keys(kindOf(kinds, line.kind)?.results ?? {}).map((name) => refTo(line.id, name)));
}
