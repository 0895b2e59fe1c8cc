import { createContext, useContext } from "react";
import { lineOf } from "../design/refs";
import { useBench } from "./store";
import type { ShownProof } from "./useProof";

/** The proof that is on screen, for whatever shows a result small. */
export const Shown = createContext<ShownProof | null>(null);

/** A result as it is on the proof; nothing where there is none (yet). */
export const useShownResult = (ref: string) => useContext(Shown)?.results.find((one) => one.ref === ref);

/** What results are called in a sentence or a list: "REGATTA less Lighthouse". The server says it, with the proof. */
export function useCalled(): (ref: string) => string {
  const called = useContext(Shown)?.called;
  return (ref) => {
    if (!ref) return "choose";
    const number = useBench.getState().design.recipe.findIndex((line) => line.id === lineOf(ref)) + 1;
    return number > 0 ? (called?.[ref] ?? `line ${number}`) : "something removed";
  };
}
