import type { Design, Kind, Line } from "../api/client";
import { faceOf } from "./face";
import { kindOf } from "./kindOf";
import { lineOf, refTo, resultOf } from "./refs";
import { resultNames } from "./sources";

/** What a line is called in words: its picture's name, its words, or its kind. */
export function lineName(design: Design, line: Line, kinds: Kind[] | undefined): string {
  return faceOf(line).name?.(line, design) ?? kindOf(kinds, line.kind)?.name ?? line.kind;
}

/** A result in a sentence: "Lighthouse", "line 1", "line 3 (line 1)". */
export function resultLabel(design: Design, ref: string, kinds: Kind[] | undefined): string {
  const [id, name] = [lineOf(ref), resultOf(ref)];
  const index = design.recipe.findIndex((line) => line.id === id);
  const line = design.recipe[index];
  if (!line || !name) return ref ? "something removed" : "choose";
  if (faceOf(line).named) return lineName(design, line, kinds);
  if (resultNames(line, kinds).length === 1) return `line ${index + 1}`;
  const called = kindOf(kinds, line.kind)?.results[name];
  return called ? `line ${index + 1} ${called}` : `line ${index + 1} (${resultLabel(design, name, kinds)})`;
}

/** What a result is, wherever in the recipe it stands: the words, the picture, the ring. */
export function resultName(design: Design, ref: string, kinds: Kind[] | undefined): string {
  const [id, name] = [lineOf(ref), resultOf(ref)];
  const line = design.recipe.find((one) => one.id === id);
  if (!line || !name) return "something removed";
  if (name.includes("/")) return resultName(design, name, kinds);
  if (faceOf(line).name) return lineName(design, line, kinds);
  const called = kindOf(kinds, line.kind)?.results[name] ?? lineName(design, line, kinds);
  return called[0]?.toUpperCase() + called.slice(1);
}

/** Which line a result comes out of, and what that does. */
export function resultOrigin(design: Design, ref: string, kinds: Kind[] | undefined): string {
  const index = design.recipe.findIndex((line) => line.id === lineOf(ref));
  const line = design.recipe[index];
  return line ? `line ${index + 1}, ${kindOf(kinds, line.kind)?.name ?? line.kind}` : "";
}

/** Every result of the lines before one, or of all lines. */
export function resultsBefore(design: Design, lineId: string | null, kinds: Kind[] | undefined): string[] {
  const end = lineId === null ? design.recipe.length : design.recipe.findIndex((line) => line.id === lineId);
  return design.recipe
    .slice(0, end)
    .flatMap((line) => resultNames(line, kinds).map((name) => refTo(line.id, name)));
}
