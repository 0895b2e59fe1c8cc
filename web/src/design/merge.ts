/** Answers of the server laid over what was done on the bench meanwhile. */

import type { Design } from "../api/client";

type Fields = Record<string, unknown>;

const isFields = (value: unknown): value is Fields =>
  typeof value === "object" && value !== null && !Array.isArray(value);
const isListOfNamed = (value: unknown): value is (Fields & { id: string })[] =>
  Array.isArray(value) && value.every((one) => isFields(one) && typeof one.id === "string");
const same = (a: unknown, b: unknown) => a === b || JSON.stringify(a) === JSON.stringify(b);

/**
 * The design as it is now with what an answer changed of the design that was sent: lines, plies and
 * single values the answer left alone stay as they are now.
 */
export function withAnswer(now: Design, sent: Design, answer: Design): Design {
  return now === sent ? answer : (merged(now, sent, answer) as Design);
}

/** Whether an answer gives something an id that something else has taken meanwhile. */
export function clashes(now: Design, sent: Design, answer: Design): boolean {
  const lists = [
    [now.recipe, sent.recipe, answer.recipe],
    [now.plies, sent.plies, answer.plies],
    [now.materials, sent.materials, answer.materials],
  ] as const;
  return lists.some(([there, before, after]) => {
    const known = new Set(before.map((one) => one.id));
    const added = new Set(there.map((one) => one.id).filter((id) => !known.has(id)));
    return after.some((one) => added.has(one.id));
  });
}

function merged(now: unknown, sent: unknown, answer: unknown): unknown {
  if (same(sent, answer)) return now;
  if (same(now, sent)) return answer;
  if (isListOfNamed(now) && isListOfNamed(sent) && isListOfNamed(answer)) return mergedList(now, sent, answer);
  if (isFields(now) && isFields(sent) && isFields(answer)) return mergedFields(now, sent, answer);
  if (Array.isArray(now) && Array.isArray(sent) && Array.isArray(answer)) {
    const alike = now.length === sent.length && sent.length === answer.length;
    if (alike) return now.map((one, index) => merged(one, sent[index], answer[index]));
  }
  return answer;
}

function mergedFields(now: Fields, sent: Fields, answer: Fields): Fields {
  const next = { ...now };
  for (const key of Object.keys(answer)) next[key] = merged(now[key], sent[key], answer[key]);
  return next;
}

/** What the answer took out goes, what it added comes after what it follows there, or first of all. */
function mergedList<T extends Fields & { id: string }>(now: T[], sent: T[], answer: T[]): Fields[] {
  const [before, after] = [sent, answer].map((list) => new Map(list.map((one) => [one.id, one])));
  const list: Fields[] = now
    .filter((one) => after?.has(one.id) || !before?.has(one.id))
    .map((one) => {
      const [old, next] = [before?.get(one.id), after?.get(one.id)];
      return old && next ? mergedFields(one, old, next) : one;
    });
  answer.forEach((one, index) => {
    if (before?.has(one.id)) return;
    const earlier = answer.slice(0, index).map((other) => other.id);
    const at = list.findLastIndex((other) => earlier.includes(String(other.id)));
    list.splice(at + 1, 0, one);
  });
  return list;
}
