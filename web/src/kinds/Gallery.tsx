import { Shapes } from "lucide-react";
import type { Curve } from "../api/client";
import { Button } from "../ui/Button";
import { Drawn } from "../ui/Drawn";

interface Props {
  title: string;
  open: boolean;
  onOpen: (open: boolean) => void;
  /** what there is to choose from; none while it is being drawn */
  entries: Curve[] | undefined;
  waiting: string;
  /** the one that is taken now, where that can be said */
  current?: string;
  onTake: (entry: Curve) => void;
}

/** Pictures to choose from, below a line's sentence. */
export function Gallery({ title, open, onOpen, entries, waiting, current, onTake }: Props) {
  return (
    <div className="mt-1.5">
      <Button look="quiet" className="h-7! border border-line bg-card! px-2! text-[12px] hover:border-plum!" aria-expanded={open} onClick={() => onOpen(!open)}>
        <Shapes size={13} /> {title}
      </Button>
      {open && (
        <div role="group" aria-label={title} className="mt-1.5 -mr-5 grid max-h-78 grid-cols-3 gap-1.5 overflow-y-auto p-px">
          {!entries && <p className="col-span-3 text-soft">{waiting}</p>}
          {entries?.map((entry) => (
            <button
              key={entry.name}
              type="button"
              aria-pressed={current === undefined ? undefined : current === entry.name}
              onClick={() => onTake(entry)}
              className="flex h-17 flex-col items-center justify-between rounded-lg border border-line bg-card p-1 text-[11px] leading-tight hover:border-plum aria-pressed:border-plum aria-pressed:text-plum"
            >
              <Drawn d={entry.d} box={entry.box} className="h-9 w-full" />
              {entry.name}
            </button>
          ))}
        </div>
      )}
    </div>
  );
}
