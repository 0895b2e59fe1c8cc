import { useMutation, useQuery } from "@tanstack/react-query";
import { History } from "lucide-react";
import { useState } from "react";
import { api, data, type DesignState, type PastState } from "../api/client";
import { FinishedPicture } from "../ui/FinishedPicture";
import { IconButton } from "../ui/IconButton";
import { say, sayProblem } from "../ui/notices";
import { Pop } from "../ui/Pop";
import { useBench } from "../state/store";

const when = (iso: string) =>
  new Date(iso).toLocaleString(undefined, { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" });

/** Saved states with their pictures; any comes back as a new state, so the newest is never lost. */
export function HistoryPanel({ id, saveNow }: { id: string; saveNow: () => Promise<number> }) {
  const [open, setOpen] = useState(false);
  const path = { design_id: id };
  const states = useQuery({
    queryKey: ["history", id],
    queryFn: async () => {
      await saveNow();
      return data<PastState[]>(api.GET("/api/designs/{design_id}/states", { params: { path } }));
    },
    enabled: open,
    gcTime: 0,
  });
  const bringBack = useMutation({
    mutationFn: (state: PastState) =>
      data<DesignState>(
        api.GET("/api/designs/{design_id}/states/{state_id}", { params: { path: { ...path, state_id: state.id } } }),
      ),
    onSuccess: (brought, state) => {
      useBench.getState().change(() => brought.design);
      setOpen(false);
      say(`Brought back as of ${when(state.created)}.`, {
        label: "Undo",
        run: () => useBench.temporal.getState().undo(),
      });
    },
    onError: sayProblem,
  });

  const call = useMutation({
    mutationFn: ({ state, name }: { state: PastState; name: string }) =>
      data<PastState>(api.PUT("/api/designs/{design_id}/states/{state_id}", { params: { path: { ...path, state_id: state.id } }, body: { name } })),
    onSuccess: () => states.refetch(),
    onError: sayProblem,
  });

  return (
    <Pop
      label="Earlier states"
      width={330}
      open={open}
      onOpenChange={setOpen}
      trigger={
        <IconButton label="Earlier states" className="size-8! border border-line">
          <History size={16} />
        </IconButton>
      }
    >
      <h2 className="mb-2 font-display text-[14px] font-bold">Earlier states</h2>
      {states.isPending && <p className="text-soft">Looking them up…</p>}
      {states.isError && (
        <p role="alert" className="text-brick">
          {states.error.message}
        </p>
      )}
      {states.data?.length === 1 && (
        <p className="mb-2 text-soft">Each minute you work leaves one here. For the last few steps, undo is quicker.</p>
      )}
      <ul className="grid grid-cols-2 gap-2">
        {states.data?.map((state, index) => (
          <li key={state.id}>
            <button
              type="button"
              disabled={index === 0 || bringBack.isPending}
              aria-label={index === 0 ? "Now" : `Bring back ${when(state.created)}`}
              onClick={() => bringBack.mutate(state)}
              className="w-full overflow-hidden rounded-lg border border-line text-left enabled:hover:border-plum"
            >
              <FinishedPicture picture={state.picture} className="h-20 w-full" />
              <span className="block px-2 py-1">
                {index === 0 ? "Now" : when(state.created)}
                {state.set_aside && <span className="text-soft"> · set aside</span>}
              </span>
            </button>
            <StateName name={state.name} when={index === 0 ? "now" : when(state.created)} onName={(name) => call.mutate({ state, name })} />
          </li>
        ))}
      </ul>
    </Pop>
  );
}

/** What a state is called: with a name it stays, however old. */
function StateName({ name, when, onName }: { name: string; when: string; onName: (name: string) => void }) {
  const [text, setText] = useState(name);
  const settle = () => {
    if (text.trim() !== name) onName(text.trim());
  };
  return (
    <input
      aria-label={`Name of the state of ${when}`}
      placeholder="Name it to keep it"
      value={text}
      maxLength={120}
      onChange={(event) => setText(event.target.value)}
      onBlur={settle}
      onKeyDown={(event) => {
        if (event.key === "Enter") event.currentTarget.blur();
      }}
      className="mt-1 h-7 w-full rounded-md border border-transparent bg-transparent px-2 font-semibold placeholder:font-normal placeholder:text-soft hover:border-line focus:border-plum"
    />
  );
}
