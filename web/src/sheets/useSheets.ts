import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { askAgain } from "../api/askAgain";
import { api, data, type Design, type Machines, type SheetsLaid } from "../api/client";

export const SHEETS = ["sheets"];
const WHILE_NESTING = 1000;

/** How the plies lie on their sheets, by the machine that is used. */
export function useSheets(design: Design, machine: string | undefined) {
  return useQuery({
    queryKey: [...SHEETS, design, machine],
    queryFn: () => data<SheetsLaid>(api.POST("/api/sheets", { body: { design } })),
    enabled: machine !== undefined,
    staleTime: Infinity,
    gcTime: 60_000,
    retry: false,
    placeholderData: (previous) => previous,
    refetchInterval: (query) => (query.state.data?.nesting.state === "working" ? WHILE_NESTING : false),
  });
}

const MACHINES = ["machines"];

export function useMachines() {
  return useQuery({ queryKey: MACHINES, queryFn: () => data<Machines>(api.GET("/api/machines")), staleTime: Infinity });
}

export function useChangeMachines() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (next: Pick<Machines, "machines" | "chosen">) => data<Machines>(api.PUT("/api/machines", { body: next })),
    onMutate: (next) => client.setQueryData<Machines>(MACHINES, (now) => now && { ...now, ...next }),
    onSuccess: async (machines) => {
      client.setQueryData(MACHINES, machines);
      await askAgain(client, SHEETS);
    },
  });
}
