import type { Line } from "../api/client";
import { show } from "../design/face";
import { withValue } from "../design/edits";
import { gesture } from "../state/store";

const FITS = [
  { name: "Butt fit", clearance: 0, is: (c: number) => c === 0 },
  { name: "Clear line", clearance: 1.5, is: (c: number) => c > 0 },
  { name: "Overlap", clearance: -0.5, is: (c: number) => c < 0 },
];

/** The three ways two plies meet, as one click each. */
function ClearanceChoices({ line }: { line: Extract<Line, { kind: "knock_out" }> }) {
  return (
    <div className="mt-1 flex gap-2">
      {FITS.map((fit) => (
        <button
          key={fit.name}
          type="button"
          aria-pressed={fit.is(line.clearance)}
          onClick={() => {
            if (!fit.is(line.clearance)) gesture.change((now) => withValue(now, line.id, "clearance", fit.clearance));
          }}
          className="h-7 rounded-lg border border-line bg-card px-2 text-[12px] whitespace-nowrap leading-none font-semibold hover:border-plum aria-pressed:border-plum aria-pressed:text-plum"
        >
          {fit.name}
        </button>
      ))}
    </div>
  );
}

show("knock_out", { Tools: ClearanceChoices });
