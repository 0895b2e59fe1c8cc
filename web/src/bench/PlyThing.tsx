import { GripVertical } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import type { Box, Design, Ply } from "../api/client";
import { withResultOn } from "../design/edits";
import { useCalled, useShownResult } from "../state/shown";
import { useBench } from "../state/store";
import { Drawn } from "../ui/Drawn";

interface Props {
  design: Design;
  ply: Ply;
  of: string;
  held: boolean;
  onHold: () => void;
  onOwnPly: () => void;
}

const ITEM = "cursor-default rounded-lg px-2 py-1.5 outline-none data-highlighted:bg-plum-soft";

/** A thing in its ply's list: dragged onto another ply by its grip, or moved there by the grip's menu. */
export function PlyThing({ design, ply, of, held, onHold, onOwnPly }: Props) {
  const { change, light } = useBench();
  const name = useCalled()(of);
  const shown = useShownResult(of);
  const others = design.plies.filter((one) => one.id !== ply.id);
  if (held) {
    return <li className="truncate rounded-lg border border-dashed border-[#b9ae99] px-2 py-0.5 text-[12px] text-soft">{name} was here</li>;
  }
  return (
    <li
      draggable
      onDragStart={(event) => {
        event.stopPropagation();
        onHold();
      }}
      onPointerEnter={() => light({ refs: [of], by: "words" })}
      onPointerLeave={() => light(null)}
      className="flex h-6.5 items-center gap-1.5 rounded-lg border border-line bg-card pr-2 text-[12px]"
    >
      <DropdownMenu.Root>
        <DropdownMenu.Trigger aria-label={`Move ${name} to another ply`} className="grid h-full w-5 shrink-0 cursor-grab place-items-center rounded-l-lg text-soft hover:text-plum">
          <GripVertical size={12} />
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content align="start" className="z-40 min-w-44 rounded-xl border border-line bg-card p-1.5 shadow-[0_8px_24px_rgb(38_32_43/0.14)]">
            {others.map((one) => (
              <DropdownMenu.Item key={one.id} className={ITEM} onSelect={() => change((now) => withResultOn(now, one.id, of))}>
                Cut it from {one.name}
              </DropdownMenu.Item>
            ))}
            {ply.results.length > 1 && (
              <DropdownMenu.Item className={ITEM} onSelect={onOwnPly}>
                On a ply of its own
              </DropdownMenu.Item>
            )}
            {others.length === 0 && ply.results.length < 2 && <p className="px-2 py-1.5 text-soft">There is no other ply yet.</p>}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      <Drawn d={shown?.d ?? ""} box={shown?.box as Box | null | undefined} className="h-4 w-7 shrink-0 text-ink/80" />
      <span className="min-w-0 truncate font-semibold">{name}</span>
    </li>
  );
}
