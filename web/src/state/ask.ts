import { data, type Design, type Edited, Problem } from "../api/client";
import { clashes, withAnswer } from "../design/merge";
import { useBench } from "./store";

/** Times a question is asked again when the bench took the ids of its answer meanwhile. */
const MOST = 3;

/** The question asked last: the next one waits for its answer, or both would change the same plies. */
let last: Promise<unknown> = Promise.resolve();

/**
 * Ask the server to edit the design on the bench, and lay what it changed over what was done meanwhile.
 * `from` is what is sent where that is not the bench's design as it is.
 */
export function askFor(
  call: (design: Design) => Promise<{ data?: unknown }>,
  from: (now: Design) => Design = (now) => now,
): Promise<Edited> {
  const answer = last.then(() => ask(call, from));
  last = answer.catch(() => undefined);
  return answer;
}

async function ask(call: (design: Design) => Promise<{ data?: unknown }>, from: (now: Design) => Design): Promise<Edited> {
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
