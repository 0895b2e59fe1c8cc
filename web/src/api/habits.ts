import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Habits } from "./client";

const KEY = ["habits"];
const FIRST: Habits = { unit: "mm", fonts: [] };
const MOST_FONTS = 6;

/** What the shop is used to: its unit, and the fonts it took last. */
export function useHabits() {
  const client = useQueryClient();
  const kept = useQuery({ queryKey: KEY, queryFn: () => data<Habits>(api.GET("/api/habits")), staleTime: Infinity });
  const habits = kept.data ?? FIRST;
  const change = useMutation({
    mutationFn: (part: Partial<Habits>) => {
      const body = { ...(client.getQueryData<Habits>(KEY) ?? FIRST), ...part };
      client.setQueryData(KEY, body);
      return data<Habits>(api.PUT("/api/habits", { body }));
    },
  });
  return {
    ...habits,
    setUnit: (unit: Habits["unit"]) => change.mutate({ unit }),
    tookFont: (font: string) =>
      change.mutate({ fonts: [font, ...habits.fonts.filter((one) => one !== font)].slice(0, MOST_FONTS) }),
  };
}
