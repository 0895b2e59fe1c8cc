import { Ellipsis, Lock } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { Fragment } from "react";
import { knownKinds } from "../api/cache";
import type { Design, Finding, Kind, Line, Slot } from "../api/client";
import { withCopy } from "../design/copies";
import { moved, withLine, withValue } from "../design/edits";
import { isPlaced } from "../design/placing";
import { gesture, useBench } from "../state/store";
import { useLineEdits } from "../state/useLineEdits";
import { inUnit } from "../units";
import { LetterTools } from "./LetterTools";
import { sentenceOf } from "./sentence";
import { SlotValue } from "./SlotValue";

const TONES: Record<Finding["level"], string> = {
  holds: "text-soft",
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
const WHOLE: Slot["slot"][] = ["length", "choice"];

/** One line of the recipe, read as a sentence with its values in it. */
export function LineSentence({ design, line, index, kind, kinds, findings, selected }: Props) {
  const { select, selectAlso, others } = useBench();
  const also = others.includes(line.id);
  const tokens = sentenceOf(kind, line);
  const slots = new Map(kind.slots.map((slot) => [slot.field, slot]));

  return (
    <li
      aria-current={selected}
      onClick={(event) => {
        if (event.shiftKey) selectAlso(line.id);
        else if (!selected) select(line.id);
      }}
      onFocus={() => {
        if (!selected && !also) select(line.id);
      }}
      className={`group relative select-none rounded-[10px] border py-2.5 pr-8 pl-8 leading-[1.8] ${
        selected || also ? "border-plum/25 bg-plum-soft" : "border-transparent hover:bg-paper"
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
      {selected && line.kind === "knock_out" && <ClearanceChoices line={line} />}
      {selected && line.kind === "letter" && <LetterTools design={design} line={line} />}
      {findings.map((finding) => (
        <p key={finding.text} className={TONES[finding.level]}>
          {inUnit(finding.text, design.unit)}
        </p>
      ))}
      <LineMenu design={design} line={line} index={index} />
    </li>
  );
}

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
          className="h-7 rounded-lg border border-line bg-card px-2.5 text-[12px] leading-none font-semibold hover:border-plum aria-pressed:border-plum aria-pressed:text-plum"
        >
          {fit.name}
        </button>
      ))}
    </div>
  );
}

function LineMenu({ design, line, index }: { design: Design; line: Line; index: number }) {
  const change = useBench((state) => state.change);
  const select = useBench((state) => state.select);
  const { remove } = useLineEdits();
  const last = design.recipe.length - 1;

  function duplicate() {
    const [next, copy] = withCopy(design, line.id, knownKinds());
    change(() => next);
    select(copy);
  }

  const items: { label: string; run: () => void; disabled?: boolean }[] = [
    { label: "Move up", run: () => change((d) => ({ ...d, recipe: moved(d.recipe, index, index - 1) })), disabled: index === 0 },
    { label: "Move down", run: () => change((d) => ({ ...d, recipe: moved(d.recipe, index, index + 1) })), disabled: index === last },
    { label: line.off ? "Switch on" : "Switch off", run: () => change((d) => withLine(d, line.id, (one) => ({ ...one, off: !one.off }))) },
    ...(isPlaced(line)
      ? [{ label: line.locked ? "Unlock" : "Lock in place", run: () => change((d) => withLine(d, line.id, (one) => ({ ...one, locked: !one.locked }))) }]
      : []),
    { label: "Copy line", run: duplicate },
    { label: "Remove line", run: () => remove.mutate(line.id) },
  ];

  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>
        <button
          type="button"
          aria-label={`More for line ${index + 1}`}
          className="absolute top-2 right-1.5 grid size-6 place-items-center rounded-md opacity-0 group-focus-within:opacity-100 group-hover:opacity-100 group-aria-[current=true]:opacity-100 hover:bg-card"
        >
          <Ellipsis size={15} />
        </button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          className="z-50 min-w-36 rounded-xl border border-line bg-card p-1 shadow-[0_8px_24px_rgb(38_32_43/0.14)]"
        >
          {items.map((item) => (
            <DropdownMenu.Item
              key={item.label}
              disabled={item.disabled ?? false}
              onSelect={item.run}
              className="cursor-pointer rounded-md px-2 py-1.5 outline-none data-disabled:opacity-40 data-highlighted:bg-plum-soft"
            >
              {item.label}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
