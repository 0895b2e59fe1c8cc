import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Font, type FontPreview, type Kind, type Picture, type Session, type ShelfEntry } from "./client";

export function useSession() {
  return useQuery({ queryKey: ["session"], queryFn: () => data<Session>(api.GET("/api/session")) });
}

export function useSignIn() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (who: { user: string; password: string } | "demo") =>
      who === "demo"
        ? data<Session>(api.POST("/api/session/demo"))
        : data<Session>(api.POST("/api/session", { body: who })),
    onSuccess: (session) => client.setQueryData(["session"], session),
  });
}

export function useSignOut() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: () => data<Session>(api.DELETE("/api/session")),
    onSuccess: (session) => {
      client.clear();
      client.setQueryData(["session"], session);
    },
  });
}

export function useShelf() {
  return useQuery({ queryKey: ["shelf"], queryFn: () => data<ShelfEntry[]>(api.GET("/api/designs")) });
}

export function useKinds() {
  return useQuery({
    queryKey: ["kinds"],
    queryFn: () => data<Kind[]>(api.GET("/api/kinds")),
    staleTime: Infinity,
  });
}

export function kindOf(kinds: Kind[] | undefined, id: string): Kind | undefined {
  return kinds?.find((kind) => kind.id === id);
}

export function useFonts() {
  return useQuery({
    queryKey: ["fonts"],
    queryFn: () => data<Font[]>(api.GET("/api/fonts")),
    staleTime: Infinity,
  });
}

export function useFontPreviews(text: string) {
  return useQuery({
    queryKey: ["font previews", text],
    queryFn: () => data<FontPreview[]>(api.GET("/api/font-previews", { params: { query: { text } } })),
    staleTime: Infinity,
    placeholderData: (previous) => previous,
  });
}

export function usePicture(id: string) {
  return useQuery({
    queryKey: ["picture", id],
    queryFn: () => data<Picture>(api.GET("/api/pictures/{digest}", { params: { path: { digest: id } } })),
    enabled: id !== "",
    staleTime: Infinity,
    retry: false,
  });
}
