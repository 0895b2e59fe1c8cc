/** Where a dragged thing settles: level with what lies around it, or spaced as that is. */

import type { Box } from "../api/client";
import type { Marks } from "../state/store";

/** A line to be level with. */
export interface Level {
  at: number;
  /** the box it comes from; guides and grids have none */
  of?: Box;
}

export interface Around {
  /** boxes of everything that stays */
  boxes: Box[];
  /** heights of baselines and capitals of lettering that stays, each with its lettering's box */
  levels: Level[];
  /** heights of baselines and capitals of what is dragged, where it was taken up */
  own: number[];
  /** the shop's guides, the ground's edges and middle */
  guides: { x: number[]; y: number[] };
  /** the grid's step, when it shows */
  grid: number | null;
  /** a letter of a row: up and down only baselines and capitals count, not how far round letters overshoot them */
  inRow?: boolean;
}

interface Found {
  by: number;
  lines: Marks["lines"];
  gaps: Marks["gaps"];
}

/** How near a thing has to come to what it settles on, in pixels. */
export const REACH = 6;
const SAME = 1e-6;

export const shiftedBox = ([x0, y0, x1, y1]: Box, dx: number, dy: number): Box => [x0 + dx, y0 + dy, x1 + dx, y1 + dy];

export function unionOf(boxes: Box[]): Box | null {
  if (boxes.length === 0) return null;
  const side = (i: 0 | 1 | 2 | 3) => boxes.map((box) => box[i]);
  return [Math.min(...side(0)), Math.min(...side(1)), Math.max(...side(2)), Math.max(...side(3))];
}

/**
 * How much farther a box that was dragged by (dx, dy) goes to settle, and what it settles on.
 * `reach` is how near it has to be, in mm.
 */
export function settle(start: Box, dx: number, dy: number, around: Around, reach: number): { dx: number; dy: number; marks: Marks } {
  const box = shiftedBox(start, dx, dy);
  const across = best("x", box, [], around, reach);
  const down = best("y", box, around.own.map((level) => level + dy), around, reach);
  const settled = shiftedBox(box, across?.by ?? 0, down?.by ?? 0);
  const marks: Marks = { lines: [], gaps: [] };
  for (const found of [across, down]) {
    if (!found) continue;
    marks.lines.push(...found.lines.map((line) => spanned(line, settled)));
    marks.gaps.push(...found.gaps);
  }
  marks.gaps.push(...distances(settled, around.boxes, marks));
  return { dx: dx + (across?.by ?? 0), dy: dy + (down?.by ?? 0), marks };
}

const sides = (box: Box, along: "x" | "y"): [number, number] => (along === "x" ? [box[0], box[2]] : [box[1], box[3]]);
const crossing = (along: "x" | "y") => (along === "x" ? "y" : "x");

function best(along: "x" | "y", box: Box, own: number[], around: Around, reach: number): Found | null {
  const [low, high] = sides(box, along);
  const inRow = along === "y" && around.inRow;
  const handles = inRow ? own : [low, (low + high) / 2, high, ...own];
  let found: Found | null = null;
  const nearer = (by: number) => Math.abs(by) <= reach && (!found || Math.abs(by) < Math.abs(found.by) - SAME);
  for (const level of levelsOf(along, around, [low, high])) {
    for (const handle of handles) {
      const by = level.at - handle;
      if (nearer(by)) found = { by, lines: [lineAt(along, level)], gaps: [] };
      else if (found && Math.abs(by - found.by) < SAME && found.gaps.length === 0) found.lines.push(lineAt(along, level));
    }
  }
  for (const even of inRow ? [] : evenly(along, box, around.boxes)) {
    if (nearer(even.by)) found = even;
  }
  return found;
}

/** All that an edge or a middle can be level with along one way; `edges` are near which grid lines count. */
function levelsOf(along: "x" | "y", around: Around, edges: number[]): Level[] {
  const boxes = along === "y" && around.inRow ? [] : around.boxes;
  const levels: Level[] = boxes.flatMap((of) => {
    const [a, b] = sides(of, along);
    return [a, (a + b) / 2, b].map((at) => ({ at, of }));
  });
  levels.push(...around.guides[along].map((at) => ({ at })));
  if (along === "y") levels.push(...around.levels);
  const { grid } = around;
  if (grid) levels.push(...edges.map((edge) => ({ at: Math.round(edge / grid) * grid })));
  return levels;
}

/** Which handle is pulled (0 to 1 across and down), and how many times as wide and tall that makes a box. */
export interface Scaling {
  fx: number;
  fy: number;
  sx: number;
  sy: number;
}

/**
 * A pull on a box's handle, so that the edge it moves settles; a corner keeps proportions, so one of its
 * two edges does. `exact` says along which ways the box grows just as much as it is pulled.
 */
