/** Kinds of line that the interface knows more of than their sentence, one file each. */

import type { Line } from "../api/client";
import { art } from "./art";
import type { Face } from "./face";
import { letter } from "./letter";
import { shape } from "./shape";

const FACES: { [K in Line["kind"]]?: Face<Extract<Line, { kind: K }>> } = { letter, art, shape };

/** The face of a line's kind; an empty one where it needs none. */
export function faceOf(line: Line): Face {
  return (FACES[line.kind] ?? {}) as unknown as Face;
}
