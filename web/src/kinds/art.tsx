import { Ruler } from "lucide-react";
import type { Design, Line } from "../api/client";
import { usePicture } from "../api/queries";
import { bySize, show } from "../design/face";
import { withLine } from "../design/edits";
import { gesture } from "../state/store";
import { Button } from "../ui/Button";
import { formatSize, tidied } from "../units";

type Art = Extract<Line, { kind: "art" }>;

/** A picture comes at a useful size; its file's own is a click away. */
function TrueSize({ design, line }: { design: Design; line: Art }) {
  const picture = usePicture(line.picture).data;
  if (!picture) return null;
  const size = tidied(line.by === "wide" ? picture.width : picture.height, 2);
  if (Math.abs(size - line.size) < 0.01 && line.stretch === 100) return null;
  return (
    <Button look="quiet" className="mt-1 -ml-2 h-7 px-2" onClick={() => gesture.change((now) => withLine(now, line.id, (one) => ({ ...one, size, stretch: 100 }) as Line))}>
      <Ruler size={13} /> True size, {formatSize(picture.width, picture.height, design.unit)}
    </Button>
  );
}


show("art", {
  name: (line, design) => design.pictures.find((picture) => picture.id === line.picture)?.name ?? "picture",
  Tools: TrueSize,
  extent: (line) => bySize(line.size, line.stretch, line.by === "wide"),
  stretched: (line, sx, sy, rounded) => ({
    ...line,
    size: rounded(line.size * (line.by === "wide" ? sx : sy), 0.5),
    stretch: rounded((line.stretch * sx) / sy, 5),
  }),
});
