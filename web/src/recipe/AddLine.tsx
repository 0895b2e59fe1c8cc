import { ArrowUpRight, Plus } from "lucide-react";
import { Popover } from "radix-ui";
import { useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import type { Kind } from "../api/client";
import { isPlaced } from "../design/placing";
import { chosenLines, useBench } from "../state/store";
import { useLineEdits } from "../state/useLineEdits";
import { inPanel, isSwitchedOff, isTyping, leaveFocusTaken } from "../ui/focus";

interface Props {
  kinds: Kind[] | undefined;
}

/** ms on a kind before it is tried out. */
const RESTED = 250;

/** Values that what was looked for asks for: "oval" is one of the shapes. */
function askedFor(kind: Kind, wanted: string): Record<string, string> {
  for (const slot of kind.slots) {
    const choice = wanted.length > 2 ? Object.keys(slot.choices ?? {}).find((id) => id.includes(wanted)) : undefined;
    if (choice) return { [slot.field]: choice };
  }
  return {};
}

/** How well a kind answers what was looked for: by its name first, then by a whole word, then by any part of one. */
function rankOf(kind: Pick<Kind, "name" | "words">, wanted: string): number {
  if (wanted === "") return 0;
  if (kind.name.toLowerCase().startsWith(wanted)) return 1;
  if (kind.words.includes(wanted)) return 2;
  return `${kind.name} ${kind.words.join(" ")}`.toLowerCase().includes(wanted) ? 3 : Infinity;
}

/** A place where a thing is done that no line does. */
interface Elsewhere {
  id: string;
  name: string;
  words: string[];
  go: () => void;
}

/** Opens the panel that lines things up, on what is chosen or on all there is. */
function arrangeAll() {
  const bench = useBench.getState();
  const placed = bench.design.recipe.filter(isPlaced).map((line) => line.id);
  if (!chosenLines(bench).some((id) => placed.includes(id))) bench.select(placed[0] ?? null, placed.slice(1));
  bench.arrange(placed.length > 0);
}

/** "Add a line": found by trade words, also by the key /. */
export function AddLine({ kinds }: Props) {
  const [open, setOpen] = useState(false);
  const [search, setSearch] = useState("");
  const [at, setAt] = useState(0);
  const { add } = useLineEdits();
  const navigate = useNavigate();
  const list = useRef<HTMLUListElement>(null);
  /** whether one of the kinds was pointed at, and not merely the first of all */
  const [pointed, setPointed] = useState(false);
  const tryOut = useBench((state) => state.tryOut);
  const wanted = search.trim().toLowerCase();
  const found = (kinds ?? []).filter((kind) => rankOf(kind, wanted) < Infinity).sort((a, b) => rankOf(a, wanted) - rankOf(b, wanted));
  const elsewhere: Elsewhere[] = [
    { id: "arrange", name: "Arrange", words: ["align", "centre", "center", "distribute", "spread evenly", "same size", "line up", "flip", "mirror"], go: arrangeAll },
    { id: "sheets", name: "Sheets", words: ["split over sheets", "copies", "nest", "registration marks", "layout"], go: () => void navigate("sheets") },
  ];
  const places = wanted === "" ? [] : elsewhere.filter((place) => rankOf(place, wanted) < Infinity);
  const count = found.length + places.length;

  /** It opens on all kinds: what was looked for last time is no start for what is wanted now. */
  function show(now: boolean) {
    setOpen(now);
    setSearch("");
    setAt(0);
    setPointed(false);
  }

  // What the kind pointed at would do shows on the proof, once the pointer or the keys rest on it.
  const kind = open && pointed ? found[at] : undefined;
  useEffect(() => {
    tryOut(null);
    if (!kind) return;
    const rested = setTimeout(() => tryOut({ id: kind.id, given: askedFor(kind, wanted) }), RESTED);
    return () => clearTimeout(rested);
  }, [kind, wanted, tryOut]);
  useEffect(() => () => tryOut(null), [tryOut]);

  // What the arrow keys come to is not left below the list's edge.
  useEffect(() => {
    // In a block: newer browsers return a promise from it, which is no way to end an effect.
    void list.current?.children[at]?.scrollIntoView({ block: "nearest" });
  }, [at]);

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === "/" && !isTyping(event.target) && !inPanel(event.target) && !isSwitchedOff(event)) {
        event.preventDefault();
        show(true);
      }
    };
    addEventListener("keydown", onKey);
    return () => removeEventListener("keydown", onKey);
  }, []);

  function choose(index: number) {
    const kind = found[index];
    if (!kind) {
      const place = places[index - found.length];
      if (!place) return;
      show(false);
      place.go();
      return;
    }
    add.mutate({ kind: kind.id, given: askedFor(kind, wanted) });
    show(false);
  }

  return (
    <Popover.Root open={open} onOpenChange={show}>
      <Popover.Trigger asChild>
        <button
          type="button"
          className="flex h-10 w-full items-center gap-2 rounded-[10px] border border-dashed border-[#b9ae99] px-3 text-soft transition-colors hover:border-plum hover:text-plum"
        >
          <Plus size={14} /> Add a line…
          <kbd className="ml-auto rounded border border-line bg-card px-1.5 font-sans text-[11px]">/</kbd>
        </button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          onCloseAutoFocus={leaveFocusTaken}
          aria-label="Add a line"
          side="top"
          align="start"
          sideOffset={6}
          className="z-40 w-(--radix-popover-trigger-width) rounded-xl border border-line bg-card p-2 shadow-[0_8px_24px_rgb(38_32_43/0.14)]"
        >
          <input
            type="search"
            role="combobox"
            aria-expanded
            aria-controls="kinds-of-line"
            aria-activedescendant={count > 0 ? `kind-${(found[at] ?? places[at - found.length])?.id}` : undefined}
            aria-label="What should happen?"
            placeholder="What should happen? knockout, heart, name…"
            autoFocus
            value={search}
            onChange={(event) => {
              setSearch(event.target.value);
              setAt(0);
              setPointed(event.target.value !== "");
            }}
            onKeyDown={(event) => {
              if (event.key === "Enter") {
                // Or Enter would press what has the focus by then.
                event.preventDefault();
                choose(at);
              }
              if (event.key === "ArrowDown" || event.key === "ArrowUp") {
                event.preventDefault();
                const next = at + (event.key === "ArrowDown" ? 1 : -1);
                setAt(Math.min(count - 1, Math.max(0, next)));
                setPointed(true);
              }
            }}
            className="h-8 w-full rounded-lg border border-line bg-card px-2"
          />
          <ul ref={list} id="kinds-of-line" role="listbox" aria-label="Kinds of line" className="mt-2 max-h-[min(420px,calc(100vh-240px))] overflow-y-auto">
            {found.map((kind, index) => (
              <li
                key={kind.id}
                id={`kind-${kind.id}`}
                role="option"
                aria-selected={index === at}
                onPointerMove={() => {
                  setAt(index);
                  setPointed(true);
                }}
                onClick={() => choose(index)}
                className="rounded-lg px-2 py-1.5 aria-selected:bg-plum-soft"
              >
                <span className="font-semibold">
                  {kind.name}
                  {Object.values(askedFor(kind, wanted)).map((choice) => `: ${choice}`)}
                </span>
                <span className="block text-soft">{kind.words.slice(0, 4).join(", ")}</span>
              </li>
            ))}
            {places.map((place, index) => (
              <li
                key={place.id}
                id={`kind-${place.id}`}
                role="option"
                aria-selected={found.length + index === at}
                onPointerMove={() => {
                  setAt(found.length + index);
                  setPointed(true);
                }}
                onClick={() => choose(found.length + index)}
                className="rounded-lg px-2 py-1.5 aria-selected:bg-plum-soft"
              >
                <span className="flex items-center gap-1.5 font-semibold">
                  {place.name} <ArrowUpRight size={13} className="text-soft" />
                </span>
                <span className="block text-soft">opens there: {place.words.slice(0, 4).join(", ")}</span>
              </li>
            ))}
            {count === 0 && (
              <li className="p-2 text-soft">No kind of line is called that. Try “knockout”, “text” or “backing”.</li>
            )}
          </ul>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
