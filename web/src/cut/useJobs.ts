import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { askAgain } from "../api/askAgain";
import { api, type CutJob, type Cutter, data, type JobSeen, type Stick } from "../api/client";
import { say, sayProblem } from "../ui/notices";

const OVER: CutJob["state"][] = ["done", "lost"];
export const isOver = (job: CutJob) => OVER.includes(job.state);
const OFTEN = 700;

const path = (id: string) => ({ params: { path: { design_id: id } } });
const LIST = "jobs";
const CUTTER = ["cutter"];

/** What of a design was sent to the cutter, asked for again while anything of it goes on. */
export function useJobs(id: string) {
  return useQuery({
    queryKey: [LIST, id],
    queryFn: () => data<CutJob[]>(api.GET("/api/designs/{design_id}/jobs", path(id))),
    refetchInterval: (query) => (query.state.data?.some((job) => !isOver(job)) ? OFTEN : false),
  });
}

/** One job with all that can be seen of it, as it is cut. */
export function useJob(id: string, job: string | undefined) {
  return useQuery({
    queryKey: [LIST, id, job],
    queryFn: () => data<JobSeen>(api.GET("/api/designs/{design_id}/jobs/{job_id}", { params: { path: { design_id: id, job_id: job ?? "" } } })),
    enabled: job !== undefined,
    refetchInterval: (query) => (query.state.data && !isOver(query.state.data) ? OFTEN : false),
  });
}

export function useCutter() {
  return useQuery({ queryKey: CUTTER, queryFn: () => data<Cutter>(api.GET("/api/cutter")), retry: false });
}

export function useFitBlade() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (offset: number) => data<Cutter>(api.POST("/api/cutter/blade", { body: { offset } })),
    onSuccess: (cutter) => client.setQueryData(CUTTER, cutter),
    onError: sayProblem,
  });
}

export function usePressButton() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (button: "pause" | "go-on" | "load") => api.POST("/api/cutter/{button}", { params: { path: { button } } }),
    onSuccess: () => askAgain(client, [LIST]),
    onError: sayProblem,
  });
}

/** Has a sheet cut: sent over the network, or read from the memory stick. */
export function useCut(id: string, saveNow: () => Promise<number>, onSent: (job: CutJob) => void) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async ({ sheet, by }: { sheet: number; by: "wire" | "stick" }) =>
      data<CutJob>(api.POST("/api/designs/{design_id}/cut", { ...path(id), body: { revision: await saveNow(), sheet, by } })),
    onSuccess: (job) => {
      onSent(job);
      return askAgain(client, [LIST, id]);
    },
    onError: sayProblem,
  });
}

/** Writes all sheets to the memory stick, as the shop's cutter reads them. */
export function useWriteToStick(id: string, saveNow: () => Promise<number>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async () =>
      data<Stick>(api.POST("/api/designs/{design_id}/stick", { params: { path: { design_id: id }, query: { revision: await saveNow() } } })),
    onSuccess: ({ folder, files }) => {
      say(`${files.length === 1 ? "1 file is" : `${files.length} files are`} on the memory stick, in the folder ${folder}.`);
      return askAgain(client, CUTTER);
    },
    onError: sayProblem,
  });
}
