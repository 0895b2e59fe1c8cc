import { Pause, Play } from "lucide-react";
import { Slider } from "radix-ui";
import { useEffect, useState } from "react";
import type { SheetLaid } from "../api/client";
import { IconButton } from "../ui/IconButton";
import { formatTime } from "./time";

/** The whole cut is played in about this many ms, or at so many an outline where there are few. */
const WHOLE = 12_000;
const SLOWEST = 450;

/** Plays the cut, or goes to any place of it. */
export function OrderBar({ sheet, done, onDone }: { sheet: SheetLaid; done: number; onDone: (done: number) => void }) {
  const [playing, setPlaying] = useState(false);
  const count = sheet.order.length;
  const going = playing && done < count;

  useEffect(() => {
    if (!going) return;
    const timer = setTimeout(() => onDone(done + 1), Math.min(SLOWEST, WHOLE / count));
    return () => clearTimeout(timer);
  }, [going, done, count, onDone]);

  if (count === 0) return <p className="m-3 rounded-xl border border-line bg-card p-3 text-soft">Too many outlines to be followed one by one.</p>;
  const all = sheet.order.reduce((sum, one) => sum + one.length, 0);
  const cut = sheet.order.slice(0, done).reduce((sum, one) => sum + one.length, 0);
  return (
    <div className="m-3 flex items-center gap-3 rounded-xl border border-line bg-card px-3 py-2">
      <IconButton
        label={going ? "Pause" : "Play the cut"}
        onClick={() => {
          if (done >= count) onDone(0);
          setPlaying(!going);
        }}
      >
        {going ? <Pause size={16} /> : <Play size={16} />}
      </IconButton>
      <Slider.Root min={0} max={count} value={[done]} onValueChange={([next]) => onDone(next ?? 0)} className="relative flex h-5 flex-1 items-center">
        <Slider.Track className="relative h-1 flex-1 rounded-full bg-line">
          <Slider.Range className="absolute h-full rounded-full bg-plum" />
        </Slider.Track>
        <Slider.Thumb aria-label="Outlines cut so far" className="block size-4 rounded-full border-2 border-plum bg-card" />
      </Slider.Root>
      <span className="text-soft tabular-nums">
        outline {done} of {count} · {formatTime((sheet.figures.seconds * cut) / all)} of {formatTime(sheet.figures.seconds)}
      </span>
    </div>
  );
}
