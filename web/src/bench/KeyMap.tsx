import { Keyboard } from "lucide-react";
import { Switch } from "radix-ui";
import { useState } from "react";
import { IconButton } from "../ui/IconButton";
import { Pop } from "../ui/Pop";
import { useBench } from "../state/store";
import { setSingleKeys, singleKeysOn } from "../ui/focus";

const KEYS: [string, string][] = [
  ["Tab", "choose the next line; Shift Tab the one before"],
  ["Enter", "pick the first letter of a lettering; Tab the next"],
  ["Shift click", "choose another thing along with it; Ctrl A all"],
  ["Ctrl ↓", "choose the next line along with it; Ctrl ↑ the one before"],
  ["← ↑ → ↓", "move by 0.1 mm; with Shift by 1 mm"],
  [", and .", "turn by 1°; with Shift by 15°"],
  ["[ and ]", "its ply nearer to the ground, or to the top"],
  ["H", "flip sideways; with Shift upside down"],
  ["L", "lock in place, or unlock"],
  ["G", "grid"],
  ["+ and −", "look nearer, or from farther away; 0 shows everything"],
  ["/", "add a line"],
  ["Ctrl D", "copy in place; Alt and drag moves a copy"],
  ["Ctrl held", "while dragging: nothing settles on guides"],
  ["Delete", "remove the chosen line"],
  ["Ctrl Z", "undo; with Shift redo"],
  ["Space and drag", "move the view"],
  ["Escape", "let go of the letter, then of the line"],
  ["?", "this list"],
];

/** What the keyboard does, on "?"; and whether keys of one character do anything. */
export function KeyMap() {
  const { keysShown, showKeys } = useBench();
  const [single, setSingle] = useState(singleKeysOn);
  return (
    <Pop
      label="Keys"
      width={470}
      open={keysShown}
      onOpenChange={showKeys}
      trigger={
        <IconButton label="Keys" className="size-8! border border-line">
          <Keyboard size={16} />
        </IconButton>
      }
    >
      <h2 className="mb-2 font-display text-[14px] font-bold">Keys</h2>
      <dl className="grid grid-cols-[auto_1fr] items-baseline gap-x-4 gap-y-1.5">
        {KEYS.map(([key, does]) => (
          <div key={key} className="contents">
            <dt className="justify-self-start rounded border border-line bg-paper px-1.5 font-semibold">{key}</dt>
            <dd>{does}</dd>
          </div>
        ))}
      </dl>
      <label className="mt-3 flex cursor-pointer items-center gap-2">
        <Switch.Root
          checked={single}
          onCheckedChange={(on) => {
            setSingleKeys(on);
            setSingle(on);
          }}
          className="h-4.5 w-8 rounded-full bg-[#a39a86] transition-colors data-[state=checked]:bg-plum"
        >
          <Switch.Thumb className="block size-3.5 translate-x-0.5 rounded-full bg-card transition-transform data-[state=checked]:translate-x-4" />
        </Switch.Root>
        Keys of one character, as H and /
      </label>
      <p className="mt-2 text-soft">In a number: ↑ and ↓ step it, Shift ten times as far; sums work too, as 254/2.</p>
    </Pop>
  );
}
