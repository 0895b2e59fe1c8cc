/** Where things are and how large, changed by hand: plain edits of places and sizes. */

import type { Box, Design, Kind, Line, Place } from "../api/client";
import { withLine } from "./edits";
import { tidied } from "../units";
import { faceOf } from "./face";
import { lineOf, resultOf } from "./refs";
import { madeOf, standsFor } from "./sources";

export function isPlaced(line: Line | undefined): line is Extract<Line, { place: Place }> {
  return line !== undefined && "place" in line;
}

export function withPlace(design: Design, id: string, edit: (place: Place) => Place): Design {
  return withLine(design, id, (line) => ("place" in line ? { ...line, place: edit(line.place) } : line));
}

/** A place moved by so much on the proof: a gap on the far side grows the other way. */
export function shifted(place: Place, dx: number, dy: number): Place {
  return {
    ...place,
    x: place.x + (place.on && place.across === "before" ? -dx : dx),
    y: place.y + (place.on && place.down === "above" ? -dy : dy),
  };
}

/** A place held to a thing by middles, where it is held by edges: so it stays where it is while it is turned. */
export function heldByMiddles(place: Place, own: Box, anchor: Box): Place {
  const [x, y] = [(own[0] + own[2] - anchor[0] - anchor[2]) / 2, (own[1] + own[3] - anchor[1] - anchor[3]) / 2];
  return {
    ...place,
    ...(place.across === "middle" ? {} : { across: "middle", x: tidied(x) }),
    ...(place.down === "middle" ? {} : { down: "middle", y: tidied(y) }),
  };
}

/** Lines moved by so much on the proof, to thousandths of a mm. */
export function withMoved(design: Design, ids: string[], dx: number, dy: number): Design {
  return ids.reduce(
    (next, id) =>
      withPlace(next, id, (place) => {
        const { x, y } = shifted(place, dx, dy);
        return { ...place, x: tidied(x), y: tidied(y) };
      }),
    design,
  );
}

/** Which of some lines are to be moved when all of them move: what is held to another goes with it. */
export function moversOf(design: Design, ids: string[], kinds: Kind[] | undefined): string[] {
  const goesAlong = (ref: string | null | undefined, before: number): boolean => {
    const at = sourceOf(design, ref, before);
    const line = design.recipe[at];
    if (!line) return false;
    const along = (one: string | null | undefined) => goesAlong(one, at);
    if (isPlaced(line)) return (ids.includes(line.id) && !line.locked) || along(line.place.on);
    const stands = standsFor(line, kinds).filter((one) => one.name === resultOf(ref)).map((one) => one.source);
    const sources = stands.length ? stands : madeOf(line, kinds);
    return sources.length > 0 && sources.every(along);
  };
  return design.recipe
    .filter((line, at) => ids.includes(line.id) && isPlaced(line) && !line.locked && !goesAlong(line.place.on, at))
    .map((line) => line.id);
}

/** Where in the recipe the line of a result stands; -1 unless before a place, as results of later lines count for nothing. */
function sourceOf(design: Design, ref: string | null | undefined, before: number): number {
  const at = design.recipe.findIndex((one) => one.id === lineOf(ref));
  return at < before ? at : -1;
}

/** The line a placed one is held to. */
export function anchorOf(design: Design, id: string): Line | undefined {
  const at = design.recipe.findIndex((one) => one.id === id);
  const line = design.recipe[at];
  return isPlaced(line) ? design.recipe[sourceOf(design, line.place.on, at)] : undefined;
}

/** Lines whose results change when some lines move: these, what is held to them, and what is made of either. */
export function movedWith(design: Design, ids: string[], kinds: Kind[] | undefined): Set<string> {
  const moving = new Set<string>();
  const moves = (ref: string | null | undefined) => moving.has(lineOf(ref));
  for (const line of design.recipe) {
    const follows = isPlaced(line) ? (ids.includes(line.id) && !line.locked) || moves(line.place.on) : madeOf(line, kinds).some(moves);
    if (follows) moving.add(line.id);
  }
  return moving;
}

// -- sizes

/**
 * The line made so many times as wide and as tall; gaps and other fixed measures stay as they are.
 * Figures are rounded to tenths, or kept to thousandths where they have to be just so.
 */
export function stretchedLine(line: Line, sx: number, sy: number, just = false): Line {
  const rounded = (value: number, least: number) => Math.max(least, just ? tidied(value) : Math.round(value * 10) / 10);
  return faceOf(line).stretched?.(line, sx, sy, rounded) ?? line;
}

