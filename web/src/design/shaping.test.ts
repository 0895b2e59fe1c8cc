import { describe, expect, it } from "vitest";
import demo from "../../../demo/weekend-shirt.perigram.json";
import type { Design, Handle } from "../api/client";
import { pulledTo, settled, withNumber } from "./shaping";

const handle = (value: string, now: number): Handle => ({
  value,
  label: value,
  at: [0, 0],
  now: [now],
  along: [0, -1],
  inverse: false,
  about: null,
  scale: [1, 1],
  swapped: false,
  low: -100,
  high: 100,
  reads: "length",
  grows: false,
  corners: false,
  partners: [],
  sets: {},
  fills: { shape: "level", moved: 0 },
});

describe("a value pulled on the proof", () => {
  const rails = { id: "r", kind: "rails", of: ["l1/letters"], top: { shape: "arched", rise: 30 }, between: [] };
  const design = { ...demo, recipe: [...demo.recipe, rails] } as unknown as Design;
  const pulled = (value: string, now: number) => withNumber(design, "r", handle(value, 0), now).recipe.at(-1);

  it("is put where it stands, within its range", () => {
    expect(pulled("top.rise", 12)).toMatchObject({ top: { shape: "arched", rise: 12 } });
    expect(pulled("top.rise", 1000)).toMatchObject({ top: { rise: 100 } });
  });

  it("has an arc by its radius pulled through flat", () => {
    const radius = { ...handle("radius", -100), along: [0, 0.001], inverse: true } as Handle;
    expect([5, 15, -10].map((down) => pulledTo(radius, 0, down))).toEqual([-200, 200, -50]);
    expect(Math.abs(pulledTo(radius, 0, 10))).toBe(Infinity);
  });

  it("settles on level, on what another rail has or the opposite of it, and on round figures", () => {
    const [top, bottom] = [handle("top.rise", 0), handle("bottom.rise", 22)];
    expect([1.5, 20.8, -20.9, 15.3, 12.4].map((value) => settled(value, top, [top, bottom], 2))).toEqual([0, 22, -22, 15, 12.4]);
  });

  it("bends a level rail by its middle", () => {
    const bends = { ...handle("top.rise", 0), sets: { "top.shape": "arched", "top.top": 50 } };
    expect(withNumber(design, "r", bends, 12).recipe.at(-1)).toMatchObject({ top: { shape: "arched", rise: 12, top: 50 } });
  });

  it("describes a rail between rows of which nothing was said", () => {
    expect(pulled("between.1.moved", 3)).toMatchObject({ between: [{ shape: "level", moved: 0 }, { shape: "level", moved: 3 }] });
  });
});
