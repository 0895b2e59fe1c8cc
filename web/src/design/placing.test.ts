import "../kinds";
import { describe, expect, it } from "vitest";
import demo from "../../../demo/weekend-shirt.perigram.json";
import type { Box, Design, Line, Place } from "../api/client";
import { withCopies, withCopy } from "./copies";
import { isPlaced, movedWith, scaledTogether, turnedTogether, turnsTogether, upended, within360, withEachPlace } from "./placing";
import { gesture, useBench } from "../state/store";
import { someKinds } from "./someKinds";

const FREE: Place = { x: 0, y: 0, on: null, across: "middle", down: "middle", rotate: 0, flip: false, as_wide: null, as_tall: null };

function heart(id: string, width: number, height: number, place: Partial<Place>): Line {
  return { id, kind: "shape", figure: "heart", width, height, radius: 6, points: 5, depth: 50, off: false, locked: false, place: { ...FREE, ...place } };
}

/** Where each heart lies, by what a place means: its middle or the side its relation holds. */
function boxesOf(design: Design): Map<string, Box> {
  const boxes = new Map<string, Box>();
  for (const line of design.recipe) {
    if (line.kind !== "shape") continue;
    const { place, width, height } = line;
    const on = boxes.get(place.on?.split("/")[0] ?? "");
    const along = (how: string, by: number, size: number, low: number, high: number): number => {
      if (how === "before" || how === "above") return low - by - size;
      if (how === "after" || how === "below") return high + by;
      if (how === "left" || how === "top") return low + by;
      return how === "middle" ? (low + high) / 2 + by - size / 2 : high + by - size;
    };
    const x = on ? along(place.across, place.x, width, on[0], on[2]) : place.x - width / 2;
    const y = on ? along(place.down, place.y, height, on[1], on[3]) : place.y - height / 2;
    boxes.set(line.id, [x, y, x + width, y + height]);
  }
  return boxes;
}

const design: Design = {
  ...(demo as unknown as Design),
  recipe: [
    heart("a", 40, 20, { x: -30, y: 5 }),
    heart("b", 20, 30, { on: "a/shape", across: "before", down: "top", x: 4, y: 2 }),
    heart("c", 10, 10, { on: "b/shape", down: "below", x: 1, y: 6 }),
    heart("d", 16, 16, { x: 80, y: 40 }),
    heart("e", 12, 8, { on: "d/shape", across: "right", down: "above", x: -2, y: 3 }),
  ],
};

describe("several things resized as one", () => {
  it("grow about the point that stays, whatever each is held to", () => {
    const before = boxesOf(design);
    // "e" is held to "d", which is not among them and stays.
    const after = boxesOf(scaledTogether(design, ["a", "b", "c", "e"], someKinds, before, [10, -20], 1.5));
    const grown = ([x0, y0, x1, y1]: Box): Box => [10 + 1.5 * (x0 - 10), -20 + 1.5 * (y0 + 20), 10 + 1.5 * (x1 - 10), -20 + 1.5 * (y1 + 20)];
    for (const id of ["a", "b", "c", "e"]) {
      after.get(id)?.forEach((side, i) => expect(side, `${id} ${i}`).toBeCloseTo(grown(before.get(id) as Box)[i] ?? NaN, 2));
    }
    expect(after.get("d")).toEqual(before.get("d"));
  });

  it("leave what is locked alone", () => {
    const locked = { ...design, recipe: design.recipe.map((line) => (line.id === "d" ? { ...line, locked: true } : line)) };
    const after = scaledTogether(locked, ["a", "d"], someKinds, boxesOf(locked), [0, 0], 2);
    expect(after.recipe[3]).toEqual(locked.recipe[3]);
  });
});

