import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Design } from "../api/client";
import { useHabits } from "../api/habits";
import { NumberValue } from "../fields/NumberValue";
import { askFor } from "../state/ask";
import { useBench } from "../state/store";
import { Button } from "../ui/Button";
import { Pick } from "../ui/Pick";
import { Pop } from "../ui/Pop";
import { formatSize, lengthIn } from "../units";

interface Props {
  design: Design;
  /** of everything that is cut, in mm */
  width: number;
  height: number;
}

const MEASURES = { kept: "stay as they are", scaled: "grow along" } as const;

/** The finished size: typed, the whole design follows in proportion; and the unit it is shown in. */
export function SizePanel({ design, width, height }: Props) {
  const [measures, setMeasures] = useState<keyof typeof MEASURES>("kept");
  const change = useBench((state) => state.change);
  const { setUnit } = useHabits();
  const other = design.unit === "mm" ? "in" : "mm";
  const scale = useMutation({
    mutationFn: ({ side, size }: { side: "width" | "height"; size: number }) =>
      askFor((now) => api.POST("/api/scale", { body: { design: now, side, size, measures } })),
  });

  function switchUnit() {
    setUnit(other);
    change((now) => ({ ...now, unit: other }));
  }

  const size = formatSize(width, height, design.unit);
  return (
    <Pop
      label="Finished size"
      onOpenChange={() => scale.reset()}
      trigger={
        <button type="button" aria-label={`Finished size ${size}`} className="rounded underline decoration-dotted underline-offset-4 hover:text-plum">
          {size}
        </button>
      }
    >
      <p className="leading-[1.8]">
        The whole design{" "}
        {(["width", "height"] as const).map((side, index) => (
          <span key={side} className="whitespace-nowrap">
            {index === 1 && " by "}
            <NumberValue
              label={side === "width" ? "Finished width" : "Finished height"}
              value={Math.round((side === "width" ? width : height) * 100) / 100}
              as={lengthIn(design.unit)}
              low={1}
              high={20000}
              step={1}
              onChange={(to) => scale.mutate({ side, size: to })}
            />
          </span>
        ))}
        ; clear lines, gaps and smallest sizes <Pick label="Clear lines, gaps and smallest sizes" value={measures} choices={MEASURES} onChange={(value) => setMeasures(value === "scaled" ? "scaled" : "kept")} />.
      </p>
      <p className="mt-1 text-soft">{scale.isPending ? "Working it out…" : "All else follows in proportion, in one step."}</p>
      {scale.isError && (
        <p role="alert" className="mt-2 text-brick">
          {scale.error.message}
        </p>
      )}
      <Button className="mt-3 w-full" onClick={switchUnit}>
        Show in {other === "in" ? "inches" : "millimetres"}
      </Button>
    </Pop>
  );
}
