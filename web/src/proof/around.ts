import { knownKinds } from "../api/cache";
import type { Box, Design } from "../api/client";
import { movedWith } from "../design/placing";
import { useBench } from "../state/store";
import type { ShownProof } from "../state/useProof";
import { gridStep } from "./grid";
import type { Around } from "./snap";
import type { View } from "./useView";

/** What stays while some lines are dragged, and what the dragged ones bring to be lined up with it. */
export function surroundings(design: Design, proof: ShownProof, dragged: string[], view: View): Around {
  const goes = movedWith(design, dragged, knownKinds());
  const stays = proof.results.filter((result) => result.box && !goes.has(result.line));
  const middle = design.ground.width && design.ground.height ? [design.ground.width / 2, design.ground.height / 2] : [];
  const [w, h] = middle;
  const levels = stays.flatMap((result) => result.levels.map((at) => ({ at, of: result.box as Box })));
  return {
    boxes: stays.map((result) => result.box as Box),
    levels,
    own: proof.results.filter((result) => dragged.includes(result.line)).flatMap((result) => result.levels),
    guides: {
      x: [...design.guides.x, 0, ...(w === undefined ? [] : [-w, w])],
      y: [...design.guides.y, 0, ...(h === undefined ? [] : [-h, h])],
    },
    grid: useBench.getState().gridShown ? gridStep(design.unit, view.k) : null,
  };
}
