import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Progress } from "radix-ui";
import { useState } from "react";
import { askAgain } from "../api/askAgain";
import { api, data, type Design, type SheetsLaid } from "../api/client";
import { NumberValue } from "../fields/NumberValue";
import { Button } from "../ui/Button";
import { sayProblem } from "../ui/notices";
import { formatLength, SECONDS } from "../units";
import { SHEETS } from "./useSheets";

const SO_FAR = {
  boxes: "Packed by the boxes round things. Nested by their outlines they lie closer; look for it",
  failed: "Nesting ended before anything was found, so they stay packed by their boxes. Look again",
};

/** Packed plies laid closer, outline into outline: begun here, followed, left at what was found so far. */
export function NestBar({ design, nesting: { state, share, before, after } }: { design: Design; nesting: SheetsLaid["nesting"] }) {
  const [seconds, setSeconds] = useState(20);
  const client = useQueryClient();
  const again = () => askAgain(client, SHEETS);
  const start = useMutation({
    mutationFn: () => data<undefined>(api.POST("/api/nest", { body: { design, seconds } })),
    onSuccess: again,
    onError: sayProblem,
  });
  const stop = useMutation({
    mutationFn: () => data<undefined>(api.POST("/api/nest/stop", { body: { design } })),
    onSuccess: again,
    onError: sayProblem,
  });
  if (state === "no") return null;
  const saved = Math.round(before - after);
  const less = saved > 0 ? `${formatLength(saved, design.unit)} less than by boxes` : "no less than by boxes";
  const found = `${formatLength(Math.round(after), design.unit)} of roll, ${less}`;
  return (
    <div className="border-t border-line pt-3">
      <h2 className="font-display text-[15px] font-bold">Nesting</h2>
      {state === "working" ? (
        <>
          <Progress.Root aria-label="Nesting" value={100 * share} className="my-2 h-1.5 overflow-hidden rounded-full bg-line">
            <Progress.Indicator className="h-full rounded-full bg-plum" style={{ width: `${100 * share}%` }} />
          </Progress.Root>
          <p role="status" className="text-soft">
            {before > 0 ? `So far ${found}.` : "Looking for closer places…"}
          </p>
          <Button className="mt-2 w-full" disabled={stop.isPending} onClick={() => stop.mutate()}>
            Stop and keep this
          </Button>
        </>
      ) : (
        <>
          <p className="mt-1 leading-[1.9]">
            {state === "done" ? `Nested by outlines: ${found}. Look again` : SO_FAR[state]} for{" "}
            <NumberValue label="Seconds each ply" value={seconds} as={SECONDS} low={2} high={300} step={5} onChange={setSeconds} /> each ply.
          </p>
          <Button className="mt-2 w-full" disabled={start.isPending} onClick={() => start.mutate()}>
            Nest by outlines
          </Button>
        </>
      )}
    </div>
  );
}
