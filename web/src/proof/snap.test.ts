import { describe, expect, it } from "vitest";
import type { Box } from "../api/client";
import { type Around, settle, settlePull, shiftedBox } from "./snap";

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

  it("keeps a letter to its row's own lines, not to where its neighbours overshoot them", () => {
    const row: Around = { ...nothing, boxes: [[14, -0.3, 24, 10.4]], levels: [{ at: 10 }], own: [9], inRow: true };
    expect(settle([0, 0, 10, 9.3], 0, 0.5, row, 1.5).dy).toBe(1);
    expect(settle([0, 0, 10, 9.3], 4.2, 0.5, { ...row, inRow: false }, 1.5).dy).not.toBe(1);
  });

  it("lets the edge that is pulled settle, a corner in proportion, and says which it is level with", () => {
    const other: Box = [40, 50, 60, 70];
    const around = { ...nothing, boxes: [other] };
    const both = { x: true, y: true };
    const side = settlePull(thing, { fx: 1, fy: 0.5, sx: 3.9, sy: 1 }, both, around, 2);
    expect(side).toMatchObject({ sx: 4, sy: 1, marks: { lines: [{ along: "x", at: 40, from: 0, to: 70 }] } });
    // Its lower edge is 0.5 from the other's upper one, its right one farther from anything.
    const corner = settlePull([0, 0, 25, 10], { fx: 1, fy: 1, sx: 4.95, sy: 4.95 }, both, around, 2);
    expect(corner).toMatchObject({ sx: 5, sy: 5, marks: { lines: [{ along: "y", at: 50 }] } });
    expect(settlePull(thing, { fx: 0, fy: 0.5, sx: 3.9, sy: 1 }, both, { ...nothing, guides: { x: [-30], y: [] } }, 2)?.sx).toBe(4);
    expect(settlePull(thing, { fx: 1, fy: 0.5, sx: 3.9, sy: 1 }, { x: false, y: true }, around, 2)).toBeNull();
    expect(settlePull(thing, { fx: 1, fy: 0.5, sx: 3.5, sy: 1 }, both, around, 2)).toBeNull();
  });

  it("says how far it is to its nearest neighbour", () => {
    const { marks } = settle(thing, 33, 0, { ...nothing, boxes: [[0, -3, 20, 14]] }, 0.1);
    expect(marks.gaps).toContainEqual({ along: "x", from: 20, to: 33, across: 5 });
  });

  it("says how far it is to both edges of what it lies within, the smallest of several", () => {
    const words: Box = [-40, -30, 100, 20];
    const { marks } = settle(thing, 13, -3, { ...nothing, boxes: [words, [-200, -200, 200, 200]] }, 0.1);
    expect(marks.gaps.map(({ along, from, to }) => [along, from, to])).toEqual([
      ["x", -40, 13],
      ["x", 23, 100],
      ["y", -30, -3],
      ["y", 7, 20],
    ]);
  });
});

describe("whatever is around", () => {
  // A small generator with a fixed seed: the same thousand cases each time.
  let state = 20261124;
  const random = (low: number, high: number) => {
    state = (state * 1103515245 + 12345) % 2147483648;
    return low + ((high - low) * state) / 2147483648;
  };
  const anyBox = (): Box => {
    const [x, y] = [random(-100, 100), random(-100, 100)];
    return [x, y, x + random(1, 60), y + random(1, 60)];
  };
  const places = (box: Box, along: "x" | "y") => {
    const [low, high] = along === "x" ? [box[0], box[2]] : [box[1], box[3]];
    return [low, (low + high) / 2, high];
  };
  const near = (a: number, b: number) => Math.abs(a - b) < 1e-6;

  it("nothing settles farther off than its reach, and every line and gap shown is true", () => {
    let settled = 0;
    for (let round = 0; round < 1000; round++) {
      const around: Around = {
        ...nothing,
        boxes: Array.from({ length: Math.floor(random(0, 6)) }, anyBox),
        guides: { x: [random(-90, 90)], y: [] },
      };
      const [box, dx, dy, reach] = [anyBox(), random(-40, 40), random(-40, 40), random(0.2, 5)];
      const found = settle(box, dx, dy, around, reach);
      expect(Math.abs(found.dx - dx)).toBeLessThanOrEqual(reach + 1e-9);
      expect(Math.abs(found.dy - dy)).toBeLessThanOrEqual(reach + 1e-9);
      const now = shiftedBox(box, found.dx, found.dy);
      for (const { along, at } of found.marks.lines) {
        settled++;
        const others = [...around.boxes.flatMap((one) => places(one, along)), ...around.guides[along]];
        expect(places(now, along).some((place) => near(place, at))).toBe(true);
        expect(others.some((place) => near(place, at))).toBe(true);
      }
      for (const { along, from, to } of found.marks.gaps) {
        const edges = [now, ...around.boxes].flatMap((one) => places(one, along).filter((_, i) => i !== 1));
        expect(to).toBeGreaterThan(from);
        for (const end of [from, to]) expect(edges.some((edge) => near(edge, end))).toBe(true);
      }
    }
    expect(settled).toBeGreaterThan(200);
  });
});
