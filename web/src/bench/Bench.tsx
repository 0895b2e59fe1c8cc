import { useMemo } from "react";
import type { Design } from "../api/client";
import { useKinds } from "../api/queries";
import { withPlyNames } from "../design/edits";
import { ProofView } from "../proof/ProofView";
import { RecipePanel } from "../recipe/RecipePanel";
import { Banners } from "./Banners";
import { CutCheck } from "./CutCheck";
import { Header } from "./Header";
import type { Room } from "./Rooms";
import { PliesPanel } from "./PliesPanel";
import { useBench } from "../state/store";
import { CutRoom } from "../cut/CutRoom";
import { PressRoom } from "../press/PressRoom";
import { SheetsRoom } from "../sheets/SheetsRoom";
import { Shown } from "../state/shown";
import { useAutosave } from "../state/useAutosave";
import { useDraft } from "../state/useDraft";
import { useKeys } from "./useKeys";
import { useProof } from "../state/useProof";

interface Props {
  user: string;
  id: string;
  revision: number;
  opened: Design;
  room: Room;
}

/** The bench: recipe left, proof middle, plies right, Cut check along the foot. */
export function Bench({ user, id, revision, opened, room }: Props) {
  const design = useBench((state) => state.design);
  const kinds = useKinds();
  const { proof, problem, busy } = useProof(design);
  const named = useMemo(() => withPlyNames(design, proof?.plies ?? []), [design, proof]);
  const save = useAutosave(id, revision, opened, design);
  const draft = useDraft({ user, id, saved: save.stored.design, base: save.stored.base, design });
  useKeys(room === "bench");

  return (
    <div className="flex h-screen flex-col">
      <Header id={id} room={room} design={named} proof={proof} proofIsOld={problem !== null} saveState={save.state} saveNow={save.saveNow} />
      <Banners save={save} draft={draft} />
      <Shown value={proof}>
        {room === "sheets" && <SheetsRoom design={named} />}
        {room === "cut" && <CutRoom id={id} design={named} saveNow={save.saveNow} />}
        {room === "press" && <PressRoom design={named} proof={proof} />}
        {room === "bench" && (
          <>
            <main className="flex min-h-0 flex-1">
              <h1 className="sr-only">{design.name}</h1>
              <RecipePanel design={design} kinds={kinds} findings={proof?.findings ?? []} />
              <ProofView design={design} proof={proof} kinds={kinds} busy={busy} />
              <PliesPanel design={named} proof={proof} kinds={kinds} />
            </main>
            <CutCheck design={design} proof={proof} problem={problem?.message ?? null} />
          </>
        )}
      </Shown>
    </div>
  );
}
