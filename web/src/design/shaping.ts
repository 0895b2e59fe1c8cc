/** Values of a line that handles on the proof are pulled by: numbers and points, by their path into the line. */

import type { Design, Handle } from "../api/client";
import { tidied } from "../units";
import { withLine } from "./edits";

type Tree = Record<string, unknown> | unknown[];

/** The value at a path like "top.rise" or "points.2" replaced; what is on the way there is copied. Lists become
 *  as long as that takes: a rail between rows is there to be pulled before anything is said of it. */
function put(tree: Tree, path: string[], value: unknown, fills: unknown = {}): Tree {
  const [key = "", ...rest] = path;
  const inner = (tree as Record<string, unknown>)[key];
  const next = rest.length === 0 ? value : put((inner ?? (Array.isArray(tree) ? fills : {})) as Tree, rest, value, fills);
  if (Array.isArray(tree)) {
    const index = Number(key);
    return Array.from({ length: Math.max(tree.length, index + 1) }, (_, i) => (i === index ? next : tree[i] ?? fills));
  }
  return { ...tree, [key]: next };
}

function at(tree: unknown, path: string[]): unknown {
  return path.reduce((inner, key) => (inner as Record<string, unknown> | undefined)?.[key], tree);
}

/** The list a point stands in, and its place there; null for a plain number. */
export function listOf(handle: Handle): { list: string; index: number } | null {
  const cut = handle.value.lastIndexOf(".");
  return handle.now.length === 2 ? { list: handle.value.slice(0, cut), index: Number(handle.value.slice(cut + 1)) } : null;
}

/** All points of a list as they are: kept in the line, or, before any was pulled, only shown by their handles. */
const pointsOf = (handles: Handle[], list: string) => handles.filter((one) => listOf(one)?.list === list).map((one) => one.now);

/** The number of a handle pulled by so many mm, whatever its range. */
export function pulledTo(handle: Handle, dx: number, dy: number): number {
  const now = handle.now[0] ?? 0;
  if (!handle.about) {
    const change = handle.along[0] * dx + handle.along[1] * dy;
    const next = handle.inverse ? 1 / (1 / now + change) : now + change;
    return Math.round(next * 10) / 10;
  }
  const [ax, ay] = [handle.at[0] - handle.about[0], handle.at[1] - handle.about[1]];
  const turn = Math.atan2(ay + dy, ax + dx) - Math.atan2(ay, ax);
  const whole = handle.along[0];
  const next = now + (whole * turn) / (2 * Math.PI);
  // It comes round: a clock has no end.
  return Math.round((((next % whole) + whole) % whole) * 20) / 20;
}

export function withNumber(design: Design, line: string, handle: Handle, value: number): Design {
  const kept = tidied(Math.min(handle.high, Math.max(handle.low, value)));
  return withLine(design, line, (one) => withSets(put(one, handle.value.split("."), kept, handle.fills) as typeof one, handle));
}

/** A line with the other values that hold once a handle is pulled. */
const withSets = <L extends object>(line: L, { sets, fills }: Handle): L =>
  Object.entries(sets).reduce((next, [path, value]) => put(next as Tree, path.split("."), value, fills) as L, line);

/**
 * A number that a hand came near to: level, as another handle of its kind has it or the opposite of that, or a round
 * figure. `reach` is how near counts, in mm.
 */
export function settled(value: number, handle: Handle, handles: Handle[], reach: number): number {
  if (handle.about || handle.reads === "number") return value;
  const near = reach * Math.max(Math.hypot(...handle.along), 1e-9);
  const name = handle.value.split(".").at(-1);
  const alike = handles.filter((one) => one !== handle && one.value !== handle.value && one.value.split(".").at(-1) === name).map((one) => one.now[0] ?? 0);
  const marks = [0, ...alike, ...alike.map((one) => -one)].filter((one) => one >= handle.low && one <= handle.high);
  const mark = marks.sort((a, b) => Math.abs(a - value) - Math.abs(b - value))[0];
  if (mark !== undefined && Math.abs(mark - value) <= near) return mark;
  const round = Math.round(value / 5) * 5;
  return Math.abs(round - value) <= near / 3 ? round : value;
}

/** Points pulled by so many mm, and those that go with them; `handles` are the line's as they were when taken. */
export function withPointsMoved(design: Design, line: string, handles: Handle[], pulled: Handle[], dx: number, dy: number): Design {
  return pulled.reduce((next, handle) => {
    const found = listOf(handle);
    if (!found) return next;
    const [across, down] = handle.swapped ? [dy, dx] : [dx, dy];
    const by = [across * handle.scale[0], down * handle.scale[1]] as const;
    const goes = new Map([[found.index, by] as const, ...handle.partners.map(([to, x, y]) => [to, [by[0] * x, by[1] * y] as const] as const)]);
    return withList(next, line, found.list, handle, (points) =>
      points.map((point, i) => {
        const own = goes.get(i);
        const from = pointsOf(handles, found.list)[i] ?? point;
        return own ? [tidied((from[0] ?? 0) + own[0], 6), tidied((from[1] ?? 0) + own[1], 6)] : point;
      }),
      pointsOf(handles, found.list),
    );
  }, design);
}

function withList(design: Design, line: string, list: string, handle: Handle, edit: (points: number[][]) => number[][], shown: number[][]): Design {
  const path = list.split(".");
  return withLine(design, line, (one) => {
    const kept = (at(one, path) ?? []) as number[][];
    const points = kept.length === shown.length ? kept : shown;
    return withSets(put(one, path, edit(points)) as typeof one, handle);
  });
}

/** A point more after one, half way to the next. */
export function withPointAfter(design: Design, line: string, handles: Handle[], handle: Handle): Design {
  const found = listOf(handle);
  if (!found) return design;
  return withList(design, line, found.list, handle, (points) => {
    const [a, b] = [points[found.index], points[found.index + 1]];
    if (!a || !b) return points;
    return points.toSpliced(found.index + 1, 0, a.map((value, i) => tidied((value + (b[i] ?? 0)) / 2, 6)));
  }, pointsOf(handles, found.list));
}

/** Whether two handles are of one point that is given twice, which makes it a corner. */
export const isTwin = (one: Handle | undefined, other: Handle | undefined) =>
  one !== undefined && other !== undefined && listOf(one)?.list === listOf(other)?.list && one.now[0] === other.now[0] && one.now[1] === other.now[1];

/** A point made a corner, or smooth again. */
export function withCorner(design: Design, line: string, handles: Handle[], handle: Handle): Design {
  const found = listOf(handle);
  if (!found) return design;
  return withList(design, line, found.list, handle, (points) => {
    const same = [points[found.index - 1], points[found.index + 1]].some((one) => one && one[0] === handle.now[0] && one[1] === handle.now[1]);
    return same ? points.toSpliced(found.index, 1) : points.toSpliced(found.index, 0, handle.now);
  }, pointsOf(handles, found.list));
}

/** A point less; the last two stay. */
export function withoutPoint(design: Design, line: string, handles: Handle[], handle: Handle): Design {
  const found = listOf(handle);
  if (!found) return design;
  return withList(design, line, found.list, handle, (points) => (points.length > 2 ? points.toSpliced(found.index, 1) : points), pointsOf(handles, found.list));
}
