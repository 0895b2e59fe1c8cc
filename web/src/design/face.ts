import type { ComponentType } from "react";
import type { Design, Line } from "../api/client";

/** Rounds a figure a hand has pulled: never below a least one. */
export type Rounding = (value: number, least: number) => number;

/** What the interface knows of one kind of line beyond its sentence; what a kind leaves out is the usual way. */
export interface Face<L extends Line = Line> {
  /** what a line is called where its own values say it better than its kind's name */
  name?: (line: L, design: Design) => string;
  /** its result goes by that name too, not by the line's number */
  named?: true;
  /** how wide and tall it is by its own figures: only ratios of these mean anything */
  extent?: (line: L) => [number, number];
  /** the line made so many times as wide and as tall; gaps and other fixed measures stay as they are */
  stretched?: (line: L, sx: number, sy: number, rounded: Rounding) => L;
  /** along which ways it grows just as much as it is pulled; both if not said */
  grows?: (line: L) => Record<"x" | "y", boolean>;
  /** what a chosen line offers below its sentence */
  Tools?: ComponentType<{ design: Design; line: L }>;
}

const faces = new Map<Line["kind"], Face>();

/** Each kind makes its face known; what it leaves out is the usual way. */
export function show<K extends Line["kind"]>(kind: K, face: Face<Extract<Line, { kind: K }>>) {
  faces.set(kind, face as unknown as Face);
}

/** The face of a line's kind; an empty one where it needs none. */
export const faceOf = (line: Line): Face => faces.get(line.kind) ?? {};

/** Width and height of what has one size, the other side following by a stretch in percent. */
export const bySize = (size: number, stretch: number, wide: boolean): [number, number] =>
  wide ? [size, (size * 100) / stretch] : [(size * stretch) / 100, size];
