import { Ellipsis } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { knownKinds } from "../api/cache";
import type { Design, Line } from "../api/client";
import { withCopy } from "../design/copies";
import { moved, withLine } from "../design/edits";
import { isPlaced } from "../design/placing";
import { useBench } from "../state/store";
import { useLineEdits } from "../state/useLineEdits";
import { leaveFocusTaken } from "../ui/focus";

/** What else can be done with a line: its order, off and on, locked, copied, removed. */
export function LineMenu({ design, line, index }: { design: Design; line: Line; index: number }) {
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
          onCloseAutoFocus={leaveFocusTaken}
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
