import { useMutation } from "@tanstack/react-query";
import { api, data, type Edited } from "../api/client";
import { say, sayProblem } from "../ui/notices";
import { useBench } from "./store";

/** Adding and removing lines: the server knows which plies follow. */
export function useLineEdits() {
  const { change, select } = useBench.getState();
  const add = useMutation({
    mutationFn: ({ kind, on, given }: { kind: string; on?: string; given?: Record<string, number | string> }) =>
      data<Edited>(
        api.POST("/api/lines/add", {
          body: { design: useBench.getState().design, kind, on: on ?? null, given: given ?? {} },
        }),
      ),
    onSuccess: (edited) => {
      change(() => edited.design);
      select(edited.line ?? null);
    },
    onError: sayProblem,
  });
  const remove = useMutation({
    mutationFn: (line: string) =>
      data<Edited>(api.POST("/api/lines/remove", { body: { design: useBench.getState().design, line } })),
    onSuccess: (edited) => {
      change(() => edited.design);
      select(null);
      say("Line removed.", { label: "Undo", run: () => useBench.temporal.getState().undo() });
    },
    onError: sayProblem,
  });
  return { add, remove };
}
