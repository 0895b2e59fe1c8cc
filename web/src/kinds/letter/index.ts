import { tidied } from "../../units";
import { bySize, show } from "../../design/face";
import { LetterTools } from "./LetterTools";

/** Rows of words: gaps keep their measure, so letters do not grow quite in proportion. */
show("letter", {
  name: (line) => line.rows.map((row) => row.text).filter(Boolean).join(" ") || "words",
  extent: (line) => bySize(line.size, line.rows[0]?.stretch ?? 100, line.fit === "wide"),
  stretched: (line, sx, sy, rounded) => {
    const side = (fit: "wide" | "tall") => (fit === "wide" ? sx : sy);
    const rows = line.rows.map((row) => ({
      ...row,
      size: row.size == null ? null : rounded(row.size * side(row.fit ?? line.fit), 1),
      stretch: rounded((row.stretch * sx) / sy, 20),
      own: row.own.map((own) => ({ ...own, x: tidied(own.x * sx), y: tidied(own.y * sy) })),
    }));
    return { ...line, size: rounded(line.size * side(line.fit), 1), rows };
  },
  grows: (line) => ({ x: line.fit === "wide" && line.rows.every((row) => (row.fit ?? "wide") === "wide"), y: false }),
  Tools: LetterTools,
});
