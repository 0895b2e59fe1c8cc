import type { Finding, Line } from "../api/client";
import { withLine } from "../design/edits";
import { useBench } from "../state/store";
import { useLineEdits } from "../state/useLineEdits";
import { Button } from "../ui/Button";

/** Puts a finding right: by adding the line that does, or by values of the line it is about. */
export function MendButton({ mend }: { mend: NonNullable<Finding["mend"]> }) {
  const { add } = useLineEdits();
  const change = useBench((state) => state.change);
  return (
    <Button
      look="quiet"
      className="px-2 text-plum underline decoration-dotted underline-offset-4"
      disabled={add.isPending}
      onClick={() =>
        mend.kind
          ? add.mutate({ kind: mend.kind, on: mend.on, given: mend.values })
          : change((now) => withLine(now, mend.on, (line) => ({ ...line, ...mend.values }) as Line))
      }
    >
      {mend.label}
    </Button>
  );
}