describe("several things turned as one", () => {
  const flat: Design = {
    ...design,
    recipe: [heart("a", 40, 20, { x: -30, y: 5 }), heart("b", 20, 30, { on: "a/shape", x: 8, y: -3 }), heart("d", 16, 16, { x: 80, y: 40 })],
  };

  it("keep their distances, each turned by as much", () => {
    const middle = (now: Design, id: string): [number, number] => {
      const [x0, y0, x1, y1] = boxesOf(now).get(id) as Box;
      return [(x0 + x1) / 2, (y0 + y1) / 2];
    };
    const after = turnedTogether(flat, ["a", "b", "d"], [12, 7], 90);
    for (const id of ["a", "b", "d"]) {
      const [x, y] = middle(flat, id);
      const [tx, ty] = middle(after, id);
      expect(tx).toBeCloseTo(12 - (y - 7), 2);
      expect(ty).toBeCloseTo(7 + (x - 12), 2);
    }
    expect(after.recipe.map((line) => isPlaced(line) && line.place.rotate)).toEqual([90, 90, 90]);
  });

  it("are offered it only where relations allow", () => {
    expect(turnsTogether(flat, ["a", "b", "d"], someKinds)).toBe(true);
    expect(turnsTogether(flat, ["b", "d"], someKinds)).toBe(false);
    expect(turnsTogether(design, ["a", "b"], someKinds)).toBe(false);
  });
});

it("keeps turns from half round to half round", () => {
  expect([180, -180, 190, 540, -725, 0, 360].map(within360)).toEqual([180, 180, -170, 180, -5, 0, 0]);
});

it("flips upside down as the other flip and half a turn", () => {
  expect(upended({ ...FREE, rotate: 30 })).toMatchObject({ flip: true, rotate: -150 });
  expect(upended(upended({ ...FREE, rotate: 30 }))).toEqual({ ...FREE, rotate: 30 });
  const twice = withEachPlace(design, ["a", "d"], upended);
  expect(twice.recipe.filter((line) => isPlaced(line) && line.place.flip).map((line) => line.id)).toEqual(["a", "d"]);
});

describe("the demo shirt", () => {
  const shirt = demo as unknown as Design;

  it("knows what moves along with its words", () => {
    expect([...movedWith(shirt, ["l1"], someKinds)]).toEqual(["l1", "l2", "l3", "l4"]);
    expect([...movedWith(shirt, ["l2"], someKinds)].includes("l1")).toBe(false);
  });

  it("cuts a copy from the ply where its line shows, knocked out or not", () => {
    const [copied, id] = withCopy(shirt, "l1", someKinds);
    const ply = copied.plies.find((one) => one.results.includes("l3/l1/letters"));
    expect(ply?.results).toContain(`${id}/letters`);
    const [both, ids] = withCopies(shirt, ["l1", "l2"], someKinds);
    const refs = both.plies.flatMap((one) => one.results);
    expect(refs).toEqual(expect.arrayContaining([`${ids[0]}/letters`, `${ids[1]}/art`]));
  });
});

describe("steps to undo", () => {
  const named = (name: string) => gesture.change((now) => ({ ...now, name }));
  const steps = () => useBench.temporal.getState().pastStates.length;
  const start = () => {
    useBench.getState().open("x", design);
    useBench.temporal.getState().clear();
  };

  it("are one for a gesture, also where another happens within it", () => {
    start();
    gesture.begin();
    named("a");
    gesture.begin();
    named("b");
    gesture.end();
    named("c");
    gesture.end();
    expect(steps()).toBe(1);
    named("d");
    expect(steps()).toBe(2);
    gesture.end();
    named("e");
    expect(steps()).toBe(3);
  });

  it("are one for a key held down, another for another key or another change", () => {
    start();
    const tap = (key: string, name: string) => gesture.burst(key, () => named(name));
    for (const name of ["a", "b", "c"]) tap("nudge", name);
    expect(steps()).toBe(1);
    tap("turn", "d");
    expect(steps()).toBe(2);
    named("e");
    tap("turn", "f");
    expect(steps()).toBe(4);
    useBench.temporal.getState().undo();
    expect(useBench.getState().design.name).toBe("e");
  });
});
