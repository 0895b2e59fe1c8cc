import { queryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { askAgain } from "./askAgain";
import {
  api,
  type Curve,
  type Basics,
  data,
  type Design,
  type Feature,
  type Font,
  type FontPreview,
  type GlyphGroup,
  type Kind,
  type LetterForm,
  type Lettering,
  type Line,
  type Picture,
  type Part,
  type Piece,
  type PlacedLetter,
  type RemovedEntry,
  sendFont,
  type Session,
  type ShelfEntry,
} from "./client";
import { useDoor } from "./door";
import { sendAlone } from "./send";

export function useSession() {
  return useQuery({ queryKey: ["session"], queryFn: () => data<Session>(api.GET("/api/session")) });
}

export function useSignIn() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (who: { user: string; password: string } | "demo") =>
      who === "demo"
        ? data<Session>(api.POST("/api/session/demo", { fetch: sendAlone }))
        : data<Session>(api.POST("/api/session", { body: who, fetch: sendAlone })),
    onSuccess: (session) => {
      client.setQueryData(["session"], session);
      useDoor.getState().setOut(false);
    },
  });
}

/** Makes an account; the page is left before the session changes what stands on it. */
export function useMakeAccount(leave: () => void) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (account: { user: string; password: string; invitation: string }) =>
      data<Session>(api.POST("/api/account", { body: account, fetch: sendAlone })),
    onSuccess: (session) => {
      leave();
      client.setQueryData(["session"], session);
    },
  });
}

export function useChangePassword() {
  return useMutation({
    mutationFn: (words: { old: string; new: string }) => data<Session>(api.PUT("/api/account/password", { body: words })),
  });
}

/** Designs taken off the shelf that can still be put back. */
export function useRemoved() {
  return useQuery({ queryKey: ["shelf", "removed"], queryFn: () => data<RemovedEntry[]>(api.GET("/api/designs/removed")) });
}

export function useSignOut() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: () => data<Session>(api.DELETE("/api/session")),
    onSuccess: (session) => {
      // Clearing everything would take the session from under those who watch it: the shelf would stay.
      client.setQueryData(["session"], session);
      client.removeQueries({ predicate: (query) => query.queryKey[0] !== "session" });
    },
  });
}

export function useShelf() {
  return useQuery({ queryKey: ["shelf"], queryFn: () => data<ShelfEntry[]>(api.GET("/api/designs")) });
}

/** What designs are made of: kinds of line, ranges of figures, what is there at first. */
export const BASICS = queryOptions({ queryKey: ["basics"], queryFn: () => data<Basics>(api.GET("/api/kinds")), staleTime: Infinity });
export const useBasics = () => useQuery(BASICS);

export const useKinds = (): Kind[] | undefined => useBasics().data?.kinds;

export function useFonts() {
  return useQuery({
    queryKey: ["fonts"],
    queryFn: () => data<Font[]>(api.GET("/api/fonts")),
    staleTime: Infinity,
  });
}

/** The words in some of the fonts, asked for once those come into sight. */
export function useFontPreviews(text: string, fonts: string[], seen: boolean) {
  return useQuery({
    queryKey: ["font previews", text, fonts],
    queryFn: () => data<FontPreview[]>(api.GET("/api/font-previews", { params: { query: { text, font: fonts } } })),
    enabled: seen && fonts.length > 0,
    staleTime: Infinity,
    placeholderData: (previous) => previous,
  });
}

export function useBringInFont() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: sendFont,
    onSuccess: () => askAgain(client, ["fonts"]),
  });
}

export function useRemoveFont() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (id: string) => api.DELETE("/api/fonts/{font_id}", { params: { path: { font_id: id } } }),
    onSuccess: () => askAgain(client, ["fonts"]),
  });
}

/** The letters of a Letter line where they lie; `result` says which state of the line they are of. */
export function useLetters(design: Design, line: string, result: { ref: string; key: string } | undefined) {
  return useQuery({
    queryKey: ["letters", line, result?.key],
    queryFn: async (): Promise<PlacedLetter[]> => {
      const parts = await data<Part[]>(api.POST("/api/parts", { body: { design, of: result?.ref ?? "" } }));
      return parts.map(({ path: [row = 0, at = 0], name, d, box }) => ({ row, at, text: name, d, box }));
    },
    enabled: result !== undefined,
    staleTime: Infinity,
    gcTime: 60_000,
    placeholderData: (previous, query) => (query?.queryKey[1] === line ? previous : undefined),
  });
}

/** What can be picked of a line one by one; `key` says which state its results are of, and they may be rough. */
export function usePieces(design: Design, line: Line, key: string, rough: boolean) {
  return useQuery({
    queryKey: ["pieces", line.id, key, rough],
    queryFn: () => data<Piece[]>(api.POST("/api/pieces", { body: { design, line: line.id, care: rough ? "rough" : "drawn" } })),
    staleTime: Infinity,
    gcTime: 60_000,
    placeholderData: (previous, query) => (query?.queryKey[1] === line.id ? previous : undefined),
  });
}

/** Ready shapes to choose from, each at its best. */
export function useFigures(open: boolean) {
  return useQuery({ queryKey: ["figures"], queryFn: () => data<Curve[]>(api.GET("/api/figures")), enabled: open, staleTime: Infinity });
}

/** Curves a warp can start from, drawn with what it works on; `key` says which state that is in. */
export function useCurves(design: Design, line: Line, key: string, open: boolean) {
  return useQuery({
    queryKey: ["curves", line.id, key],
    queryFn: () => data<Curve[]>(api.POST("/api/lines/curves", { body: { design, line: line.id } })),
    enabled: open,
    staleTime: Infinity,
    gcTime: 60_000,
  });
}

export function useLetterForms(design: Design, line: Lettering, letter: { row: number; at: number }) {
  const asks = [line.font, line.axes, line.case, line.features, line.rows[letter.row]?.text, line.rows[letter.row]?.font];
  return useQuery({
    queryKey: ["forms", asks, letter],
    queryFn: () => data<LetterForm[]>(api.POST("/api/letters/forms", { body: { design, line: line.id, ...letter } })),
    staleTime: Infinity,
    retry: false,
  });
}

export function useFeatures(design: Design, line: Lettering) {
  const asks = [line.font, line.axes, line.case, line.features, line.rows.map((row) => row.text)];
  return useQuery({
    queryKey: ["features", asks],
    queryFn: () => data<Feature[]>(api.POST("/api/letters/features", { body: { design, line: line.id } })),
    staleTime: Infinity,
    placeholderData: (previous) => previous,
  });
}

export function useGlyphs(font: string) {
  return useQuery({
    queryKey: ["glyphs", font],
    queryFn: () => data<GlyphGroup[]>(api.GET("/api/fonts/{font_id}/glyphs", { params: { path: { font_id: font } } })),
    staleTime: Infinity,
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
