import type { Kind, Line } from "../api/client";

/** "[figure=heart|oval:words]" or "[rows>1:words]": said only where that is so. */
const ONLY_WHERE = /\[(\w+)([=>])([^:\]]+):([^\]]*)\]/g;

/** A line's sentence in turns: words, the name of a value, words, and so on. */
export function sentenceOf(kind: Kind, line: Line): string[] {
  const values = line as unknown as Record<string, unknown>;
  const holds = (value: unknown, how: string, asked: string) =>
    how === "=" ? asked.split("|").includes(String(value)) : (Array.isArray(value) ? value.length : Number(value)) > Number(asked);
  return kind.sentence
    .replace(ONLY_WHERE, (_, field: string, how: string, asked: string, words: string) => (holds(values[field], how, asked) ? words : ""))
    .split(/\{(\w+)\}/);
}
