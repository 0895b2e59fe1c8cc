import type { Design } from "../api/client";
import { useKinds } from "../api/queries";
import { ProofView } from "../proof/ProofView";
import { RecipePanel } from "../recipe/RecipePanel";
import { Button } from "../ui/Button";
import { CutCheck } from "./CutCheck";
import { Header } from "./Header";
import { PliesPanel } from "./PliesPanel";
import { useBench } from "../state/store";
import { useAutosave } from "../state/useAutosave";
import { useKeys } from "./useKeys";
import { useProof } from "../state/useProof";

interface Props {
  id: string;
  revision: number;
  opened: Design;
}

/** The bench: recipe left, proof middle, plies right, Cut check along the foot. */
export function Bench({ id, revision, opened }: Props) {
  const design = useBench((state) => state.design);
  const kinds = useKinds();
  const { proof, problem, busy } = useProof(design);
  const save = useAutosave(id, revision, opened, design);
  useKeys();

  return (
    <div className="flex h-screen flex-col">
      <Header id={id} design={design} proof={proof} saveState={save.state} saveNow={save.saveNow} />
      {save.conflict && (
        <div role="alert" className="flex items-center gap-3 border-b border-saffron bg-saffron-soft px-4 py-2">
          <p className="flex-1">
            This design was changed in another window meanwhile. Both versions are kept; which one do you go on with?
          </p>
          <Button onClick={() => save.settle(true, () => undefined)}>This one</Button>
          <Button onClick={() => save.settle(false, (other) => useBench.getState().change(() => other))}>
            The other one
          </Button>
        </div>
      )}
      {save.problem && (
        <p role="alert" className="border-b border-brick bg-brick-soft px-4 py-2">
          Not saved yet. {save.problem}
        </p>
      )}
      <main className="flex min-h-0 flex-1">
        <h1 className="sr-only">{design.name}</h1>
        <RecipePanel design={design} kinds={kinds} findings={proof?.findings ?? []} />
        <ProofView design={design} proof={proof} kinds={kinds} busy={busy} />
        <PliesPanel design={design} proof={proof} kinds={kinds} />
      </main>
      <CutCheck design={design} proof={proof} problem={problem?.message ?? null} />
    </div>
  );
}
