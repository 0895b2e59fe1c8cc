import "../kinds";
import { describe, expect, it } from "vitest";
import demo from "../../../demo/weekend-shirt.perigram.json";
import type { Design, Lettering, OwnLetter } from "../api/client";
import { someKinds } from "./someKinds";
import { stepInWords } from "./steps";
import { withCopies, withCopy } from "./copies";
import { mergedPlies, moved, withLine, withoutResult, withResultAlsoOn, withResultOn, withValue } from "./edits";
import { keptByHand, ownLetter, withOwnLetter } from "./lettering";
import { anchorOf, moversOf, shifted, stretchedLine, withMoved, withPlace } from "./placing";

const own = (at: number): OwnLetter => ({ at, x: 1, y: 0, turn: 0, wide: 100, tall: 100, form: null });
const kept = (places: number[], before: string, after: string) => keptByHand(places.map(own), before, after).map((one) => one.at);

describe("letters set by hand, when the words change", () => {
  it("stay with their letters", () => {
    expect(kept([0, 3, 6], "REGATTA", "REGATTA")).toEqual([0, 3, 6]);
    expect(kept([0, 3, 6], "REGATTA", "REGATTAS")).toEqual([0, 3, 6]);
    expect(kept([0, 3, 6], "REGATTA", "A REGATTA")).toEqual([2, 5, 8]);
    expect(kept([0, 3, 6], "REGATTA", "REGRATTA")).toEqual([0, 4, 7]);
  });

  it("go with letters that are replaced", () => {
    expect(kept([0, 3, 6], "REGATTA", "REGETTA")).toEqual([0, 6]);
    expect(kept([0, 3, 6], "REGATTA", "")).toEqual([]);
  });

  it("count letters, not the halves of signs beyond the basic plane", () => {
    expect(kept([2], "a𝄞b", "a𝄞𝄞b")).toEqual([3]);
  });
});

// The file leaves out what stands at its defaults; these tests need only what it has and what is named here.
const design = demo as unknown as Design;
const lettering = {
  ...(design.recipe[0] as Lettering),
  rows: [{ text: "REGATTA", size: null, fit: null, stretch: 100, own: [] }] as unknown as Lettering["rows"],
} as Lettering;

describe("a letter changed by hand", () => {
  it("is kept in order, and dropped once all of it is automatic again", () => {
    const twice = withOwnLetter(withOwnLetter(lettering, { row: 0, at: 4 }, { x: 2 }), { row: 0, at: 1 }, { turn: 5 });
    expect(twice.rows[0]?.own.map((one) => one.at)).toEqual([1, 4]);
    expect(ownLetter(twice, { row: 0, at: 4 })).toMatchObject({ x: 2, turn: 0, wide: 100 });
    const back = withOwnLetter(twice, { row: 0, at: 4 }, { x: 0 });
    expect(back.rows[0]?.own.map((one) => one.at)).toEqual([1]);
  });
});

