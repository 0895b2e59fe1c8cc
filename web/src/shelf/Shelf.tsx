import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Plus } from "lucide-react";
import { useNavigate } from "react-router";
import { api, data, type DesignState } from "../api/client";
import { useHabits } from "../api/habits";
import { BASICS, useShelf } from "../api/queries";
import { Button } from "../ui/Button";
import { sayProblem } from "../ui/notices";
import { Wordmark } from "../ui/Wordmark";
import { AccountPanel } from "./AccountPanel";
import { DesignCard } from "./DesignCard";
import { RemovedDesigns } from "./RemovedDesigns";

/** All designs of the shop, as finished pictures. */
export function Shelf({ user }: { user: string }) {
  const shelf = useShelf();
  const navigate = useNavigate();
  const client = useQueryClient();
  const { unit } = useHabits();
  const start = useMutation({
    mutationFn: async () => {
      const { blank } = await client.ensureQueryData(BASICS);
      return data<DesignState>(api.POST("/api/designs", { body: { ...blank, unit } }));
    },
    onSuccess: (state) => {
      client.setQueryData(["design", state.id], state);
      void navigate(`/designs/${state.id}`);
    },
    onError: sayProblem,
  });

  return (
    <div className="flex min-h-screen flex-col">
      <header className="flex h-13 items-center gap-4 border-b border-line bg-card px-4">
        <Wordmark />
        <span className="text-soft">{user}</span>
        <div className="ml-auto flex items-center gap-2">
          <Button look="main" onClick={() => start.mutate()} disabled={start.isPending}>
            <Plus size={16} /> New design
          </Button>
          <AccountPanel user={user} />
        </div>
      </header>
      <main className="mx-auto w-full max-w-300 p-6">
        <h1 className="font-display text-[20px] font-bold">Shelf</h1>
        {shelf.isPending && <p className="mt-4 text-soft">Fetching your designs…</p>}
        {shelf.isError && (
          <p role="alert" className="mt-4 text-brick">
            {shelf.error.message}
          </p>
        )}
        {shelf.data?.length === 0 && (
          <div className="mt-4 rounded-[10px] border border-dashed border-line bg-card p-8">
            <h2 className="font-display text-[17px] font-bold">Nothing here yet</h2>
            <p className="mt-1 max-w-120 text-soft">
              Start with a word: a new design opens on an empty bench. Letter a row, bring in a picture, and
              knock the one out of the other.
            </p>
            <Button look="main" className="mt-4" onClick={() => start.mutate()}>
              <Plus size={16} /> Start the first design
            </Button>
          </div>
        )}
        <ul className="mt-4 grid grid-cols-[repeat(auto-fill,minmax(270px,1fr))] gap-4">
          {shelf.data?.map((entry) => (
            <DesignCard key={entry.id} entry={entry} />
          ))}
        </ul>
        <RemovedDesigns />
      </main>
    </div>
  );
}
