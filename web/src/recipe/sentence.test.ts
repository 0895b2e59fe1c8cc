import { expect, it } from "vitest";
import type { Kind, Line } from "../api/client";
import { sentenceOf } from "./sentence";

it("says what counts and leaves out what does not", () => {
  const kind = { sentence: "Draw a {figure} {width} wide[figure=box|card:, corners {radius} round][rows>1:, {rows}]" } as Kind;
  const said = (values: object) => sentenceOf(kind, values as Line).join("|");
  expect(said({ figure: "heart", rows: [1] })).toBe("Draw a |figure| |width| wide");
  expect(said({ figure: "box", rows: [] })).toBe("Draw a |figure| |width| wide, corners |radius| round");
  expect(said({ figure: "oval", rows: [1, 2] })).toBe("Draw a |figure| |width| wide, |rows|");
});
