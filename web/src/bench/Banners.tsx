import type { ReactNode } from "react";
import { useBench } from "../state/store";
import type { useAutosave } from "../state/useAutosave";
import type { useDraft } from "../state/useDraft";
import { Button } from "../ui/Button";
import { sayProblem } from "../ui/notices";

interface Props {
  save: ReturnType<typeof useAutosave>;
  draft: ReturnType<typeof useDraft>;
}

function Banner({ children }: { children: ReactNode }) {
  return (
    <div role="alert" className="flex items-center gap-3 border-b border-saffron bg-saffron-soft px-4 py-2">
      {children}
    </div>
  );
}

/** What has to be settled about where the work is kept, below the header. */
export function Banners({ save, draft: { left, settle } }: Props) {
  const change = useBench((state) => state.change);
  return (
    <>
      {save.conflict && (
        <Banner>
          <p className="flex-1">
            This design was changed in another window meanwhile. Both versions are kept; which one do you go on with?
          </p>
          <Button onClick={() => save.settle(true, () => undefined)}>This one</Button>
          <Button onClick={() => save.settle(false, (other) => change(() => other))}>The other one</Button>
        </Banner>
      )}
      {save.state === "removed" && (
        <Banner>
          <p className="flex-1">This design was removed from the shelf in another window. Your work on it is still here.</p>
          <Button onClick={() => void save.putBack().catch(sayProblem)}>Put it back</Button>
        </Banner>
      )}
      {left && (
        <Banner>
          <p className="flex-1">
            Work of {new Date(left.at).toLocaleString(undefined, { dateStyle: "medium", timeStyle: "short" })} was not saved
            and is still here.
          </p>
          <Button
            onClick={() => {
              change(() => left.design);
              settle();
            }}
          >
            Take it up
          </Button>
          <Button onClick={settle}>Leave it</Button>
        </Banner>
      )}
      {save.problem && (
        <p role="alert" className="border-b border-brick bg-brick-soft px-4 py-2">
          Not saved yet. {save.problem}
        </p>
      )}
    </>
  );
}
