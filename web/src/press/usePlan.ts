import { useQuery } from "@tanstack/react-query";
import { api, data, type Design, type PressPlan } from "../api/client";

/** What is pressed when; asked for anew as the design changes. */
export function usePlan(design: Design) {
  return useQuery({
    queryKey: ["press plan", design],
    queryFn: () => data<PressPlan>(api.POST("/api/press-plan", { body: { design } })),
    staleTime: Infinity,
    gcTime: 60_000,
    retry: false,
    placeholderData: (previous) => previous,
  });
}
