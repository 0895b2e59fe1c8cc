import { useQuery } from "@tanstack/react-query";
import { api, data, type Design, type Edited, type Kind, type Proof } from "../api/client";
import type { ShownProof } from "../state/useProof";
import { chosenResults } from "../state/chosen";
import { useBench } from "../state/store";

/** What a line that is only pointed at would make of the design. */
interface Ahead {
  design: Design;
  proof: Proof;
}

async function proven(design: Design, { id, given }: NonNullable<ReturnType<typeof useBench.getState>["tried"]>): Promise<Ahead> {
  const edited = await data<Edited>(api.POST("/api/lines/add", { body: { design, kind: id, chosen: chosenResults(), given } }));
  const proof = await data<Proof>(api.POST("/api/proof", { body: { design: edited.design, have: [], care: "drawn" } }));
  return { design: edited.design, proof };
}

/** The line pointed at in the list of kinds, carried out on the side; nothing where it cannot be. */
export function useAhead(design: Design): Ahead | undefined {
  const tried = useBench((state) => state.tried);
  return useQuery({
    queryKey: ["ahead", design, tried],
    queryFn: () => (tried ? proven(design, tried) : Promise.reject(new Error("nothing is pointed at"))),
    enabled: tried !== null,
    staleTime: Infinity,
    gcTime: 20_000,
    retry: false,
  }).data;
}

/** Keys of the plies as they are; whether one was mended for cutting does not make it another. */
const keysOf = ({ plies }: ShownProof) => new Map(plies.map((ply) => [ply.id, ply.key.replace(/\.mended$/, "")]));

/** The plies as they would be: those that change in full colour and outlined, the others faint. */
export function AheadPlies({ ahead, proof }: { ahead: Ahead; proof: ShownProof }) {
  const now = keysOf(proof);
  // Each outline is sent once, with the first thing that has it.
  const paths = new Map([...ahead.proof.results, ...ahead.proof.plies].flatMap(({ key, d }) => (d == null ? [] : [[key, d]])));
  return (
    <g className="pointer-events-none">
      {ahead.proof.plies.map((ply) => {
        const colour = ahead.design.materials.find((one) => one.id === ahead.design.plies.find(({ id }) => id === ply.id)?.material)?.colour;
        const same = now.get(ply.id) === ply.key;
        return <path key={ply.id} d={paths.get(ply.key) ?? ""} fill={colour} fillOpacity={same ? 0.25 : 1} fillRule="evenodd" className={same ? "" : "stroke-plum"} strokeWidth={1.5} vectorEffect="non-scaling-stroke" />;
      })}
    </g>
  );
}

/** What that would be, in words. */
export function aheadInWords(kinds: Kind[] | undefined, kind: string, ahead: Ahead, proof: ShownProof): string {
  const name = kinds?.find((one) => one.id === kind)?.name ?? "It";
  const now = keysOf(proof);
  const changed = ahead.proof.plies
    // A new ply that has nothing yet, as of a picture still to be chosen, is no change.
    .filter((ply) => now.get(ply.id) !== ply.key && (ply.pieces > 0 || now.has(ply.id)))
    .map((ply) => {
      return `${ply.pieces} ${ply.pieces === 1 ? "piece" : "pieces"} on ${ply.name}`;
    });
  // What had pieces and would have none: the two things are rather the other way round.
  const emptied = ahead.proof.plies.filter((ply) => ply.pieces === 0 && (proof.plies.find(({ id }) => id === ply.id)?.pieces ?? 0) > 0);
  if (emptied.length > 0) {
    const names = emptied.map((ply) => ply.name).join(" and ");
    const swap = kinds?.find((one) => one.id === kind)?.swaps ? " Once it is added, “Swap the two” does it the other way round." : "";
    return `${name} would leave nothing of ${names}.${swap}`;
  }
  const gone = proof.plies.filter((ply) => !ahead.design.plies.some(({ id }) => id === ply.id)).length;
  if (changed.length === 0 && gone === 0) return `${name} would change no ply yet.`;
  return `${name} would leave ${changed.join(", ") || "no ply"}.`;
}
