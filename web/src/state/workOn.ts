import { knownKinds } from "../api/cache";
import { api, type Design, type Line } from "../api/client";
import { withValue } from "../design/edits";
import { decidesPlies } from "../design/sources";
import { sayProblem } from "../ui/notices";
import { askFor } from "./ask";
import { gesture } from "./store";

type Chosen = string | string[];

/**
 * Has a line work on something else. Where its results stand for that, the server knows which plies follow: then
 * the new value is worked out when the answers before it are there.
 */
export function workOn(line: Line, field: string, value: Chosen | ((now: Chosen) => Chosen)) {
  const next = (now: Design) => {
    const old = now.recipe.find((one) => one.id === line.id) as unknown as Record<string, Chosen> | undefined;
    return typeof value === "function" ? value(old?.[field] ?? []) : value;
  };
  if (!decidesPlies(line, field, knownKinds())) {
    gesture.change((now) => withValue(now, line.id, field, next(now)));
    return;
  }
  askFor((design) => api.POST("/api/lines/change", { body: { design, line: line.id, values: { [field]: next(design) } } })).catch(sayProblem);
}
