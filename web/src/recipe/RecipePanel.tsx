import type { Design, Finding, Kind } from "../api/client";
import { kindOf } from "../design/kindOf";
import { useBench } from "../state/store";
import { useLineEdits } from "../state/useLineEdits";
import { Button } from "../ui/Button";
import { AddLine } from "./AddLine";
import { LineSentence } from "./LineSentence";

interface Props {
  design: Design;
  kinds: Kind[] | undefined;
  findings: Finding[];
}

/** The recipe: numbered sentences, and the place to add one. */
export function RecipePanel({ design, kinds, findings }: Props) {
  const selected = useBench((state) => state.selected);
  const { add } = useLineEdits();
  const count = design.recipe.length;

  return (
    <section aria-label="Recipe" className="flex min-h-0 w-79 shrink-0 flex-col border-r border-line bg-card">
      <div className="flex items-baseline justify-between px-3.5 pt-3.5 pb-2">
        <h2 className="font-display text-[15px] font-bold">Recipe</h2>
        <span className="text-soft">{count === 1 ? "1 line" : `${count} lines`}</span>
      </div>
      <ol className="flex min-h-0 flex-1 flex-col gap-1.5 overflow-y-auto px-3.5 pb-2">
        {design.recipe.map((line, index) => {
          const kind = kindOf(kinds, line.kind);
          return kind ? (
            <LineSentence
              key={line.id}
              design={design}
              line={line}
              index={index}
              kind={kind}
              kinds={kinds}
              findings={findings.filter((finding) => finding.line === line.id)}
              selected={line.id === selected}
            />
          ) : null;
        })}
        {count === 0 && (
          <li className="rounded-[10px] border border-line p-4">
            <p className="font-semibold">Start with words</p>
            <p className="mt-1 text-soft">
              A recipe is a list of sentences. The first letters some words; then bring in a picture, and knock it
              out of them.
            </p>
            <Button look="main" className="mt-3" onClick={() => add.mutate({ kind: "letter" })}>
              Letter some words
            </Button>
          </li>
        )}
      </ol>
      <div className="p-3.5">
        <AddLine kinds={kinds} />
      </div>
    </section>
  );
}
