import { knownKinds } from "../api/cache";
import { api, type Line } from "../api/client";
import { withValue } from "../design/edits";
import { decidesPlies } from "../design/sources";
import { sayProblem } from "../ui/notices";
import { askFor } from "./ask";
import { gesture } from "./store";

/** Has a line work on something else. Where its results stand for that, the server knows which plies follow. */
export function workOn(line: Line, field: string, value: string | string[]) {
  if (!decidesPlies(line, field, knownKinds())) {
    gesture.change((now) => withValue(now, line.id, field, value));
    return;
  }
  askFor((design) => api.POST("/api/lines/change", { body: { design, line: line.id, values: { [field]: value } } })).catch(sayProblem);
}
