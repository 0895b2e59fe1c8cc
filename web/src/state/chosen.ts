import { knownKinds } from "../api/cache";
import { refTo } from "../design/refs";
import { resultNames } from "../design/sources";
import { chosenLines, useBench } from "./store";

/** What was chosen by hand, to be worked on by a new line; nothing where a line is chosen only because it is new. */
export function chosenResults(): string[] {
  const bench = useBench.getState();
  if (bench.selected !== null && bench.selected === bench.fresh && bench.others.length === 0) return [];
  return chosenLines(bench).flatMap((id) => {
    const line = bench.design.recipe.find((one) => one.id === id);
    return line ? resultNames(line, knownKinds()).map((name) => refTo(id, name)) : [];
  });
}
