import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { sayProblem } from "../ui/notices";
import { api, data, type Material } from "./client";

const KEY = ["materials"];

/** The materials on the shop's shelf, and what is put there or taken off. */
export function useShopMaterials() {
  const client = useQueryClient();
  const shelf = useQuery({ queryKey: KEY, queryFn: () => data<Material[]>(api.GET("/api/materials")), staleTime: Infinity }).data ?? [];
  const change = useMutation({
    mutationFn: (materials: Material[]) => data<Material[]>(api.PUT("/api/materials", { body: { materials } })),
    onSuccess: (materials) => client.setQueryData(KEY, materials),
    onError: sayProblem,
  });
  const others = (name: string) => shelf.filter((one) => one.name !== name);
  return {
    shelf,
    keep: (material: Material) => change.mutate([...others(material.name), material].sort((a, b) => a.name.localeCompare(b.name))),
    forget: (name: string) => change.mutate(others(name)),
  };
}
