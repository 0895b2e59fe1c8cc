import { usePicture } from "../../api/queries";
import { Pop } from "../../ui/Pop";
import { Phrase } from "../../ui/Phrase";
import { VALUE } from "../../ui/value";
import type { SlotProps } from "./types";

/** Which parts of a picture are kept: click one to drop it or take it back. */
export function PartsValue({ line, value, slot, onChange }: SlotProps) {
  const dropped = value as number[];
  const picture = usePicture(line.kind === "art" ? line.picture : "");
  if (!picture.data) return <span>all of it</span>;
  const { box, parts, notes } = picture.data;
  const [x0, y0, x1, y1] = box;
  const kept = parts.length - dropped.length;
  const text = dropped.length === 0 ? "all of it" : `${kept} of its ${parts.length} parts`;
  const toggle = (index: number) =>
    onChange(dropped.includes(index) ? dropped.filter((i) => i !== index) : [...dropped, index].sort((a, b) => a - b));

  return (
    <Pop
      label={slot.label}
      trigger={
        <Phrase aria-label={`Parts: ${text}`} className={VALUE}>
          {text}
        </Phrase>
      }
    >
      <p className="text-soft">Click a part to leave it out, or to take it back in.</p>
      <svg
        viewBox={`${x0} ${y0} ${x1 - x0} ${y1 - y0}`}
        className="mx-auto mt-2 max-h-70 w-full"
        role="group"
        aria-label="Parts of the picture"
      >
        {parts.map((part, index) => {
          const out = dropped.includes(index);
          return (
            <path
              key={index}
              d={part.d}
              fillRule="evenodd"
              role="checkbox"
              tabIndex={0}
              aria-checked={!out}
              aria-label={part.name}
              onClick={() => toggle(index)}
              onKeyDown={(event) => {
                if (event.key === " " || event.key === "Enter") {
                  event.preventDefault();
                  toggle(index);
                }
              }}
              vectorEffect="non-scaling-stroke"
              className={`cursor-pointer stroke-plum outline-none hover:stroke-2 focus-visible:stroke-3 ${out ? "fill-paper" : "fill-ink"}`}
              strokeDasharray={out ? "3 2" : undefined}
            />
          );
        })}
      </svg>
      {notes.map((note) => (
        <p key={note} className="mt-2 text-soft">
          {note}
        </p>
      ))}
    </Pop>
  );
}
