import { describe, expect, it } from "vitest";
import type { Box } from "../api/client";
import { type Around, settle, shiftedBox } from "./snap";

const nothing: Around = { boxes: [], levels: [], own: [], guides: { x: [], y: [] }, grid: null };
const thing: Box = [0, 0, 10, 10];

describe("settling while dragged", () => {
  it("goes nowhere when nothing is near", () => {
    const { dx, dy, marks } = settle(thing, 3.3, 4.4, { ...nothing, boxes: [[500, 500, 510, 510]] }, 2);
    expect([dx, dy]).toEqual([3.3, 4.4]);
    expect(marks.lines).toEqual([]);
  });

  it("levels its edges and middles with those around it", () => {
    const other: Box = [50, 100, 90, 120];
    const { dx, dy, marks } = settle(thing, 48.8, 104.1, { ...nothing, boxes: [other] }, 2);
    // Its left edge is 1.2 from the other's, its middle 0.9 from the other's.
    expect(shiftedBox(thing, dx, dy)).toEqual([50, 105, 60, 115]);
    expect(marks.lines).toContainEqual({ along: "x", at: 50, from: 100, to: 120 });
    expect(marks.lines).toContainEqual({ along: "y", at: 110, from: 50, to: 90 });
  });

  it("puts itself half-way between two, and a like step beyond them", () => {
    const boxes: Box[] = [
      [0, 0, 10, 10],
      [60, 0, 70, 10],
    ];
    const between = settle(thing, 29, 50, { ...nothing, boxes: boxes.map((b) => shiftedBox(b, 0, 52)) }, 3);
    expect(between.dx).toBe(30);
    expect(between.marks.gaps.map((gap) => gap.to - gap.from)).toEqual([20, 20]);
    const beyond = settle(thing, 118, 50, { ...nothing, boxes: boxes.map((b) => shiftedBox(b, 0, 52)) }, 3);
    expect(beyond.dx).toBe(120);
  });

  it("puts a baseline on a baseline, and keeps to guides and the grid", () => {
    const own = { ...nothing, own: [8.5], levels: [{ at: 40, of: [0, 20, 5, 41] as Box }] };
    expect(settle(thing, 100, 31, own, 1.5).dy).toBe(31.5);
    expect(settle(thing, 24.2, 0.4, { ...nothing, guides: { x: [25], y: [] } }, 1).dx).toBe(25);
    expect(settle(thing, 19.2, 41, { ...nothing, grid: 20 }, 1.5)).toMatchObject({ dx: 20, dy: 40 });
  });

  it("says how far it is to its nearest neighbour", () => {
    const { marks } = settle(thing, 33, 0, { ...nothing, boxes: [[0, -3, 20, 14]] }, 0.1);
    expect(marks.gaps).toContainEqual({ along: "x", from: 20, to: 33, across: 5 });
  });
});
