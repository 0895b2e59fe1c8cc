import { type RefObject, useCallback, useEffect, useRef, useState } from "react";
import { api, data, type Design, Problem, type Proof } from "../api/client";
import { onSignedInAgain } from "../api/door";

/** A proof with every path in hand, and the design it is of. */
export interface ShownProof {
  design: Design;
  results: (Proof["results"][number] & { d: string })[];
  plies: (Proof["plies"][number] & { d: string })[];
  findings: Proof["findings"];
  shapings: Proof["shapings"];
  called: Proof["called"];
  bounds: Proof["bounds"];
  cuttable: boolean;
  checked: boolean;
}

/** Paths the server sent, by key; it is told of these and does not send them again. */
const held = new Map<string, string>();
const MOST_HELD = 400;
const RETRY = 3000;
/** How long nothing has to change before the true proof is asked for. */
const PAUSE = 150;

/** Whether asking again may help: the server was away, busy or restarting. */
const passes = (problem: Problem) => problem.status === 0 || problem.status === 429 || problem.status >= 500;

/** Remembers what was sent, and of all paths those that were shown last. */
function keep(shown: { key: string; d: string }[]) {
  for (const { key, d } of shown) {
    held.delete(key);
    held.set(key, d);
  }
  for (const key of held.keys()) {
    if (held.size <= MOST_HELD) break;
    held.delete(key);
  }
}

async function prove(design: Design, care: "rough" | "checked"): Promise<ShownProof> {
  // What it is told of has to be there when it answers, whatever comes and goes meanwhile.
  const known = new Map(held);
  const proof = await data<Proof>(api.POST("/api/proof", { body: { design, have: [...known.keys()], care } }));
  for (const { key, d } of [...proof.results, ...proof.plies]) if (d != null) known.set(key, d);
  const withPath = <T extends { key: string }>(thing: T) => ({ ...thing, d: known.get(thing.key) ?? "" });
  const [results, plies] = [proof.results.map(withPath), proof.plies.map(withPath)];
  keep([...results, ...plies]);
  return { ...proof, design, results, plies };
}

/** A rough proof with what was last found of its plies, as nobody looked at them yet. */
function withLastCheck(proof: ShownProof, last: ShownProof | null): ShownProof {
  const ofPlies = last?.findings.filter((finding) => !finding.line) ?? [];
  // It is drawn by chords: where nodes will be is not known.
  const plies = proof.plies.map((ply) => ({ ...ply, nodes: last?.plies.find(({ id }) => id === ply.id)?.nodes ?? 0 }));
  return { ...proof, plies, findings: [...proof.findings, ...ofPlies], cuttable: last?.cuttable ?? false };
}

/**
 * The proof of the design as it is now. One rough proof is in flight at a time; while one is, only the newest
 * design waits for the next, so that a drag never queues up. The true one, and what is found of the plies, is
 * asked for once nothing has changed for a moment, and beside the rough ones, so that it never holds up a drag.
 */
export function useProof(design: Design) {
  const [proof, setProof] = useState<ShownProof | null>(null);
  const [problem, setProblem] = useState<Problem | null>(null);
  const [busy, setBusy] = useState(false);
  const newest = useRef(design);
  const wanted = useRef<Design | null>(null);
  const unchecked = useRef<Design | null>(null);
  const running = useRef({ rough: false, checked: false });
  const later = useRef<ReturnType<typeof setTimeout>>(undefined);
  const again = useRef<(design: Design) => void>(() => undefined);

  /** One proof after the other of whatever waits; those of a design that is not the newest are not shown. */
  const run = useCallback(async (care: "rough" | "checked", waits: RefObject<Design | null>, show: (made: ShownProof) => void) => {
    if (running.current[care]) return;
    running.current[care] = true;
    while (waits.current) {
      const next = waits.current;
      waits.current = null;
      const slow = setTimeout(() => setBusy(true), 300);
      try {
        const made = await prove(next, care);
        if (care === "rough" || next === newest.current) show(made);
        setProblem(null);
      } catch (error) {
        const said = error instanceof Problem ? error : new Problem(0, String(error));
        setProblem(said);
        // An outage passes by itself; what is wrong with the design does not.
        if (passes(said) && next === newest.current) later.current = setTimeout(() => again.current(next), RETRY);
      }
      clearTimeout(slow);
    }
    running.current[care] = false;
    if (!running.current.rough && !running.current.checked) setBusy(false);
  }, []);

  const ask = useCallback(
    (next: Design) => {
      clearTimeout(later.current);
      newest.current = wanted.current = next;
      unchecked.current = null;
      void run("rough", wanted, (drawn) => {
        // A state that was looked at before comes with what was found.
        setProof((last) => (drawn.checked ? drawn : withLastCheck(drawn, last)));
        if (drawn.checked || wanted.current) return;
        later.current = setTimeout(() => {
          unchecked.current = drawn.design;
          void run("checked", unchecked, setProof);
        }, PAUSE);
      });
    },
    [run],
  );

  useEffect(() => {
    again.current = ask;
    ask(design);
    const now = () => ask(design);
    addEventListener("online", now);
    const leave = onSignedInAgain(now);
    return () => {
      removeEventListener("online", now);
      leave();
    };
  }, [design, ask]);

  useEffect(() => () => clearTimeout(later.current), []);

  return { proof, problem, busy };
}
