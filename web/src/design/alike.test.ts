import { expect, test } from "vitest";
import type { Design } from "../api/client";
import { onlyThingsMoved } from "./alike";

const line = (id: string, x: number, size = 10) => ({ kind: "shape", id, size, place: { x } });
const design = (...recipe: unknown[]) => ({ name: "a", plies: [], guides: { x: [], y: [] }, recipe }) as unknown as Design;

test("a drag moves things and leaves the rest as it is", () => {
  const [first, second] = [line("l1", 0), line("l2", 0)];
  const before = design(first, second);
  expect(onlyThingsMoved(before, { ...before, recipe: design(first, line("l2", 5)).recipe })).toBe(true);
  expect(onlyThingsMoved(before, { ...before, guides: { x: [1], y: [] } })).toBe(true);
  expect(onlyThingsMoved(before, { ...before, name: "b" })).toBe(false);
  expect(onlyThingsMoved(before, { ...before, recipe: design(first, line("l2", 5, 11)).recipe })).toBe(false);
  expect(onlyThingsMoved(before, { ...before, recipe: design(first).recipe })).toBe(false);
});
