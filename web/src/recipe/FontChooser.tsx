import { Upload } from "lucide-react";
import { type KeyboardEvent, type ReactNode, useEffect, useMemo, useRef, useState } from "react";
import type { Font, FontPreview } from "../api/client";
import { useHabits } from "../api/habits";
import { useBringInFont, useFontPreviews, useFonts } from "../api/queries";
import { Drawn } from "../ui/Drawn";
import { Pop } from "../ui/Pop";
import { sayProblem } from "../ui/notices";
import { FontFacts } from "./FontFacts";

/** Fonts whose previews are asked for together. */
const TOGETHER = 12;
const TAGS = ["heavy", "script", "stencil", "rounded", "slab", "playful", "own"];

interface Props {
  words: string;
  chosen: string;
  trigger: ReactNode;
  label: string;
  onChoose: (id: string) => void;
  /** what else can be chosen, before all fonts */
  first?: { label: string; run: () => void };
}

/** The font, chosen by seeing her own words in each. */
export function FontChooser({ words, chosen, trigger, label, onChoose, first }: Props) {
  const [open, setOpen] = useState(false);
  const { tookFont } = useHabits();
  return (
    <Pop label={label} width={344} open={open} onOpenChange={setOpen} trigger={trigger}>
      {first && (
        <button
          type="button"
          onClick={() => {
            first.run();
            setOpen(false);
          }}
          className="mb-2 w-full rounded-lg border border-line px-2 py-1.5 text-left hover:border-plum"
        >
          {first.label}
        </button>
      )}
      <FontList
        words={words.trim().slice(0, 40) || "Abc"}
        chosen={chosen}
        onChoose={(id) => {
          tookFont(id);
          onChoose(id);
          setOpen(false);
        }}
      />
    </Pop>
  );
}

function FontList({ words, chosen, onChoose }: { words: string; chosen: string; onChoose: (id: string) => void }) {
  const [search, setSearch] = useState("");
  const [tag, setTag] = useState<string | null>(null);
  const [at, setAt] = useState(0);
  const list = useRef<HTMLUListElement>(null);
  const fonts = useFonts();
  const { fonts: recent } = useHabits();
  // What was recent when the list was opened: it must not jump under her hand.
  const [recents] = useState(recent);
  const shown = useMemo(() => {
    const wanted = search.trim().toLowerCase();
    const found = (fonts.data ?? []).filter(
      (font) => (!tag || font.tags.includes(tag)) && `${font.name} ${font.tags.join(" ")}`.toLowerCase().includes(wanted),
    );
    const rank = (font: Font) => (recents.includes(font.id) ? recents.indexOf(font.id) : recents.length);
    return found.map((font, i) => ({ font, i })).sort((a, b) => rank(a.font) - rank(b.font) || a.i - b.i).map((one) => one.font);
  }, [fonts.data, search, tag, recents]);
  const tags = TAGS.filter((one) => fonts.data?.some((font) => font.tags.includes(one)));
  const chunks = Array.from({ length: Math.ceil(shown.length / TOGETHER) }, (_, i) => shown.slice(i * TOGETHER, (i + 1) * TOGETHER));
  const active = shown[Math.min(at, shown.length - 1)];

  function go(to: number) {
    const next = Math.min(shown.length - 1, Math.max(0, to));
    setAt(next);
    list.current?.querySelector(`[data-index="${next}"]`)?.scrollIntoView({ block: "nearest" });
  }

  function onKey(event: KeyboardEvent) {
    const steps: Record<string, number> = { ArrowDown: 1, ArrowUp: -1, PageDown: 6, PageUp: -6 };
    const step = steps[event.key];
    if (step) {
      event.preventDefault();
      go(at + step);
    }
    if (event.key === "Enter" && active) onChoose(active.id);
  }

  return (
    // As tall as its panel may be: the list gives way to what is said of a font.
    <div className="flex max-h-[calc(min(560px,var(--radix-popover-content-available-height))-26px)] flex-col">
      <input
        type="search"
        role="combobox"
        aria-expanded
        aria-controls="fonts"
        aria-activedescendant={active ? `font-${active.id}` : undefined}
        aria-label="Search fonts"
        placeholder="Search by name, or go with ↑ and ↓"
        autoFocus
        value={search}
        onChange={(event) => {
          setSearch(event.target.value);
          setAt(0);
        }}
        onKeyDown={onKey}
        className="h-8 w-full shrink-0 rounded-lg border border-line bg-card px-2 hover:border-plum"
      />
      <div className="mt-2 flex flex-wrap gap-1">
        {tags.map((one) => (
          <button
            key={one}
            type="button"
            aria-pressed={tag === one}
            onClick={() => {
              setTag(tag === one ? null : one);
              setAt(0);
            }}
            className="rounded-full border border-line px-2 py-0.5 hover:border-plum aria-pressed:border-plum aria-pressed:bg-plum-soft"
          >
            {one === "own" ? "your own" : one}
          </button>
        ))}
      </div>
      <ul ref={list} id="fonts" role="listbox" aria-label="Fonts" className="mt-2 min-h-32 flex-1 overflow-y-auto">
        {chunks.map((fontsOf, chunk) => (
          <Chunk
            key={fontsOf.map((font) => font.id).join()}
            fonts={fontsOf}
            words={words}
            from={chunk * TOGETHER}
            at={at}
            chosen={chosen}
            recents={recents}
            onPoint={setAt}
            onChoose={onChoose}
          />
        ))}
        {shown.length === 0 && <li className="p-2 text-soft">No font called that. Try another word, or bring one in below.</li>}
      </ul>
      {active && <FontFacts font={active} />}
      <BringIn onBrought={onChoose} />
    </div>
  );
}

