import type { Box, Design, Finding } from "../api/client";
import { formatCutLength, inUnit, type Unit } from "../units";
import { Button } from "../ui/Button";
import { Pop } from "../ui/Pop";
import { MendButton } from "../fields/MendButton";
import { useBench } from "../state/store";
import type { ShownProof } from "../state/useProof";
import { heldStill } from "../state/heldStill";

const LEVELS: Record<Finding["level"], { chip: string; dot: string; word: string }> = {
  holds: { chip: "border-line bg-card", dot: "bg-leaf", word: "Holds" },
  look: { chip: "border-saffron/50 bg-saffron-soft", dot: "bg-saffron", word: "Needs a look" },
  stop: { chip: "border-brick/50 bg-brick-soft", dot: "bg-brick", word: "Stops the cut" },
};
/** Findings of more characters than this may be cut short along the foot. */
const LONG = 60;
const ORDER: Finding["level"][] = ["stop", "look", "holds"];

interface FindingProps {
  finding: Finding;
  unit: Unit;
  className: string;
  onFollow: (finding: Finding) => void;
}

function FindingButton({ finding, unit, className, onFollow }: FindingProps) {
  const { chip, dot, word } = LEVELS[finding.level];
  return (
    <button
      type="button"
      title={word}
      onClick={() => onFollow(finding)}
      className={`flex min-w-0 items-center gap-2 border px-3 font-semibold hover:border-plum ${chip} ${className}`}
    >
      <span aria-hidden className={`size-2 shrink-0 rounded-full ${dot}`} />
      <span className="sr-only">{word}: </span>
      <span className="min-w-0 overflow-hidden text-ellipsis">{inUnit(finding.text, unit)}</span>
    </button>
  );
}

/** Cut check, along the foot: what stops a cut, needs a look, holds; a click goes there. Only whole findings
 *  stand there: those that do not fit wrap to rows that are out of sight, and are among all of them. */
function Findings({ design, proof, problem }: { design: Design; proof: ShownProof | null; problem: string | null }) {
  const { select, selectPly, goTo } = useBench();
  const findings = [...(proof?.findings ?? [])].sort((a, b) => ORDER.indexOf(a.level) - ORDER.indexOf(b.level));
  const length = proof?.plies.reduce((sum, ply) => sum + ply.length, 0) ?? 0;
  const nodes = proof?.plies.reduce((sum, ply) => sum + ply.nodes, 0) ?? 0;

  function follow(finding: Finding) {
    if (finding.line) select(finding.line);
    if (finding.ply) selectPly(finding.ply);
    if (finding.place) goTo(finding.place as Box);
  }

  return (
    <footer aria-label="Cut check" className="flex h-14 shrink-0 items-center gap-2.5 border-t border-line bg-card px-4">
      <h2 className="mr-1 font-display text-[14px] font-bold whitespace-nowrap">Cut check</h2>
      {/* A key that reaches what is out of sight shows its row; left, the first one stands there again. */}
      <ul
        onBlur={(event) => event.currentTarget.scrollTo(0, 0)}
        className="relative flex h-10 min-w-0 flex-1 flex-wrap gap-x-2.5 overflow-hidden"
      >
        {problem && (
          <li role="alert" className="flex h-10 items-center text-brick">
            {problem}
          </li>
        )}
        {findings.map((finding, index) => (
          <li key={index} className="flex h-10 max-w-full shrink-0 items-center gap-1">
            <FindingButton finding={finding} unit={design.unit} className="h-8 rounded-full whitespace-nowrap" onFollow={follow} />
            {finding.mend && <MendButton mend={finding.mend} />}
          </li>
        ))}
        {proof && findings.length === 0 && <li className="flex h-10 items-center text-soft">Nothing to check yet.</li>}
      </ul>
      {(findings.length > 1 || findings.some((finding) => finding.text.length > LONG)) && (
        <Pop
          label="All findings"
          side="top"
          width={420}
          trigger={<Button>{findings.length > 1 ? `All ${findings.length}` : "In full"}</Button>}
        >
          <ul className="flex flex-col gap-1.5">
            {findings.map((finding, index) => (
              <li key={index} className="flex items-center gap-1">
                <FindingButton finding={finding} unit={design.unit} className="min-h-8 flex-1 rounded-lg py-1 text-left" onFollow={follow} />
                {finding.mend && <MendButton mend={finding.mend} />}
              </li>
            ))}
          </ul>
        </Pop>
      )}
      {nodes > 0 && (
        <p className="shrink-0 text-soft tabular-nums">
          {formatCutLength(length, design.unit)} of cutting · {nodes} nodes
        </p>
      )}
    </footer>
  );
}

export const CutCheck = heldStill(Findings);
