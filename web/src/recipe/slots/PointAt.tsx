import { MousePointer2 } from "lucide-react";
import { type ReactNode, useEffect, useRef } from "react";
import type { Design, Kind, Line } from "../../api/client";
import { thingsBefore, usedElsewhere } from "../../design/things";
import { lineOf } from "../../design/refs";
import { useAsked } from "../../state/useAsked";
import { useBench } from "../../state/store";
import { Pop } from "../../ui/Pop";
import { Phrase } from "../../ui/Phrase";
import { VALUE } from "../../ui/value";
import { Lights } from "../Lights";

interface Props {
  design: Design;
  line: Line;
  field: string;
  label: string;
  kinds: Kind[] | undefined;
  chosen: string[];
  /** what is chosen, in words */
  text: string;
  many: boolean;
  /** one thing to choose; it says why where it cannot be */
  row: (ref: string, barred: string | undefined, close: () => void) => ReactNode;
}

const onProof = (target: EventTarget | null) => target instanceof Element && target.closest("[data-testid=proof]") !== null;

/** A value that names things: while it is open they are pointed at on the proof, or taken from the list. */
export function PointAt({ design, line, field, label, kinds, chosen, text, many, row }: Props) {
  const [open, setOpen] = useAsked(line.id, field);
  const pick = useBench((state) => state.pick);
  const waiting = useBench((state) => state.picking?.line === line.id && state.picking.field === field);
  const waited = useRef(false);
  const { newest, earlier } = thingsBefore(design, line.id, kinds);
  const shown = [...newest, ...chosen.filter((ref) => ref && !newest.includes(ref))];
  const folded = earlier.filter((ref) => !chosen.includes(ref));
  const used = usedElsewhere(line, field, kinds);
  const rowOf = (ref: string) => (
    <li key={ref}>{row(ref, used.includes(ref) ? `line ${design.recipe.findIndex((one) => one.id === lineOf(ref)) + 1}, already named here` : undefined, () => setOpen(false))}</li>
  );

  useEffect(() => {
    if (!open) return;
    pick({ line: line.id, field, many });
    return () => {
      const { picking } = useBench.getState();
      if (picking?.line === line.id && picking.field === field) pick(null);
    };
  }, [open, line.id, field, many, pick]);

  // A thing was taken on the proof, or the proof was clicked beside all things.
  useEffect(() => {
    if (open && waited.current && !waiting) setOpen(false);
    waited.current = waiting;
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [waiting]);

  return (
    <Pop
      label={label}
      open={open}
      onOpenChange={setOpen}
      staysFor={onProof}
      trigger={
        open ? (
          <Phrase aria-label={`${label}: ${text}`} className="inline-flex items-center gap-1.5 rounded-lg border border-plum bg-card px-2 leading-[1.6] font-semibold text-plum">
            <MousePointer2 size={12} /> point at {many ? "things" : "a thing"}
          </Phrase>
        ) : (
          <Phrase aria-label={`${label}: ${text}`} className={VALUE}>
            <Lights refs={chosen}>{text}</Lights>
          </Phrase>
        )
      }
    >
      <p className="mb-1.5 px-1 text-soft">
        Click {many ? "one on the proof, several with Shift" : "it on the proof"}, or take it from the list.
      </p>
      <ul className="flex flex-col" aria-label={label}>
        {shown.length === 0 && <li className="p-2 text-soft">Nothing comes before this line yet.</li>}
        {shown.map(rowOf)}
      </ul>
      {folded.length > 0 && (
        <details className="mt-1.5 border-t border-line pt-1.5">
          <summary className="cursor-pointer rounded-lg px-2 py-1 font-semibold hover:bg-plum-soft">
            earlier <span className="font-normal text-soft">as {folded.length === 1 ? "it was" : "they were"} before later lines</span>
          </summary>
          <ul className="flex flex-col">{folded.map(rowOf)}</ul>
        </details>
      )}
    </Pop>
  );
}