/** Along which ways a line grows just as much as it is pulled: gaps that keep their measure and turns are in the way. */
export function growsExactly(line: Line): Record<"x" | "y", boolean> {
  if (!isPlaced(line) || line.place.rotate % 180 !== 0) return { x: false, y: false };
  return faceOf(line).grows?.(line) ?? { x: true, y: true };
}

/** How wide and tall a line is by its own figures: only ratios of these mean anything. */
export function extent(line: Line): [number, number] {
  return faceOf(line).extent?.(line) ?? [1, 1];
}

// -- turned and flipped

/** Degrees kept above -180 and up to 180. */
export const within360 = (degrees: number) => tidied(degrees - 360 * Math.ceil((degrees - 180) / 360));

export const turned = (place: Place, degrees: number): Place => ({ ...place, rotate: within360(place.rotate + degrees) });

/** Left and right of the thing itself change sides. */
export const flipped = (place: Place): Place => ({ ...place, flip: !place.flip });

/** Its head and foot change places: as flipped sideways and turned half round. */
export const upended = (place: Place): Place => flipped(turned(place, 180));

/** Each of the lines that is not locked, its place changed. */
export function withEachPlace(design: Design, ids: string[], edit: (place: Place) => Place): Design {
  return ids.reduce((next, id) => withLine(next, id, (line) => (isPlaced(line) && !line.locked ? { ...line, place: edit(line.place) } : line)), design);
}

// -- several things as one

/** The part of a thing's box that its relation holds: 0 its left or top, 1 its right or bottom. */
const HELD: Record<Place["across"] | Place["down"], number> = {
  middle: 0.5,
  left: 0,
  top: 0,
  right: 1,
  bottom: 1,
  before: 1,
  above: 1,
  after: 0,
  below: 0,
};

/** Lines made so many times as large together, `fixed` staying where it is; `boxes` are where they are now. */
export function scaledTogether(
  design: Design,
  ids: string[],
  kinds: Kind[] | undefined,
  boxes: Map<string, Box>,
  fixed: [number, number],
  ratio: number,
): Design {
  const moving = movedWith(design, ids, kinds);
  const scale = (line: Line): Line => {
    const box = boxes.get(line.id);
    if (!isPlaced(line) || line.locked || !box) return line;
    const { place } = line;
    const grown = stretchedLine(line, ratio, ratio);
    // Held to a thing that grows with it: all its distances grow.
    if (moving.has(lineOf(place.on))) {
      return { ...grown, place: { ...place, x: tidied(place.x * ratio), y: tidied(place.y * ratio) } } as Line;
    }
    const [fx, fy] = [HELD[place.across], HELD[place.down]];
    const at = place.on ? [box[0] + fx * (box[2] - box[0]), box[1] + fy * (box[3] - box[1])] : [place.x, place.y];
    const [dx, dy] = [0, 1].map((i) => (ratio - 1) * ((at[i] ?? 0) - (fixed[i] ?? 0)));
    const { x, y } = shifted(place, dx ?? 0, dy ?? 0);
    return { ...grown, place: { ...place, x: tidied(x), y: tidied(y) } } as Line;
  };
  return ids.reduce((next, id) => withLine(next, id, scale), design);
}

/** Whether lines can be turned as one: each is free, or level with the middle of another of them. */
export function turnsTogether(design: Design, ids: string[], kinds: Kind[] | undefined): boolean {
  const moving = movedWith(design, ids, kinds);
  return design.recipe
    .filter((line) => ids.includes(line.id))
    .every((line) => {
      if (!isPlaced(line) || line.locked) return false;
      const { on, across, down } = line.place;
      return !on || (across === "middle" && down === "middle" && moving.has(lineOf(on)));
    });
}

/** Lines turned as one about a point; `turnsTogether` says whether they can be. */
export function turnedTogether(design: Design, ids: string[], [cx, cy]: [number, number], degrees: number): Design {
  const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  return withEachPlace(design, ids, (place) => {
    // What is held by its middle turns about that of what it is held to.
    const [ox, oy] = place.on ? [0, 0] : [cx, cy];
    const [dx, dy] = [place.x - ox, place.y - oy];
    return { ...turned(place, degrees), x: tidied(ox + c * dx - s * dy), y: tidied(oy + s * dx + c * dy) };
  });
}
