import { RotateCcw } from "lucide-react";
import type { Design, Lettering, OwnLetter } from "../../api/client";
import { useLetterForms } from "../../api/queries";
import { withLettering, ownLetter, withLettersFrom, type PickedLetter } from "../../design/lettering";
import { gesture, useBench } from "../../state/store";
import { DEGREES, lengthIn, PERCENT } from "../../units";
import { Button } from "../../ui/Button";
import { Drawn } from "../../ui/Drawn";
import { Toggle } from "../../ui/Toggle";
import { RangedValue } from "../../fields/RangedValue";

/** Letters set by hand: the picked one's figures and forms, and the way back to automatic. */
export function ByHand({ design, line }: { design: Design; line: Lettering }) {
  const { letter, pickLetter } = useBench();
  const all = line.rows.flatMap((row, index) => row.own.map((own) => ({ row: index, at: own.at })));
  if (letter && line.rows[letter.row]) return <Picked design={design} line={line} letter={letter} />;
  if (all.length === 0) return null;

  function reset() {
    gesture.change((now) =>
      withLettering(now, line.id, (one) => ({ ...one, rows: one.rows.map((row) => ({ ...row, own: [] })) })),
    );
  }

  return (
    <p className="mt-1 flex flex-wrap items-center gap-1 text-soft">
      By hand:
      {all.map((one) => (
        <button
          key={`${one.row} ${one.at}`}
          type="button"
          aria-label={`Set ${character(line, one)} of row ${one.row + 1} by hand`}
          onClick={() => pickLetter(one)}
          className="rounded border border-line bg-card px-1.5 font-semibold text-plum hover:border-plum"
        >
          {character(line, one)}
        </button>
      ))}
      <Button look="quiet" className="h-6! px-1.5! font-normal" onClick={reset}>
        <RotateCcw size={12} /> All back to automatic
      </Button>
    </p>
  );
}

const character = (line: Lettering, letter: PickedLetter) => Array.from(line.rows[letter.row]?.text ?? "")[letter.at] ?? "?";

function Picked({ design, line, letter }: { design: Design; line: Lettering; letter: PickedLetter }) {
  const own = ownLetter(line, letter);
  const { along, takeAlong } = useBench();
  const forms = useLetterForms(design, line, letter);
  const set = (part: Partial<OwnLetter>) =>
    gesture.change((now) => withLettering(now, line.id, (one) => withLettersFrom(one, letter, part, along)));
  const changed = line.rows[letter.row]?.own.some((one) => one.at === letter.at) ?? false;
  const figure = (label: string, key: "x" | "y", says: string) => (
    <span>
      {says} <RangedValue of="OwnLetter.x" label={label} value={own[key]} as={lengthIn(design.unit)} onChange={(mm) => set({ [key]: mm })} />
    </span>
  );

  return (
    <section aria-label="Letter by hand" className="mt-1.5 -mr-5 rounded-lg border border-plum/25 bg-card px-2.5 py-1.5">
      <p className="flex items-center justify-between">
        <span>
          <span className="font-semibold">“{character(line, letter)}”</span> of row {letter.row + 1}, by hand
        </span>
      </p>
      <div className="grid grid-cols-2 gap-x-3">
        {figure("Letter right by", "x", "right")}
        {figure("Letter down by", "y", "down")}
        <span>
          wide{" "}
          <RangedValue of="OwnLetter.wide" label="Letter's width" value={own.wide} as={PERCENT} onChange={(wide) => set({ wide })} />
        </span>
        <span>
          tall{" "}
          <RangedValue of="OwnLetter.tall" label="Letter's height" value={own.tall} as={PERCENT} onChange={(tall) => set({ tall })} />
        </span>
        <span>
          turned{" "}
          <RangedValue of="OwnLetter.turn" label="Letter turned" value={own.turn} as={DEGREES} onChange={(turn) => set({ turn })} />
        </span>
      </div>
      <Toggle label="Those after it go along" on={along} onChange={takeAlong} />
      {(forms.data?.length ?? 0) > 1 && (
        <div className="mt-1 flex flex-wrap gap-1" role="group" aria-label="Forms of this letter">
          {forms.data?.map((form) => (
            <button
              key={form.code ?? ""}
              type="button"
              aria-pressed={(own.form ?? null) === form.code}
              aria-label={form.name}
              title={form.name}
              onClick={() => set({ form: form.code })}
              className="size-9 rounded-md border border-line p-1 hover:border-plum aria-pressed:border-plum aria-pressed:bg-plum-soft"
            >
              <Drawn d={form.d} box={form.box} className="size-full" />
            </button>
          ))}
        </div>
      )}
      <Button
        look="quiet"
        className="mt-0.5 -ml-1.5 h-7! px-1.5!"
        disabled={!changed}
        onClick={() => set({ x: 0, y: 0, turn: 0, wide: 100, tall: 100, form: null })}
      >
        <RotateCcw size={13} /> Back to automatic
      </Button>
    </section>
  );
}
