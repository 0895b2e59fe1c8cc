import { data, type Design, type Edited, Problem } from "../api/client";
import { clashes, withAnswer } from "../design/merge";
import { useBench } from "./store";

/** Times a question is asked again when the bench took the ids of its answer meanwhile. */
const MOST = 3;

/**
 * Ask the server to edit the design on the bench, and lay what it changed over what was done meanwhile.
 * `from` is what is sent where that is not the bench's design as it is.
 */
export async function askFor(
  call: (design: Design) => Promise<{ data?: unknown }>,
  from: (now: Design) => Design = (now) => now,
): Promise<Edited> {
  for (let time = 1; ; time++) {
    const opened = useBench.getState().opened;
    const sent = useBench.getState().design;
    const edited = await data<Edited>(call(from(sent)));
    const now = useBench.getState();
    // Another design has come onto the bench: the answer is not for it.
    if (now.opened !== opened) return { ...edited, line: null };
    if (clashes(now.design, sent, edited.design)) {
      if (time < MOST) continue;
      throw new Problem(409, "The bench kept changing while this was worked out, so nothing was done. Do it again.");
    }
    now.change((design) => withAnswer(design, sent, edited.design));
    return edited;
  }
}
