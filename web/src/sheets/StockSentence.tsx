import type { Design, SheetLaid } from "../api/client";
import { withMaterial } from "../design/edits";
import { RangedValue } from "../fields/RangedValue";
import { gesture } from "../state/store";
import { formatSize, lengthIn } from "../units";

/** How large the sheets or pieces of roll are that a ply is cut from. */
export function StockSentence({ design, sheet, onMat }: { design: Design; sheet: SheetLaid; onMat: boolean }) {
  const material = design.materials.find((one) => one.id === design.plies.find((ply) => ply.id === sheet.ply)?.material);
  if (!material) return null;
  const set = (part: { width?: number; length?: number }) =>
    gesture.change((now) => withMaterial(now, material.id, (one) => ({ ...one, ...part })));
  const length = lengthIn(design.unit);
  return (
    <p className="border-t border-line pt-3 leading-[1.9]">
      {material.name} is <RangedValue of="Material.width" label={`Width of ${material.name}`} value={material.width} as={length} onChange={(width) => set({ width })} />{" "}
      wide and up to <RangedValue of="Material.length" label={`Length of ${material.name}`} value={material.length} as={length} onChange={(long) => set({ length: long })} />{" "}
      long.{onMat && ` Pieces of ${formatSize(sheet.width, sheet.length, design.unit)} lie on the mat, in the corner of what can be cut on.`}
    </p>
  );
}
