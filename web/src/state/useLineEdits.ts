import { useMutation } from "@tanstack/react-query";
import { api } from "../api/client";
import { say, sayProblem } from "../ui/notices";
import { askFor } from "./ask";
import { knownKinds } from "../api/cache";
import { chosenResults } from "./chosen";
import { wantsFilling } from "./useAsked";
import { useBench } from "./store";

/** Adding and removing lines: the server knows which plies follow. */
export function useLineEdits() {
  const { select, selectFresh, ask } = useBench.getState();
  const add = useMutation({
    mutationFn: ({ kind, on, given }: { kind: string; on?: string; given?: Record<string, number | string> }) =>
      askFor((design) => api.POST("/api/lines/add", { body: { design, kind, chosen: on ? [on] : chosenResults(), given: given ?? {} } })),
    onSuccess: (edited) => {
      selectFresh(edited.line ?? null);
      const line = edited.design.recipe.find((one) => one.id === edited.line);
      const field = line && wantsFilling(line, knownKinds());
      ask(line && field ? { line: line.id, field } : null);
    },
    onError: sayProblem,
  });
  const remove = useMutation({
    mutationFn: (line: string) =>
      askFor((design) => api.POST("/api/lines/remove", { body: { design, line } })),
    onSuccess: () => {
      select(null);
      say("Line removed.", { label: "Undo", run: () => useBench.temporal.getState().undo() });
    },
    onError: sayProblem,
  });
  return { add, remove };
}
