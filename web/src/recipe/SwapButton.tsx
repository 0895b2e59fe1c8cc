import { ArrowLeftRight } from "lucide-react";
import { api, type Line } from "../api/client";
import { askFor } from "../state/ask";
import { sayProblem } from "../ui/notices";
import { Button } from "../ui/Button";

/** Has two values of a line change places: what was knocked out of something now has that knocked out of it. */
export function SwapButton({ line, values: [one, other] }: { line: Line; values: [string, string] }) {
  const swap = () =>
    void askFor((design) => {
      const now = design.recipe.find(({ id }) => id === line.id) as unknown as Record<string, string | string[]>;
      const values = { [one]: now[other] ?? [], [other]: now[one] ?? [] };
      return api.POST("/api/lines/change", { body: { design, line: line.id, values } });
    }).catch(sayProblem);
  return (
    <Button look="quiet" className="mt-1 -ml-2 h-7 px-2" onClick={swap}>
      <ArrowLeftRight size={13} /> Swap the two
    </Button>
  );
}
