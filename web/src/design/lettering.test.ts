import { describe, expect, it } from "vitest";
import type { Lettering } from "../api/client";
import { ownLetter, withLettersFrom, withOwnLetter } from "./lettering";

const words = { id: "l1", kind: "letter", rows: [{ text: "LOW TIDE", own: [] }] } as unknown as Lettering;

describe("letters moved by hand", () => {
  it("take those after them along, each from where it was", () => {
    const before = withOwnLetter(words, { row: 0, at: 5 }, { x: 2, y: -1 });
    const after = withLettersFrom(before, { row: 0, at: 2 }, { x: 3 }, true);
    expect(after.rows[0]?.own.map(({ at, x, y }) => [at, x, y])).toEqual([[2, 3, 0], [4, 3, 0], [5, 5, -1], [6, 3, 0], [7, 3, 0]]);
  });

  it("go alone where that is not asked for, or are only turned", () => {
    expect(withLettersFrom(words, { row: 0, at: 2 }, { x: 3 }, false).rows[0]?.own.length).toBe(1);
    expect(withLettersFrom(words, { row: 0, at: 2 }, { turn: 9 }, true).rows[0]?.own.length).toBe(1);
    expect(ownLetter(words, { row: 0, at: 3 }).x).toBe(0);
  });
});
