import type { Finding, Line } from "../api/client";
import { withLine, withoutResult } from "../design/edits";
import { useBench } from "../state/store";
import { useLineEdits } from "../state/useLineEdits";
import { Button } from "../ui/Button";

/** Puts a finding right: by a line that does, by values of the line it is about, or by taking a thing off a ply. */
export function MendButton({ mend }: { mend: NonNullable<Finding["mend"]> }) {
  const { add } = useLineEdits();
  const change = useBench((state) => state.change);

  function put() {
    if (mend.kind) add.mutate({ kind: mend.kind, on: mend.on, given: mend.values });
    else if (mend.result) change((now) => withoutResult(now, mend.ply, mend.result));
    else change((now) => withLine(now, mend.on, (line) => ({ ...line, ...mend.values }) as Line));
  }

  return (
    <Button
      look="quiet"
      className="px-2 text-plum underline decoration-dotted underline-offset-4"
      disabled={add.isPending}
      onClick={put}
    >
      {mend.label}
    </Button>
  );
}
