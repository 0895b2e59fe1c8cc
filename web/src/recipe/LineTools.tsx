import type { Design, Line } from "../api/client";
import { ClearanceChoices } from "./ClearanceChoices";
import { LetterTools } from "./LetterTools";

/** What a chosen line offers below its sentence, by its kind; most need nothing but that. */
export function LineTools({ design, line }: { design: Design; line: Line }) {
  switch (line.kind) {
    case "letter":
      return <LetterTools design={design} line={line} />;
    case "knock_out":
      return <ClearanceChoices line={line} />;
    default:
      return null;
  }
}