export function settlePull(box: Box, pull: Scaling, exact: Record<"x" | "y", boolean>, around: Around, reach: number): (Scaling & { marks: Marks }) | null {
  const found = (["x", "y"] as const).flatMap((along) => {
    const [share, ratio] = along === "x" ? [pull.fx, pull.sx] : [pull.fy, pull.sy];
    if (share === 0.5 || !exact[along]) return [];
    const [low, high] = sides(box, along);
    const [edge, fixed] = share === 1 ? [high, low] : [low, high];
    const now = fixed + ratio * (edge - fixed);
    return levelsOf(along, around, [now])
      .filter((level) => Math.abs(level.at - now) <= reach && (level.at - fixed) * (edge - fixed) > 0)
      .map((level) => ({ along, level, off: Math.abs(level.at - now), ratio: (level.at - fixed) / (edge - fixed) }));
  });
  const nearest = found.sort((a, b) => a.off - b.off)[0];
  if (!nearest) return null;
  const corner = pull.fx !== 0.5 && pull.fy !== 0.5;
  const sx = corner || nearest.along === "x" ? nearest.ratio : pull.sx;
  const sy = corner || nearest.along === "y" ? nearest.ratio : pull.sy;
  const side = (low: number, high: number, share: number, by: number): [number, number] =>
    share === 1 ? [low, low + by * (high - low)] : share === 0 ? [high - by * (high - low), high] : [low, high];
  const [x0, x1] = side(box[0], box[2], pull.fx, sx);
  const [y0, y1] = side(box[1], box[3], pull.fy, sy);
  return { ...pull, sx, sy, marks: { lines: [spanned(lineAt(nearest.along, nearest.level), [x0, y0, x1, y1])], gaps: [] } };
}

function lineAt(along: "x" | "y", { at, of }: Level): Marks["lines"][number] {
  const [from, to] = of ? sides(of, crossing(along)) : [NaN, NaN];
  return { along, at, from, to };
}

/** A mark drawn as far as both things it joins reach. */
function spanned(line: Marks["lines"][number], box: Box): Marks["lines"][number] {
  const [low, high] = sides(box, crossing(line.along));
  return {
    ...line,
    from: Number.isNaN(line.from) ? low : Math.min(line.from, low),
    to: Number.isNaN(line.to) ? high : Math.max(line.to, high),
  };
}

/** Places where the gaps to both neighbours, or to a neighbour and its next, come out the same. */
function evenly(along: "x" | "y", box: Box, boxes: Box[]): Found[] {
  const cross = crossing(along);
  const [c0, c1] = sides(box, cross);
  const [low, high] = sides(box, along);
  const level = boxes
    .filter((other) => sides(other, cross)[0] < c1 && sides(other, cross)[1] > c0)
    .sort((a, b) => sides(a, along)[0] - sides(b, along)[0]);
  const middle = (c0 + c1) / 2;
  const gap = (from: number, to: number) => ({ along, from, to, across: middle });
  const found: Found[] = [];
  level.forEach((a, i) => {
    const b = level[i + 1];
    if (!b) return;
    const [a0, a1] = sides(a, along);
    const [b0, b1] = sides(b, along);
    const between = (a1 + b0) / 2 - (low + high) / 2;
    const size = high - low;
    if (b0 - a1 > size) found.push({ by: between, lines: [], gaps: [gap(a1, low + between), gap(high + between, b0)] });
    const step = b0 - a1;
    if (step <= 0) return;
    const after = b1 + step - low;
    found.push({ by: after, lines: [], gaps: [gap(a1, b0), gap(b1, b1 + step)] });
    const before = a0 - step - high;
    found.push({ by: before, lines: [], gaps: [gap(a0 - step, a0), gap(a1, b0)] });
  });
  return found;
}

/** How far it is to the nearest neighbour beside, or to both edges of the smallest thing it lies within. */
function distances(box: Box, boxes: Box[], marks: Marks): Marks["gaps"] {
  const made: Marks["gaps"] = [];
  for (const along of ["x", "y"] as const) {
    if (marks.gaps.some((one) => one.along === along)) continue;
    const cross = crossing(along);
    const [c0, c1] = sides(box, cross);
    const [low, high] = sides(box, along);
    const beside = boxes.filter((other) => sides(other, cross)[0] < c1 && sides(other, cross)[1] > c0);
    const gap = (other: Box, from: number, to: number) => {
      const [o0, o1] = sides(other, cross);
      return { along, from, to, across: (Math.max(o0, c0) + Math.min(o1, c1)) / 2 };
    };
    const shortest = (gaps: Marks["gaps"]) => gaps.reduce<Marks["gaps"][number] | null>((a, b) => (a && a.to - a.from <= b.to - b.from ? a : b), null);
    const clear = beside.flatMap((other) => {
      const [a, b] = sides(other, along);
      return [gap(other, b, low), gap(other, high, a)].filter((one) => one.to > one.from + SAME);
    });
    const around = beside.filter((other) => sides(other, along)[0] < low - SAME && sides(other, along)[1] > high + SAME);
    const nearest = shortest(clear);
    if (nearest) made.push(nearest);
    else {
      const before = shortest(around.map((other) => gap(other, sides(other, along)[0], low)));
      const after = shortest(around.map((other) => gap(other, high, sides(other, along)[1])));
      if (before && after) made.push(before, after);
    }
  }
  return made;
}
