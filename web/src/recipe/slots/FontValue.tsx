import { useMemo, useState } from "react";
import type { FontPreview } from "../../api/client";
import { useFontPreviews, useFonts } from "../../api/queries";
import { Pop } from "../../ui/Pop";
import { type SlotProps, VALUE } from "./types";

function Preview({ preview }: { preview: FontPreview | undefined }) {
  if (!preview?.box) return <span className="text-soft">has none of these letters</span>;
  const [x0, y0, x1, y1] = preview.box;
  return (
    <svg
      aria-hidden
      viewBox={`${x0} ${y0} ${x1 - x0} ${y1 - y0}`}
      preserveAspectRatio="xMinYMid meet"
      className="h-7 w-full"
    >
      <path d={preview.d} fillRule="evenodd" className="fill-ink" />
    </svg>
  );
}

/** The font, chosen by seeing her own words in each. */
export function FontValue({ value, line, slot, onChange }: SlotProps) {
  const [open, setOpen] = useState(false);
  const fonts = useFonts();
  const name = fonts.data?.find((font) => font.id === value)?.name ?? String(value);
  return (
    <Pop
      label={slot.label}
      width={336}
      open={open}
      onOpenChange={setOpen}
      trigger={
        <button type="button" aria-label={`Font: ${name}`} className={VALUE}>
          {name}
        </button>
      }
    >
      <FontList
        words={line.kind === "letter" ? (line.rows[0]?.text ?? "") : ""}
        chosen={String(value)}
        onChoose={(id) => {
          onChange(id);
          setOpen(false);
        }}
      />
    </Pop>
  );
}

function FontList({ words, chosen, onChoose }: { words: string; chosen: string; onChoose: (id: string) => void }) {
  const [search, setSearch] = useState("");
  const fonts = useFonts();
  const previews = useFontPreviews(words.trim().slice(0, 40) || "Abc");
  const byId = useMemo(() => new Map(previews.data?.map((one) => [one.id, one])), [previews.data]);
  const wanted = search.trim().toLowerCase();
  const shown = fonts.data?.filter((font) => `${font.name} ${font.tags.join(" ")}`.toLowerCase().includes(wanted));
  const tags = [...new Set(fonts.data?.flatMap((font) => font.tags))];

  return (
    <div>
      <input
        type="search"
        aria-label="Search fonts"
        placeholder="Search: name, heavy, script, stencil…"
        autoFocus
        value={search}
        onChange={(event) => setSearch(event.target.value)}
        className="h-8 w-full rounded-lg border border-line bg-card px-2 hover:border-plum"
      />
      <div className="mt-2 flex flex-wrap gap-1">
        {tags.map((tag) => (
          <button
            key={tag}
            type="button"
            aria-pressed={wanted === tag}
            onClick={() => setSearch(wanted === tag ? "" : tag)}
            className="rounded-full border border-line px-2 py-0.5 hover:border-plum aria-pressed:border-plum aria-pressed:bg-plum-soft"
          >
            {tag}
          </button>
        ))}
      </div>
      <ul className="mt-2 flex flex-col" aria-label="Fonts">
        {shown?.map((font) => (
          <li key={font.id}>
            <button
              type="button"
              aria-current={font.id === chosen}
              onClick={() => onChoose(font.id)}
              className="w-full rounded-lg px-2 py-1.5 text-left hover:bg-plum-soft aria-[current=true]:bg-plum-soft"
            >
              <Preview preview={byId.get(font.id)} />
              <span className="text-soft">
                {font.name} · {font.tags.join(", ")}
              </span>
            </button>
          </li>
        ))}
        {shown?.length === 0 && <li className="p-2 text-soft">No font called that. Try “heavy” or “script”.</li>}
      </ul>
    </div>
  );
}
