import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, useParams } from "react-router";
import { askAgain } from "../api/askAgain";
import { api, data, type DesignState } from "../api/client";
import { Bench } from "./Bench";
import { roomOf } from "./Rooms";
import { useBench } from "../state/store";

/** Fetches the design, puts it on the bench, and shows the bench. */
export function BenchPage({ user }: { user: string }) {
  const { id = "", room } = useParams();
  const client = useQueryClient();
  const ready = useBench((state) => state.opened);
  const stored = useQuery({
    queryKey: ["design", id],
    queryFn: () => data<DesignState>(api.GET("/api/designs/{design_id}", { params: { path: { design_id: id } } })),
    staleTime: Infinity,
    retry: false,
  });

  useEffect(() => {
    if (!stored.data) return;
    useBench.getState().open(id, stored.data.design);
    useBench.temporal.getState().clear();
    document.title = `${stored.data.design.name} · Perigram`;
    return () => {
      document.title = "Perigram";
      // The bench has moved on from what was fetched; the next visit fetches it anew.
      client.removeQueries({ queryKey: ["design", id] });
      void askAgain(client, ["shelf"]);
    };
  }, [stored.data, id, client]);

  if (stored.isError) {
    return (
      <main className="p-8">
        <p role="alert">{stored.error.message}</p>
        <Link to="/" className="mt-2 inline-block font-semibold text-plum underline">
          Back to the shelf
        </Link>
      </main>
    );
  }
  if (!stored.data || ready !== id) return <p className="p-8 text-soft">Laying out the design…</p>;
  return <Bench key={id} user={user} id={id} revision={stored.data.revision} opened={stored.data.design} room={roomOf(room)} />;
}
