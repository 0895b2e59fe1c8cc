import { useCallback, useEffect, useRef, useState } from "react";
import { api, data, type Design, Problem, type Proof } from "../api/client";
import { onSignedInAgain } from "../api/door";

/** A proof with every path in hand, and the design it is of. */
export interface ShownProof {
  design: Design;
  results: (Proof["results"][number] & { d: string })[];
  plies: (Proof["plies"][number] & { d: string })[];
  findings: Proof["findings"];
  shapings: Proof["shapings"];
  bounds: Proof["bounds"];
  cuttable: boolean;
  checked: boolean;
}

/** Paths the server sent, by key; it is told of these and does not send them again. */
const held = new Map<string, string>();
const MOST_HELD = 400;
const RETRY = 3000;

/** Whether asking again may help: the server was away, busy or restarting. */
const passes = (problem: Problem) => problem.status === 0 || problem.status === 429 || problem.status >= 500;

function keep(proof: Proof) {
  for (const thing of [...proof.results, ...proof.plies]) {
    const d = thing.d ?? held.get(thing.key);
    held.delete(thing.key);
    if (d !== undefined) held.set(thing.key, d);
  }
  for (const key of held.keys()) {
    if (held.size <= MOST_HELD) break;
    held.delete(key);
  }
}

async function prove(design: Design, care: "rough" | "checked"): Promise<ShownProof> {
  const have = [...held.keys()];
  const proof = await data<Proof>(api.POST("/api/proof", { body: { design, have, care } }));
  keep(proof);
  const withPath = <T extends { key: string }>(thing: T) => ({ ...thing, d: held.get(thing.key) ?? "" });
  return { ...proof, design, results: proof.results.map(withPath), plies: proof.plies.map(withPath) };
}

/** A rough proof with what was last found of its plies, as nobody looked at them yet. */
function withLastCheck(proof: ShownProof, last: ShownProof | null): ShownProof {
  const ofPlies = last?.findings.filter((finding) => !finding.line) ?? [];
  // It is drawn by chords: where nodes will be is not known.
  const plies = proof.plies.map((ply) => ({ ...ply, nodes: last?.plies.find(({ id }) => id === ply.id)?.nodes ?? 0 }));
  return { ...proof, plies, findings: [...proof.findings, ...ofPlies], cuttable: last?.cuttable ?? false };
}

/**
 * The proof of the design as it is now. One request is in flight at a time; while one is, only the
 * newest design waits for the next, so that a drag never queues up. What can be drawn quickly comes first;
 * curves, and what is found of the plies, once nothing newer waits.
 */
export function useProof(design: Design) {
  const [proof, setProof] = useState<ShownProof | null>(null);
  const [problem, setProblem] = useState<Problem | null>(null);
  const [busy, setBusy] = useState(false);
  const wanted = useRef<Design | null>(null);
  const running = useRef(false);
  const retry = useRef<ReturnType<typeof setTimeout>>(undefined);
  const again = useRef<(design: Design) => void>(() => undefined);

  const ask = useCallback((next: Design) => {
    clearTimeout(retry.current);
    wanted.current = next;
    if (running.current) return;
    running.current = true;
    void (async () => {
      while (wanted.current) {
        const next = wanted.current;
        wanted.current = null;
        const slow = setTimeout(() => setBusy(true), 300);
        try {
          const drawn = await prove(next, "rough");
          // A state that was looked at before comes with what was found.
          setProof((last) => (drawn.checked ? drawn : withLastCheck(drawn, last)));
          setProblem(null);
          if (!drawn.checked && !wanted.current) setProof(await prove(next, "checked"));
        } catch (error) {
          const said = error instanceof Problem ? error : new Problem(0, String(error));
          setProblem(said);
          // An outage passes by itself; what is wrong with the design does not.
          if (passes(said) && !wanted.current) retry.current = setTimeout(() => again.current(next), RETRY);
        }
        clearTimeout(slow);
        setBusy(false);
      }
      running.current = false;
    })();
  }, []);

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

  useEffect(() => () => clearTimeout(retry.current), []);

  return { proof, problem, busy };
}