describe("pulling a thing by its handles", () => {
  it("makes rows of equal width wider, their letters narrower or wider only when it is stretched", () => {
    const larger = stretchedLine(lettering, 1.5, 1.5) as Lettering;
    expect([larger.size, larger.rows[0]?.stretch]).toEqual([381, 100]);
    const taller = stretchedLine(lettering, 1, 2) as Lettering;
    expect([taller.size, taller.rows[0]?.stretch]).toEqual([254, 50]);
  });

  it("takes along what is held to another that is moved too, and moves what is held to what stays", () => {
    const place = (now: Design, id: string) => now.recipe.find((line) => line.id === id) as { place: { x: number } };
    // The lighthouse, line 2, is held to the words, line 1; line 3 is knocked out of them.
    expect(moversOf(design, ["l1", "l2"], someKinds)).toEqual(["l1"]);
    expect(moversOf(design, ["l2"], someKinds)).toEqual(["l2"]);
    const locked = withValue(design, "l1", "locked", true);
    expect(moversOf(locked, ["l1", "l2"], someKinds)).toEqual(["l2"]);
    // A copy of the lighthouse at the end of the recipe, held to what is left of the words.
    const copied = withCopy(design, "l2", someKinds)[0];
    const last = { ...copied, recipe: moved(copied.recipe, 2, copied.recipe.length - 1) };
    const hung = withPlace(last, "l5", (old) => ({ ...old, on: "l3/l1/letters" }));
    expect(moversOf(hung, ["l1", "l5"], someKinds)).toEqual(["l1"]);
    expect(moversOf(hung, ["l2", "l5"], someKinds)).toEqual(["l2", "l5"]);
    const after = withMoved(design, moversOf(design, ["l1", "l2"], someKinds), 1.5, 0);
    expect([place(after, "l1").place.x, place(after, "l2").place.x]).toEqual([1.5, 0]);
  });

  it("ends where lines put in another order are held to each other", () => {
    // A line held to a later one is a finding, but it can be there: neither takes the other along for good.
    const ring = withPlace(design, "l1", (place) => ({ ...place, on: "l2/art" }));
    expect(moversOf(ring, ["l1"], someKinds)).toEqual(["l1"]);
    expect(moversOf(ring, ["l1", "l2"], someKinds)).toEqual(["l1"]);
    expect(anchorOf(ring, "l1")).toBeUndefined();
    expect(anchorOf(ring, "l2")?.id).toBe("l1");
  });

  it("holds copies to copies", () => {
    const [next, copies] = withCopies(design, ["l1", "l2"], someKinds);
    const [words, lighthouse] = copies;
    expect(next.recipe.find((line) => line.id === lighthouse)).toMatchObject({ place: { on: `${words}/letters` } });
    expect(withCopies(design, ["l2"], someKinds)[0].recipe[2]).toMatchObject({ place: { on: "l1/letters" } });
  });

  it("moves what hangs before or above another the other way", () => {
    const place = { x: 4, y: 4, on: "l1/letters", across: "before", down: "above" } as Parameters<typeof shifted>[0];
    expect(shifted(place, 1, 2)).toMatchObject({ x: 3, y: 2 });
    expect(shifted({ ...place, across: "middle", down: "below" }, 1, 2)).toMatchObject({ x: 5, y: 6 });
  });
});

describe("a step in words", () => {
  const after = (edit: (now: Design) => Design) => stepInWords(design, edit(design), undefined);

  it("says what was done to which line", () => {
    expect(after((now) => withPlace(now, "l2", (place) => ({ ...place, x: 3 })))).toBe("line 2 moved");
    expect(after((now) => withPlace(now, "l2", (place) => ({ ...place, rotate: 3 })))).toBe("line 2 turned");
    expect(after((now) => withValue(now, "l1", "joins", "closed"))).toBe("script joins of line 1 changed");
    expect(after((now) => withCopy(now, "l2", someKinds)[0])).toBe("line 3 added");
    expect(after((now) => ({ ...now, recipe: now.recipe.slice(1) }))).toBe("line 1 removed");
    const words = (now: Design) =>
      withLine(now, "l1", (line) => ({ ...line, rows: [{ text: "HARBOUR" }, { text: "WEEKEND" }] }) as Lettering);
    expect(after(words)).toBe("words of line 1 changed to “HARBOUR”");
  });

  it("counts what it has no room for", () => {
    const much = (now: Design) => ({ ...withValue(now, "l1", "off", true), name: "Other", unit: "in" as const });
    expect(after(much)).toBe("line 1 switched off and 2 more changes");
    expect(after((now) => now)).toBe("nothing to see");
  });
});

describe("what plies cut", () => {
  const ply = (id: string, results: string[], also: string[] = []) => ({ id, name: id, typed: true, material: "m", results, also, hidden: false });
  const design = { ...(demo as unknown as Design), plies: [ply("p1", ["a", "b"]), ply("p2", ["c"]), ply("p3", [])] };
  const cut = (now: Design) => now.plies.map((one) => [one.id, one.results, one.also]);

  it("is cut by one ply: it leaves the one it was on, which goes once it is empty", () => {
    expect(cut(withResultOn(design, "p1", "c"))).toEqual([["p1", ["a", "b", "c"], []], ["p3", [], []]]);
    expect(cut(withoutResult(design, "p2", "c"))).toEqual([["p1", ["a", "b"], []], ["p3", [], []]]);
  });

  it("is cut by two where that is asked for, until one of them is left", () => {
    const both = withResultAlsoOn(design, "p2", "a");
    expect(cut(both)[1]).toEqual(["p2", ["c", "a"], ["a"]]);
    expect(cut(withoutResult(both, "p2", "a"))[1]).toEqual(["p2", ["c"], []]);
    expect(cut(mergedPlies(both, "p2", "p1"))).toEqual([["p1", ["a", "b", "c"], ["a"]], ["p3", [], []]]);
  });
});
