import { useState } from "react";
import type { Curve, Design, Line } from "../api/client";
import { useFigures } from "../api/queries";
import { withLine } from "../design/edits";
import { gesture } from "../state/store";
import { Gallery } from "./Gallery";
import { show } from "../design/face";

type Figure = Extract<Line, { kind: "shape" }>;

/** All figures and ornaments to look at; a click takes one, as wide as the line is and in its own proportion. */
function Figures({ line }: { design: Design; line: Figure }) {
  const [open, setOpen] = useState(false);
  const figures = useFigures(open);

  function take({ values, box }: Curve) {
    const [x0, y0, x1, y1] = box ?? [0, 0, 1, 1];
    const height = Math.round(line.width * ((y1 - y0) / (x1 - x0)) * 10) / 10;
    gesture.change((now) => withLine(now, line.id, (one) => ({ ...one, ...values, height }) as Line));
  }

  return <Gallery title="All shapes and ornaments" open={open} onOpen={setOpen} entries={figures.data} waiting="Drawing them…" current={line.figure} onTake={take} />;
}

show("shape", {
  Tools: Figures,
  name: (line) => line.figure,
  extent: (line) => [line.width, line.height],
  stretched: (line, sx, sy, rounded) => ({
    ...line,
    width: rounded(line.width * sx, 0.5),
    height: rounded(line.height * sy, 0.5),
  }),
});
