import type { ComponentType } from "react";
import type { Anchor, Design, Line, Piece } from "../api/client";

/** Rounds a figure a hand has pulled: never below a least one. */
export type Rounding = (value: number, least: number) => number;

/** What the interface knows of one kind of line beyond its sentence; what a kind leaves out is the usual way. */
export interface Face<L extends Line = Line> {
  /** what a line is called where its own values say it better than its kind's name */
  name?: (line: L, design: Design) => string;
  /** how wide and tall it is by its own figures: only ratios of these mean anything */
  extent?: (line: L) => [number, number];
  /** the line made so many times as wide and as tall; gaps and other fixed measures stay as they are */
  stretched?: (line: L, sx: number, sy: number, rounded: Rounding) => L;
  /** along which ways it grows just as much as it is pulled; both if not said */
  grows?: (line: L) => Record<"x" | "y", boolean>;
  /** how pieces of it are picked by clicking them on the proof */
  pieces?: Pieces<L>;
  /** what a chosen line offers below its sentence */
  Tools?: ComponentType<{ design: Design; line: L }>;
}

/** Pieces of a line that can be clicked, framed and walked through by keys. */
export interface Pieces<L extends Line = Line> {
  /** what a click on one does, in a word or two: "drops it", "takes it away" */
  says: (line: L, piece: Piece) => string;
  /** the line with some pieces clicked; `to` is where clicked pieces go, where there is a choice */
  clicked: (line: L, pieces: Piece[], to: string) => L;
  /** the result on which a click beside all pieces makes one, and the line with one there */
  on?: (line: L) => string;
  added?: (line: L, anchor: Anchor) => L;
  /** the line with a piece dragged by so many mm */
  dragged?: (line: L, piece: Piece, by: [number, number]) => L;
  /** what goes nowhere stays as it is: it is not dropped */
  stays?: true;
  /** the line with a piece that was dragged set there instead */
  moved?: (line: L, piece: Piece, anchor: Anchor) => L;
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
