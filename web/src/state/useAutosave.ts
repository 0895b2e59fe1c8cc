import { useCallback, useEffect, useRef, useState } from "react";
import { api, data, type Design, Problem, type Saved } from "../api/client";
import { onSignedInAgain } from "../api/door";

export type SaveState = "saved" | "saving" | "waiting" | "unsaved" | "conflict" | "removed";

/** The other version, when the design was changed in another window. */
export interface Conflict {
  revision: number;
  design: Design;
}

const CHANGED_ELSEWHERE =
  "This design was changed in another window meanwhile. Choose above which version to go on with, then do this again.";
const REMOVED = "This design was removed from the shelf. Put it back, then do this again.";
const QUIET = 500;
const RETRY = 4000;

/** Saves each change once it has been quiet for a moment; a refused save keeps both versions. */
export function useAutosave(id: string, revision: number, opened: Design, design: Design) {
  const [state, setState] = useState<SaveState>("saved");
  const [stored, setStored] = useState({ design: opened, base: revision });
  const [conflict, setConflict] = useState<Conflict | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const base = useRef(revision);
  const saved = useRef(opened);
  const current = useRef(design);
  const flight = useRef<Promise<number> | null>(null);
  /** why saving is no use before something is settled */
  const stuck = useRef<string | null>(null);
  const refused = useRef<Design | null>(null);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const again = useRef<() => void>(() => undefined);

  /** Save until what is stored is what is on the bench; the revision it has then. */
  const saveAll = useCallback(async () => {
    while (saved.current !== current.current) {
      if (stuck.current) throw new Problem(409, stuck.current);
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
        setStored({ design: next, base: answer.revision });
        setProblem(null);
        setState("saved");
      } catch (error) {
        if (error instanceof Problem && error.status === 409) {
          stuck.current = CHANGED_ELSEWHERE;
          refused.current = next;
          setConflict({ revision: Number(error.extra.revision), design: error.extra.design as Design });
          setState("conflict");
          throw new Problem(409, CHANGED_ELSEWHERE);
        }
        if (error instanceof Problem && error.status === 410) {
          stuck.current = REMOVED;
          setState("removed");
          throw error;
        }
        setProblem(error instanceof Error ? error.message : String(error));
        setState("unsaved");
        // Nothing helps before somebody has signed in again.
        if (error instanceof Problem && error.status === 401) throw error;
        timer.current = setTimeout(() => again.current(), RETRY);
        throw error;
      }
    }
    return base.current;
  }, [id]);

  /** One save is in flight at a time; whoever asks meanwhile waits until his state is stored as well. */
  const saveNow = useCallback(async (): Promise<number> => {
    clearTimeout(timer.current);
    let revision: number;
    do {
      flight.current ??= saveAll().finally(() => (flight.current = null));
      revision = await flight.current;
    } while (saved.current !== current.current);
    return revision;
  }, [saveAll]);

  // What goes wrong here is shown by the state and the sentence that come of it.
  const save = useCallback(() => void saveNow().catch(() => undefined), [saveNow]);

  useEffect(() => {
    again.current = save;
    return onSignedInAgain(save);
  }, [save]);

  useEffect(() => {
    current.current = design;
    if (saved.current === design || conflict) return;
    clearTimeout(timer.current);
    timer.current = setTimeout(save, QUIET);
  }, [design, save, conflict]);

  // Leaving the page must not lose the last half second.
  useEffect(() => {
    const warn = (event: BeforeUnloadEvent) => {
      if (saved.current !== current.current) {
        save();
        event.preventDefault();
      }
    };
    addEventListener("beforeunload", warn);
    return () => {
      removeEventListener("beforeunload", warn);
      save();
    };
  }, [save]);

  /** Go on with this window's version, or with the other one, which is given to `take`. */
  function settle(keepMine: boolean, take: (design: Design) => void) {
    if (!conflict) return;
    // What was typed since the first refusal is set aside too before the other version takes its place.
    if (!keepMine && current.current !== refused.current) {
      const body = { base: base.current, design: current.current };
      void api.PUT("/api/designs/{design_id}", { params: { path: { design_id: id } }, body }).catch(() => undefined);
    }
    base.current = conflict.revision;
    stuck.current = null;
    setConflict(null);
    if (keepMine) save();
    else {
      saved.current = conflict.design;
      setStored({ design: conflict.design, base: conflict.revision });
      setState("saved");
      take(conflict.design);
    }
  }

  /** Put a design that was removed elsewhere back on the shelf, and save what is on the bench. */
  async function putBack() {
    await api.POST("/api/designs/{design_id}/bring-back", { params: { path: { design_id: id } } });
    stuck.current = null;
    save();
  }

  // What is on the bench counts as saved only from the moment it is, not from the last time it was.
  const shown: SaveState = design === stored.design ? "saved" : state === "saved" ? "waiting" : state;
  return { state: shown, problem, conflict, settle, putBack, saveNow, stored };
}
