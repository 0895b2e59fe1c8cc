import type { Box } from "../api/client";
import type { View } from "./useView";

/** Room in px round what is meant, and the least a ring is wide. */
const ROOM = 9;
const LEAST = 15;

/** A ring round the place that is looked at, until something else is chosen or changed. */
export function Spot({ box: [x0, y0, x1, y1], view }: { box: Box; view: View }) {
  const place = {
    cx: ((x0 + x1) / 2 - view.x) * view.k,
    cy: ((y0 + y1) / 2 - view.y) * view.k,
    r: Math.max((Math.hypot(x1 - x0, y1 - y0) / 2) * view.k + ROOM, LEAST),
  };
  return (
    <g data-testid="spot" className="pointer-events-none fill-none">
      <circle {...place} className="stroke-card" strokeWidth={6} />
      <circle {...place} className="stroke-ink" strokeWidth={2.5} strokeDasharray="6 4" />
    </g>
  );
}
