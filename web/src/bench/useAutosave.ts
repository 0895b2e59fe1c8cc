import { useCallback, useEffect, useRef, useState } from "react";
import { api, data, type Design, Problem, type Saved } from "../api/client";

export type SaveState = "saved" | "saving" | "waiting" | "unsaved" | "conflict";

/** The other version, when the design was changed in another window. */
export interface Conflict {
  revision: number;
  design: Design;
}

const QUIET = 500;
const RETRY = 4000;

/** Saves each change once it has been quiet for a moment; a refused save keeps both versions. */
export function useAutosave(id: string, revision: number, opened: Design, design: Design) {
  const [state, setState] = useState<SaveState>("saved");
  const [savedDesign, setSavedDesign] = useState(opened);
  const [conflict, setConflict] = useState<Conflict | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const base = useRef(revision);
  const saved = useRef(opened);
  const current = useRef(design);
  const running = useRef(false);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const again = useRef<() => void>(() => undefined);

  const save = useCallback(async () => {
    clearTimeout(timer.current);
    if (running.current) return;
    running.current = true;
    while (saved.current !== current.current) {
      const next = current.current;
      setState("saving");
      try {
        const answer = await data<Saved>(
          api.PUT("/api/designs/{design_id}", {
            params: { path: { design_id: id } },
            body: { base: base.current, design: next },
          }),
        );
        base.current = answer.revision;
        saved.current = next;
        setSavedDesign(next);
        setProblem(null);
        setState("saved");
      } catch (error) {
        if (error instanceof Problem && error.status === 409) {
          setConflict({ revision: Number(error.extra.revision), design: error.extra.design as Design });
          setState("conflict");
        } else {
          setProblem(error instanceof Error ? error.message : String(error));
          setState("unsaved");
          timer.current = setTimeout(() => again.current(), RETRY);
        }
        break;
      }
    }
    running.current = false;
  }, [id]);

  useEffect(() => {
    again.current = () => void save();
  }, [save]);

  useEffect(() => {
    current.current = design;
    if (saved.current === design || conflict) return;
    clearTimeout(timer.current);
    timer.current = setTimeout(() => void save(), QUIET);
  }, [design, save, conflict]);

  // Leaving the page must not lose the last half second.
  useEffect(() => {
    const warn = (event: BeforeUnloadEvent) => {
      if (saved.current !== current.current) {
        void save();
        event.preventDefault();
      }
    };
    addEventListener("beforeunload", warn);
    return () => {
      removeEventListener("beforeunload", warn);
      void save();
    };
  }, [save]);

  /** Go on with this window's version, or with the other one, which is given to `take`. */
  function settle(keepMine: boolean, take: (design: Design) => void) {
    if (!conflict) return;
    base.current = conflict.revision;
    setConflict(null);
    if (keepMine) void save();
    else {
      saved.current = conflict.design;
      setSavedDesign(conflict.design);
      setState("saved");
      take(conflict.design);
    }
  }

  // What is on the bench counts as saved only from the moment it is, not from the last time it was.
  const shown: SaveState = design === savedDesign ? "saved" : state === "saved" ? "waiting" : state;
  return { state: shown, problem, conflict, settle, saveNow: save };
}
