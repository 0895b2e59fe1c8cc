import { createContext, useContext } from "react";
import type { ShownProof } from "./useProof";

/** The proof that is on screen, for whatever shows a result small. */
export const Shown = createContext<ShownProof | null>(null);

/** A result as it is on the proof; nothing where there is none (yet). */
export const useShownResult = (ref: string) => useContext(Shown)?.results.find((one) => one.ref === ref);
