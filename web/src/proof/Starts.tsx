import { useMutation, useQuery } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import { api, data, type Start } from "../api/client";
import { askFor } from "../state/ask";
import { useBench } from "../state/store";
import { FinishedPicture } from "../ui/FinishedPicture";
import { sayProblem } from "../ui/notices";

const WORD = "HARBOUR";

/** What an empty bench offers: whole recipes drawn with her own word; one is taken, and then it is only typing. */
export function Starts() {
  const [word, setWord] = useState("");
  const drawn = useDeferredValue(word.trim() || WORD);
  const starts = useQuery({
    queryKey: ["starts", drawn],
    queryFn: () => data<Start[]>(api.GET("/api/starts", { params: { query: { word: drawn } } })),
    placeholderData: (before) => before,
    staleTime: Infinity,
  }).data;
  const take = useMutation({
    mutationFn: (start: string) => askFor((design) => api.POST("/api/starts/take", { body: { design, start, word: drawn } })),
    onSuccess: ({ line }) => {
      const { selectFresh, ask } = useBench.getState();
      selectFresh(line ?? null);
      if (line) ask({ line, field: "rows" });
    },
    onError: sayProblem,
  });

  return (
    <section aria-label="Starts" className="absolute inset-x-6 top-14 bottom-4 overflow-y-auto">
      <div className="mx-auto flex max-w-170 flex-col gap-3 rounded-xl border border-line bg-card p-4">
        <label className="flex flex-wrap items-center gap-x-3 gap-y-1">
          <span className="font-display text-[15px] font-bold">Start from a whole recipe with your word</span>
          <input
            value={word}
            maxLength={40}
            placeholder={WORD}
            onChange={(event) => setWord(event.target.value)}
            className="h-8 w-44 rounded-lg border border-line bg-card px-2 hover:border-plum"
          />
        </label>
        <ul className="grid grid-cols-3 gap-3">
          {starts?.map((start) => (
            <li key={start.id}>
              <button
                type="button"
                disabled={take.isPending}
                onClick={() => take.mutate(start.id)}
                className="flex w-full flex-col overflow-hidden rounded-[10px] border border-line text-left hover:border-plum"
              >
                <FinishedPicture picture={start.picture} className="h-29 w-full" />
                <span className="px-2.5 py-1.5 font-semibold">{start.name}</span>
              </button>
            </li>
          ))}
        </ul>
        {!starts && <p className="text-soft">Drawing them…</p>}
      </div>
    </section>
  );
}