interface ChunkProps {
  fonts: Font[];
  words: string;
  from: number;
  at: number;
  chosen: string;
  recents: string[];
  onPoint: (index: number) => void;
  onChoose: (id: string) => void;
}

/** A few fonts; their previews are fetched once they scroll into sight. */
function Chunk({ fonts, words, from, at, chosen, recents, onPoint, onChoose }: ChunkProps) {
  const element = useRef<HTMLLIElement>(null);
  const [seen, setSeen] = useState(false);
  const previews = useFontPreviews(words, fonts.map((font) => font.id), seen);
  const byId = useMemo(() => new Map(previews.data?.map((one) => [one.id, one])), [previews.data]);

  useEffect(() => {
    if (!element.current) return;
    const observer = new IntersectionObserver((entries) => {
      if (entries.some((entry) => entry.isIntersecting)) setSeen(true);
    });
    observer.observe(element.current);
    return () => observer.disconnect();
  }, []);

  return (
    <li ref={element} role="presentation">
      <ul role="presentation">
        {fonts.map((font, index) => (
          <li
            key={font.id}
            id={`font-${font.id}`}
            role="option"
            data-index={from + index}
            aria-selected={from + index === at}
            aria-current={font.id === chosen}
            onPointerMove={() => onPoint(from + index)}
            onClick={() => onChoose(font.id)}
            className="group h-14 rounded-lg px-2 py-1.5 aria-selected:bg-plum-soft aria-[current=true]:outline-2 aria-[current=true]:-outline-offset-2 aria-[current=true]:outline-plum/40"
          >
            <Preview preview={byId.get(font.id)} waiting={!previews.data} />
            <span className="block truncate text-soft group-aria-selected:text-ink">
              {font.name} · {font.tags.map((tag) => (tag === "own" ? "your own" : tag)).join(", ")}
              {recents.includes(font.id) && " · used lately"}
            </span>
          </li>
        ))}
      </ul>
    </li>
  );
}

function Preview({ preview, waiting }: { preview: FontPreview | undefined; waiting: boolean }) {
  if (waiting) return <span className="block h-7 w-1/2 rounded bg-paper" />;
  if (!preview?.box) return <span className="block h-7 text-soft">has none of these letters</span>;
  return <Drawn d={preview.d} box={preview.box} fill="nonzero" align="xMinYMid" className="h-7 w-full" />;
}

function BringIn({ onBrought }: { onBrought: (id: string) => void }) {
  const bringIn = useBringInFont();
  return (
    <div className="mt-2 border-t border-line pt-2">
      <label className="flex cursor-pointer items-center gap-2 rounded-lg px-2 py-1.5 font-semibold focus-within:outline-2 focus-within:outline-plum hover:bg-plum-soft">
        <Upload size={14} />
        {bringIn.isPending ? "Trying the font out…" : "Bring in a font: TTF, OTF or WOFF2"}
        <input
          type="file"
          accept=".ttf,.otf,.woff2,font/ttf,font/otf,font/woff2"
          className="sr-only"
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) bringIn.mutate(file, { onSuccess: (font) => onBrought(font.id), onError: sayProblem });
            event.target.value = "";
          }}
        />
      </label>
      {bringIn.isError && (
        <p role="alert" className="px-2 text-brick">
          {bringIn.error.message}
        </p>
      )}
    </div>
  );
}
