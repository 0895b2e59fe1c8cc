import { Crosshair } from "lucide-react";
import { useBench } from "../../state/store";
import { Button } from "../../ui/Button";

interface Props {
  line: string;
  field: string;
  /** results that may be picked */
  from: string[];
  onStart: () => void;
}

/** Has a value wait for a click on the proof. */
export function PickOnProof({ line, field, from, onStart }: Props) {
  const pick = useBench((state) => state.pick);
  return (
    <Button
      className="mb-2 w-full"
      disabled={from.length === 0}
      onClick={() => {
        pick({ line, field, from });
        onStart();
      }}
    >
      <Crosshair size={14} /> Pick on the proof
    </Button>
  );
}

/** Whether a value waits for a click on the proof. */
export const useWaiting = (line: string, field: string) => useBench((state) => state.picking?.line === line && state.picking.field === field);
