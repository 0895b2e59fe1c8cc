import { useMutation } from "@tanstack/react-query";
import { api, data, type Edited } from "../api/client";
import { say, sayProblem } from "../ui/notices";
import { useBench } from "./store";

/** Adding and removing lines: the server knows which plies follow. */
export function useLineEdits() {
  const { change, select } = useBench.getState();
  const add = useMutation({
    mutationFn: ({ kind, picture }: { kind: string; picture?: string }) =>
      data<Edited>(
        api.POST("/api/lines/add", {
          body: { design: useBench.getState().design, kind, picture: picture ?? null },
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
