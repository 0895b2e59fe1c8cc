import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Copy, Pencil, Trash2 } from "lucide-react";
import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import { askAgain } from "../api/askAgain";
import { api, data, type Saved, type ShelfEntry } from "../api/client";
import { FinishedPicture } from "../ui/FinishedPicture";
import { IconButton } from "../ui/IconButton";
import { say, sayProblem } from "../ui/notices";

export function DesignCard({ entry }: { entry: ShelfEntry }) {
  const [naming, setNaming] = useState(false);
  const [name, setName] = useState(entry.name);
  const client = useQueryClient();
  const path = { params: { path: { design_id: entry.id } } };
  const refresh = () => askAgain(client, ["shelf"]);
  const settle = { onSuccess: refresh, onError: sayProblem };
  const rename = useMutation({
    mutationFn: (to: string) => data<Saved>(api.PATCH("/api/designs/{design_id}", { ...path, body: { name: to } })),
    ...settle,
  });
  const copy = useMutation({
    mutationFn: () => data<ShelfEntry>(api.POST("/api/designs/{design_id}/copy", path)),
    ...settle,
  });
  const bringBack = useMutation({
    mutationFn: () => api.POST("/api/designs/{design_id}/bring-back", path),
    ...settle,
  });
  const remove = useMutation({
    mutationFn: () => api.DELETE("/api/designs/{design_id}", path),
    onSuccess: () => {
      say(`“${entry.name}” taken off the shelf.`, { label: "Put it back", run: () => bringBack.mutate() });
      return refresh();
    },
    onError: sayProblem,
  });

  function finish(event: FormEvent) {
    event.preventDefault();
    setNaming(false);
    if (name.trim() && name.trim() !== entry.name) rename.mutate(name.trim());
    else setName(entry.name);
  }

  return (
    <li className="rounded-[10px] border border-line bg-card transition-colors focus-within:border-plum hover:border-plum">
      <Link to={`/designs/${entry.id}`} aria-label={`Open ${entry.name}`} className="block rounded-t-[10px]">
        <FinishedPicture picture={entry.picture} className="h-44 w-full rounded-t-[9px]" />
      </Link>
      <div className="flex items-center gap-1 py-2 pr-2 pl-3">
        {naming ? (
          <form onSubmit={finish} className="min-w-0 flex-1">
            <input
              aria-label="Name of the design"
              autoFocus
              value={name}
              maxLength={120}
              onChange={(event) => setName(event.target.value)}
              onBlur={finish}
              onFocus={(event) => event.target.select()}
              onKeyDown={(event) => {
                if (event.key === "Escape") {
                  setName(entry.name);
                  setNaming(false);
                }
              }}
              className="h-7 w-full rounded-md border border-plum bg-card px-2 font-semibold"
            />
          </form>
        ) : (
          <Link to={`/designs/${entry.id}`} className="min-w-0 flex-1 rounded">
            <span className="block truncate font-semibold">{entry.name}</span>
            <span className="text-soft">
              {new Date(entry.updated).toLocaleDateString(undefined, { day: "numeric", month: "long" })}
            </span>
          </Link>
        )}
        <IconButton label={`Rename ${entry.name}`} onClick={() => setNaming(true)}>
          <Pencil size={15} />
        </IconButton>
        <IconButton label={`Copy ${entry.name}`} onClick={() => copy.mutate()}>
          <Copy size={15} />
        </IconButton>
        <IconButton label={`Remove ${entry.name}`} onClick={() => remove.mutate()}>
          <Trash2 size={15} />
        </IconButton>
      </div>
    </li>
  );
}
