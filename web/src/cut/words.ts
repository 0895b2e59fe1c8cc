import type { CutJob } from "../api/client";
import { formatLength, type Unit } from "../units";

const STATES: Record<CutJob["state"], string> = {
  waiting: "waits for its turn",
  cutting: "being cut",
  paused: "paused",
  "out of material": "out of material",
  done: "cut",
  lost: "the cutter does not know of it any more",
};

type Found = NonNullable<CutJob["found"]>;

/** What is wrong with a cut, each in a few words. */
export const wrongWith = (found: Found, unit: Unit): string[] =>
  [
    found.missing > 0 ? `${formatLength(Math.round(found.missing), unit)} missing` : "",
    found.twice > 0 ? `${formatLength(Math.round(found.twice), unit)} cut twice` : "",
    found.mirrored ? "the wrong way round" : "",
  ].filter(Boolean);

/** How a job stands, or how it came out. */
export function saysOf({ state, found }: CutJob, unit: Unit): string {
  if (!found) return STATES[state];
  const wrong = wrongWith(found, unit);
  const within = `within ${found.deviation.toFixed(3)} mm`;
  return wrong.length > 0 ? `Not as designed: ${wrong.join(", ")}` : `As designed ${within}, nothing missing, nothing cut twice`;
}
