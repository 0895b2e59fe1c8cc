import { formatLength, parseLength } from "../../units";
import { LengthValue } from "./LengthValue";
import type { SlotProps } from "./types";

type Gap = { value: number; of: "mm" | "percent" };

/** A gap between rows: a length, or a percentage of the row's height. */
export function GapValue({ design, value, slot, onChange }: SlotProps) {
  const gap = value as Gap;
  const percent = (text: string) => /^\s*(-?[\d.]+)\s*%\s*$/.exec(text)?.[1];
  return (
    <LengthValue
      label={slot.label}
      mm={gap.value}
      unit={gap.of === "percent" ? "mm" : design.unit}
      low={slot.low ?? -200}
      high={slot.high ?? 500}
      step={slot.step ?? 0.5}
      format={(number) => (gap.of === "percent" ? `${number} %` : formatLength(number, design.unit))}
      parse={(text) => {
        const share = percent(text);
        if (share !== undefined) {
          if (gap.of === "mm") queueMicrotask(() => onChange({ value: Number(share), of: "percent" }));
          return Number(share);
        }
        const length = parseLength(text, design.unit);
        if (length !== null && gap.of === "percent") queueMicrotask(() => onChange({ value: length, of: "mm" }));
        return length;
      }}
      onChange={(number) => onChange({ ...gap, value: number })}
    />
  );
}
