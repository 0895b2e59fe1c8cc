import { knownKinds } from "../api/cache";
import type { Design } from "../api/client";
import { say } from "../ui/notices";
import { useBench } from "./store";
import { stepInWords } from "../design/steps";

/** One step back, saying which. */
export function undo() {
  const before = useBench.getState().design;
  useBench.temporal.getState().undo();
  tell("Undone", useBench.getState().design, before);
}

/** One step forward again, saying which. */
export function redo() {
  const before = useBench.getState().design;
  useBench.temporal.getState().redo();
  tell("Done again", before, useBench.getState().design);
}

function tell(what: string, before: Design, after: Design) {
  if (before !== after) say(`${what}: ${stepInWords(before, after, knownKinds())}.`, undefined, "undo");
}
