import { useMutation, useQueryClient } from "@tanstack/react-query";
import { askAgain } from "../api/askAgain";
import { api, type RemovedEntry } from "../api/client";
import { useRemoved } from "../api/queries";
import { Button } from "../ui/Button";
import { FinishedPicture } from "../ui/FinishedPicture";
import { sayProblem } from "../ui/notices";

const KEPT = 30 * 24 * 3600 * 1000;

/** What was taken off the shelf and is kept a month longer. */
export function RemovedDesigns() {
  const removed = useRemoved().data ?? [];
  if (removed.length === 0) return null;
  return (
    <details className="mt-8">
      <summary className="cursor-pointer font-display text-[17px] font-bold">
        Taken off the shelf ({removed.length})
      </summary>
      <ul className="mt-3 flex flex-col gap-2">
        {removed.map((entry) => (
          <Removed key={entry.id} entry={entry} />
        ))}
      </ul>
    </details>
  );
}

function Removed({ entry }: { entry: RemovedEntry }) {
  const client = useQueryClient();
  const putBack = useMutation({
    mutationFn: () => api.POST("/api/designs/{design_id}/bring-back", { params: { path: { design_id: entry.id } } }),
    onSuccess: () => askAgain(client, ["shelf"]),
    onError: sayProblem,
  });
  const until = new Date(new Date(entry.removed).getTime() + KEPT);
  return (
    <li className="flex items-center gap-3 rounded-[10px] border border-line bg-card p-2">
      <FinishedPicture picture={entry.picture} className="h-14 w-20 rounded-md" />
      <span className="min-w-0 flex-1 truncate font-semibold">{entry.name}</span>
      <span className="text-soft">kept until {until.toLocaleDateString(undefined, { day: "numeric", month: "long" })}</span>
      <Button onClick={() => putBack.mutate()} disabled={putBack.isPending} aria-label={`Put back ${entry.name}`}>
        Put back
      </Button>
    </li>
  );
}
