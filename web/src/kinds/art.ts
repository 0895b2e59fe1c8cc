import { bySize, show } from "../design/face";

show("art", {
  name: (line, design) => design.pictures.find((picture) => picture.id === line.picture)?.name ?? "picture",
  named: true,
  extent: (line) => bySize(line.size, line.stretch, line.by === "wide"),
  stretched: (line, sx, sy, rounded) => ({
    ...line,
    size: rounded(line.size * (line.by === "wide" ? sx : sy), 0.5),
    stretch: rounded((line.stretch * sx) / sy, 5),
  }),
});
