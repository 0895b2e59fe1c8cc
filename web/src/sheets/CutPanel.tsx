import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Pause, Play } from "lucide-react";
import { Progress } from "radix-ui";
import { api, type CutJob, data } from "../api/client";
import { Button } from "../ui/Button";
import { IconButton } from "../ui/IconButton";
import { say, sayProblem } from "../ui/notices";
import { formatLength, type Unit } from "../units";

const OVER: CutJob["state"][] = ["done", "lost"];
const OFTEN = 700;

interface Props {
  id: string;
  /** which of the sheets, from 0 */
  at: number;
  name: string;
  unit: Unit;
  saveNow: () => Promise<number>;
}

/** Sends a sheet to the cutter, follows it, and says how it came out. */
export function CutPanel({ id, at, name, unit, saveNow }: Props) {
  const client = useQueryClient();
  const path = { params: { path: { design_id: id } } };
  const jobs = useQuery({
    queryKey: ["jobs", id],
    queryFn: () => data<CutJob[]>(api.GET("/api/designs/{design_id}/jobs", path)),
    refetchInterval: (query) => (query.state.data?.some((job) => !OVER.includes(job.state)) ? OFTEN : false),
  });
  const refresh = () => client.invalidateQueries({ queryKey: ["jobs", id] });
  const send = useMutation({
    mutationFn: async () =>
      data<CutJob>(api.POST("/api/designs/{design_id}/cut", { ...path, body: { revision: await saveNow(), sheet: at } })),
    onSuccess: () => {
      say(`${name} is on its way to the cutter.`);
      return refresh();
    },
    onError: sayProblem,
  });
  const press = useMutation({
    mutationFn: (button: "pause" | "go-on" | "load") => api.POST("/api/cutter/{button}", { params: { path: { button } } }),
    onSuccess: refresh,
    onError: sayProblem,
  });

  return (
    <div className="border-t border-line pt-3">
      <Button className="w-full" disabled={send.isPending} onClick={() => send.mutate()}>
        {send.isPending ? "Sending…" : "Send this sheet to the cutter"}
      </Button>
      {(jobs.data ?? []).length > 0 && (
        <ul aria-label="Sent to the cutter" className="mt-3 flex flex-col gap-3">
          {jobs.data?.map((job) => (
            <li key={job.id}>
              <p className="leading-snug font-semibold break-words">{job.name}</p>
              <div className="flex items-center gap-2">
                <div className="min-w-0 flex-1">
                  {!OVER.includes(job.state) && (
                    <Progress.Root aria-label={`Cut of ${job.name}`} value={100 * job.share} className="my-1 h-1.5 overflow-hidden rounded-full bg-line">
                      <Progress.Indicator className="h-full rounded-full bg-plum" style={{ width: `${100 * job.share}%` }} />
                    </Progress.Root>
                  )}
                  <p className="text-soft">{saysOf(job, unit)}</p>
                </div>
                {job.state === "cutting" && (
                  <IconButton label="Pause the cutter" onClick={() => press.mutate("pause")}>
                    <Pause size={15} />
                  </IconButton>
                )}
                {job.state === "paused" && (
                  <IconButton label="Go on cutting" onClick={() => press.mutate("go-on")}>
                    <Play size={15} />
                  </IconButton>
                )}
                {job.state === "out of material" && <Button onClick={() => press.mutate("load")}>Material is in</Button>}
              </div>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

const STATES: Record<CutJob["state"], string> = {
  waiting: "waits for its turn",
  cutting: "being cut",
  paused: "paused",
  "out of material": "out of material",
  done: "cut",
  lost: "the cutter does not know of it any more",
};

function saysOf({ state, found }: CutJob, unit: Unit): string {
  if (!found) return STATES[state];
  const wrong = [
    found.missing > 0 ? `${formatLength(Math.round(found.missing), unit)} missing` : "",
    found.twice > 0 ? `${formatLength(Math.round(found.twice), unit)} cut twice` : "",
    found.mirrored ? "the wrong way round" : "",
  ].filter(Boolean);
  const within = `within ${found.deviation.toFixed(3)} mm`;
  return wrong.length > 0 ? `Not as designed: ${wrong.join(", ")}` : `As designed ${within}, nothing missing, nothing cut twice`;
}
