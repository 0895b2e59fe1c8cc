import type { Kind } from "../api/client";

/** Kinds as the server describes them, as far as copying and moving need them; for tests. */
export const someKinds = [
  { id: "knock_out", replaces: {}, each: ["out_of", "of"], slots: [{ field: "of", slot: "refs" }, { field: "out_of", slot: "refs" }] },
  { id: "back", replaces: {}, slots: [{ field: "of", slot: "refs" }, { field: "distance", slot: "length" }] },
  { id: "clean", replaces: { clean: "of" }, slots: [{ field: "of", slot: "ref" }] },
] as unknown as Kind[];
