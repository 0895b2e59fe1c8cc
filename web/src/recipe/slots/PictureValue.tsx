import { Upload } from "lucide-react";
import { useRef } from "react";
import { usePicture } from "../../api/queries";
import { useBringIn } from "../../state/useBringIn";
import { useAsked } from "../../state/useAsked";
import { Button } from "../../ui/Button";
import { Pop } from "../../ui/Pop";
import { Phrase } from "../../ui/Phrase";
import { VALUE } from "../../ui/value";
import type { SlotProps } from "./types";

/** Which picture: one of the design's own, or a new one from a file. */
export function PictureValue({ design, line, value, slot, onChange }: SlotProps) {
  const file = useRef<HTMLInputElement>(null);
  const bringIn = useBringIn();
  const name = design.pictures.find((picture) => picture.id === value)?.name;
  const [open, setOpen] = useAsked(line.id, slot.field);

  return (
    <Pop
      label={slot.label}
      open={open}
      onOpenChange={setOpen}
      trigger={
        <Phrase aria-label={`Picture: ${name ?? "choose"}`} className={VALUE}>
          {name ?? "choose a picture"}
        </Phrase>
      }
    >
      <ul className="flex flex-col">
        {design.pictures.map((picture) => (
          <li key={picture.id}>
            <button
              type="button"
              aria-current={picture.id === value}
              onClick={() => {
                onChange(picture.id);
                setOpen(false);
              }}
              className="flex w-full items-center gap-3 rounded-lg p-2 text-left hover:bg-plum-soft aria-[current=true]:bg-plum-soft"
            >
              <Thumbnail id={picture.id} />
              {picture.name}
            </button>
          </li>
        ))}
      </ul>
      <input
        ref={file}
        type="file"
        accept=".svg,.svgz,image/svg+xml"
        aria-label="SVG file"
        className="hidden"
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          if (chosen) bringIn.mutate({ file: chosen, into: line.id }, { onSuccess: () => setOpen(false) });
          event.target.value = "";
        }}
      />
      <Button className="mt-2 w-full" disabled={bringIn.isPending} onClick={() => file.current?.click()}>
        <Upload size={14} /> {bringIn.isPending ? "Reading…" : "Bring in an SVG"}
      </Button>
      {bringIn.isError && (
        <p role="alert" className="mt-2 text-brick">
          {bringIn.error.message}
        </p>
      )}
    </Pop>
  );
}

function Thumbnail({ id }: { id: string }) {
  const picture = usePicture(id);
  if (!picture.data) return <span className="size-10 rounded bg-paper" />;
  const [x0, y0, x1, y1] = picture.data.box;
  return (
    <svg aria-hidden viewBox={`${x0} ${y0} ${x1 - x0} ${y1 - y0}`} className="size-10 shrink-0">
      {picture.data.parts.map((part, index) => (
        <path key={index} d={part.d} fillRule="evenodd" className="fill-ink" />
      ))}
    </svg>
  );
}
