import { useState } from "react";
import type { Kind, Line } from "../api/client";
import { kindOf } from "../design/kindOf";
import { useBench } from "./store";

/** The first value of a new line that wants filling: its words, or what is not chosen yet. */
export function wantsFilling(line: Line, kinds: Kind[] | undefined): string | undefined {
  const values = line as unknown as Record<string, unknown>;
  const empty = (value: unknown) => value === "" || (Array.isArray(value) && value.length === 0);
  return kindOf(kinds, line.kind)?.slots.find(
    ({ slot, field, optional }) => slot === "rows" || (["ref", "refs", "picture"].includes(slot) && !optional && empty(values[field])),
  )?.field;
}

/** Whether a value's panel is open: by a click, or by itself where its line has just been added. */
export function useAsked(line: string, field: string): [boolean, (open: boolean) => void] {
  const [own, setOwn] = useState(false);
  const asked = useBench((state) => state.asked?.line === line && state.asked.field === field);
  return [
    own || asked,
    (open) => {
      if (asked) useBench.getState().ask(null);
      setOwn(open);
    },
  ];
}
