import { Lock } from "lucide-react";
import { Fragment, useEffect, useRef } from "react";
import type { Design, Finding, Kind, Line, Slot } from "../api/client";
import { faceOf } from "../design/face";
import { lineOf } from "../design/refs";
import { madeOf } from "../design/sources";
import { MendButton } from "../fields/MendButton";
import { heldStill } from "../state/heldStill";
import { useBench } from "../state/store";
import { onceReleased, press } from "../ui/focus";
import { inUnit } from "../units";
import { LineMenu } from "./LineMenu";
import { sentenceOf } from "./sentence";
import { SlotValue } from "./SlotValue";
import { SwapButton } from "./SwapButton";

const TONES: Record<Finding["level"], string> = {
  holds: "text-[#615866]",
  look: "text-[#7a5200]",
  stop: "text-brick",
};

interface Props {
  design: Design;
  line: Line;
  index: number;
  kind: Kind;
  kinds: Kind[] | undefined;
  findings: Finding[];
  selected: boolean;
}

/** What follows a value without a space stays on its row; short values are not broken either. */
const COMMA = /^[,.]/;
const WHOLE: Slot["slot"][] = ["length", "angle", "number", "percent", "choice"];

/** Whether a sentence makes or names one of some results. */
const isAbout = (line: Line, refs: string[], kinds: Kind[] | undefined) =>
  refs.some((ref) => lineOf(ref) === line.id || madeOf(line, kinds).includes(ref));

/** One line of the recipe, read as a sentence with its values in it. */
function Sentence({ design, line, index, kind, kinds, findings, selected }: Props) {
  const { select, selectAlso, others } = useBench();
  const { Tools } = faceOf(line);
  const also = others.includes(line.id);
  const tokens = sentenceOf(kind, line);
  const slots = new Map(kind.slots.map((slot) => [slot.field, slot]));
  const sentence = useRef<HTMLLIElement>(null);
  const lit = useBench((state) => state.lit?.by === "proof" && !state.picking && isAbout(line, state.lit.refs, kinds));

  // What was just added, or is taken up on the proof, may lie below the window's edge; so may what is found of it.
  const found = findings.length;
  useEffect(() => {
    if (selected) sentence.current?.scrollIntoView({ block: "nearest" });
  }, [selected, found]);

  return (
    <li
      ref={sentence}
      aria-current={selected}
      onClick={(event) => {
        if (event.shiftKey) selectAlso(line.id);
        else if (!selected) select(line.id);
      }}
      onPointerDownCapture={press}
      onFocus={() => {
        if (!selected && !also) onceReleased(() => select(line.id));
      }}
      className={`group relative select-none rounded-[10px] border py-2.5 pr-8 pl-8 leading-[1.8] ${
        selected || also ? "border-plum/25 bg-plum-soft" : lit ? "border-plum/25 bg-paper" : "border-transparent hover:bg-paper"
      }`}
    >
      {selected && <span aria-hidden className="absolute inset-y-2 left-0 w-[3px] rounded-full bg-plum" />}
      <span className="absolute top-3 left-3.5 text-[11px] leading-[1.6] text-soft tabular-nums">{index + 1}</span>
      <p className={line.off ? "text-soft line-through" : ""}>
        {tokens.map((token, i) => {
          if (i % 2 === 0) return <Fragment key={i}>{token.replace(i > 0 ? COMMA : "", "")}</Fragment>;
          const slot = slots.get(token);
          return slot ? (
            <span key={i} className={WHOLE.includes(slot.slot) ? "whitespace-nowrap" : ""}>
              <SlotValue design={design} line={line} slot={slot} kinds={kinds} />
              {COMMA.exec(tokens[i + 1] ?? "")?.[0]}
            </span>
          ) : null;
        })}
      </p>
      {line.off && <p className="text-soft">Switched off</p>}
      {line.locked && (
        <p className="flex items-center gap-1 text-soft">
          <Lock size={12} /> Locked in place
        </p>
      )}
      {selected && Tools && <Tools design={design} line={line} />}
      {selected && kind.swaps && <SwapButton line={line} values={kind.swaps} />}
      {findings.map((finding) => (
        <p key={finding.text} className={TONES[finding.level]}>
          {inUnit(finding.text, design.unit)}
          {finding.mend && selected && <MendButton mend={finding.mend} />}
        </p>
      ))}
      <LineMenu design={design} line={line} index={index} />
    </li>
  );
}

export const LineSentence = heldStill(Sentence);
