import { describe, expect, it } from "vitest";
import demo from "../../../demo/weekend-shirt.perigram.json";
import type { Design } from "../api/client";
import { withValue } from "./edits";
import { clashes, withAnswer } from "./merge";

const sent = demo as unknown as Design;
const first = sent.recipe[0]?.id ?? "";
const fresh = { ...structuredClone(sent.recipe[0]), id: "l99" } as Design["recipe"][number];
const ids = (list: { id: string }[]) => list.map((one) => one.id);

describe("an answer of the server", () => {
  const typed = withValue(withValue(sent, first, "size", 77), first, "gap", 1.25);

  it("is taken as it is where nothing was done meanwhile", () => {
    const answer = { ...sent, recipe: [...sent.recipe, fresh] };
    expect(withAnswer(sent, sent, answer)).toBe(answer);
  });

  it("leaves what was typed meanwhile, in the very line it changed", () => {
    const answer = withValue(sent, first, "place", { ...sent.recipe[0], x: 12 });
    const next = withAnswer(typed, sent, answer).recipe[0];
    expect(next).toMatchObject({ size: 77, gap: 1.25 });
    expect(next && "place" in next && next.place).toEqual({ ...sent.recipe[0], x: 12 });
  });

  it("adds and removes lines and plies beside those made meanwhile", () => {
    const mine = { ...fresh, id: "l50" };
    const now = { ...typed, recipe: [...typed.recipe, mine] };
    const gone = sent.recipe[1]?.id ?? "";
    const answer: Design = {
      ...sent,
      recipe: [...sent.recipe.filter((one) => one.id !== gone), fresh],
      plies: [{ ...sent.plies[0], id: "p99" } as Design["plies"][number], ...sent.plies.slice(1)],
    };
    const next = withAnswer(now, sent, answer);
    expect(new Set(ids(next.recipe))).toEqual(new Set([...ids(answer.recipe), "l50"]));
    expect(next.recipe.find((one) => one.id === first)).toMatchObject({ size: 77 });
    expect(ids(next.plies)).toEqual(ids(answer.plies));
  });

  it("changes a value within rows of which others were typed meanwhile", () => {
    const line = sent.recipe.find((one) => one.kind === "letter");
    if (line?.kind !== "letter") throw new Error("the demo has words");
    const words = withValue(sent, line.id, "rows", line.rows.map((row) => ({ ...row, text: "NEW" })));
    const sized = withValue(sent, line.id, "rows", line.rows.map((row) => ({ ...row, size: 31 })));
    const next = withAnswer(words, sent, sized).recipe.find((one) => one.id === line.id);
    expect(next?.kind === "letter" && next.rows.every((row) => row.text === "NEW" && row.size === 31)).toBe(true);
  });

  it("is asked for again where its ids were taken meanwhile", () => {
    const answer = { ...sent, recipe: [...sent.recipe, fresh] };
    expect(clashes({ ...sent, recipe: [...sent.recipe, fresh] }, sent, answer)).toBe(true);
    expect(clashes(typed, sent, answer)).toBe(false);
  });
});
