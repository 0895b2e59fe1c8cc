import { useMutation } from "@tanstack/react-query";
import { Blocks, Type } from "lucide-react";
import { Tabs } from "radix-ui";
import { api, type Design, type GlyphGroup, type Lettering } from "../../api/client";
import { useFeatures, useFonts, useGlyphs } from "../../api/queries";
import { withLine } from "../../design/edits";
import { askFor } from "../../state/ask";
import { gesture, useBench } from "../../state/store";
import { PLAIN } from "../../units";
import { Button } from "../../ui/Button";
import { Drawn } from "../../ui/Drawn";
import { Pop } from "../../ui/Pop";
import { sayProblem } from "../../ui/notices";
import { ByHand } from "./ByHand";
import { NumberValue } from "../../fields/NumberValue";

const change = (line: Lettering, part: Partial<Lettering>) =>
  gesture.change((now) => withLine(now, line.id, (one) => ({ ...one, ...part }) as Lettering));

/** What a chosen lettering offers beyond its sentence: blocks, forms, signs, axes, letters by hand. */
export function LetterTools({ design, line }: { design: Design; line: Lettering }) {
  return (
    <div className="mt-1">
      <div className="flex flex-wrap gap-1">
        {line.rows.length > 1 && <BlockPop line={line} />}
        <GlyphsPop design={design} line={line} />
      </div>
      <Axes line={line} />
      <ByHand design={design} line={line} />
    </div>
  );
}

const SMALL = "h-7! rounded-lg border border-line bg-card! px-2! text-[12px] hover:border-plum!";

interface Block {
  name: string;
  says: string;
  part: Pick<Lettering, "fit" | "align"> & Partial<Pick<Lettering, "gives">>;
  /** bars that stand for letters, as this way sets them */
  bars: [number, number, number, number][];
}

const FOUR: Block["bars"] = [[0, 2, 9, 10], [11.5, 2, 9, 10], [23, 2, 9, 10], [35, 2, 9, 10]];

const BLOCKS: Block[] = [
  {
    name: "One width, each its height",
    says: "rows grow and shrink as a whole",
    part: { fit: "wide", align: "centre" },
    bars: [[0, 0, 10, 8], [12, 0, 10, 8], [24, 0, 10, 8], [36, 0, 8, 8], [0, 11, 21, 16], [23, 11, 21, 16]],
  },
  {
    name: "One width and height, letters stretch",
    says: "short rows get wide letters",
    part: { fit: "tall", align: "even", gives: "letters" },
    bars: [...FOUR, [0, 15, 21, 10], [23, 15, 21, 10]],
  },
  {
    name: "One width and height, gaps stretch",
    says: "short rows get wide gaps",
    part: { fit: "tall", align: "even", gives: "gaps" },
    bars: [...FOUR, [0, 15, 9, 10], [35, 15, 9, 10]],
  },
  {
    name: "One width and height, word spaces stretch",
    says: "words spread to both edges",
    part: { fit: "tall", align: "even", gives: "spaces" },
    bars: [...FOUR, [0, 15, 9, 10], [11, 15, 9, 10], [35, 15, 9, 10]],
  },
  {
    name: "One height, each its width",
    says: "rows end where they end",
    part: { fit: "tall", align: "centre" },
    bars: [...FOUR, [11, 15, 9, 10], [23, 15, 9, 10]],
  },
];

/** Rows of different length made one block; she chooses what may stretch by looking. */
function BlockPop({ line }: { line: Lettering }) {
  /** How large the rows are by their width and by their height only the server knows. */
  const choose = useMutation({
    mutationFn: ({ fit, align, gives = line.gives }: Block["part"]) =>
      askFor((design) => api.POST("/api/lines/block", { body: { design, line: line.id, fit, align, gives } })),
    onError: sayProblem,
  });
  return (
    <Pop
      label="Make an even block"
      width={270}
      trigger={
        <Button look="quiet" className={SMALL}>
          <Blocks size={13} /> Even block
        </Button>
      }
    >
      <p className="mb-2 text-soft">How the rows become one block:</p>
      <ul className="flex flex-col gap-1">
        {BLOCKS.map((block) => {
          const on = Object.entries(block.part).every(([key, value]) => line[key as keyof Lettering] === value);
          return (
            <li key={block.name}>
              <button
                type="button"
                aria-pressed={on}
                disabled={choose.isPending}
                onClick={() => choose.mutate(block.part)}
                className="flex w-full items-center gap-3 rounded-lg border border-transparent px-2 py-1.5 text-left hover:bg-plum-soft aria-pressed:border-plum"
              >
                <BlockPicture bars={block.bars} />
                <span className="leading-snug">
                  <span className="block font-semibold">{block.name}</span>
                  <span className="block text-soft">{block.says}</span>
                </span>
              </button>
            </li>
          );
        })}
      </ul>
    </Pop>
  );
}

function BlockPicture({ bars }: { bars: Block["bars"] }) {
  return (
    <svg aria-hidden viewBox="0 0 44 27" className="h-8 w-13 shrink-0">
      {bars.map(([x, y, width, height]) => (
        <rect key={`${x} ${y}`} x={x} y={y} width={width} height={height} className="fill-ink/75" />
      ))}
    </svg>
  );
}

/** The font's own forms and all its signs, chosen by looking. */
function GlyphsPop({ design, line }: { design: Design; line: Lettering }) {
  return (
    <Pop
      label="Forms and signs"
      width={356}
      trigger={
        <Button look="quiet" className={SMALL}>
          <Type size={13} /> Forms, signs
        </Button>
      }
    >
      <Tabs.Root defaultValue="forms">
        <Tabs.List aria-label="Forms and signs" className="mb-2 flex gap-1">
          {[
            ["forms", "Forms of this font"],
            ["signs", "All signs"],
          ].map(([id, name]) => (
            <Tabs.Trigger key={id} value={id ?? ""} className="rounded-full px-3 py-1 font-semibold text-soft data-[state=active]:bg-ink data-[state=active]:text-card">
              {name}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
        <Tabs.Content value="forms">
          <Features design={design} line={line} />
        </Tabs.Content>
        <Tabs.Content value="signs">
          <Signs line={line} />
        </Tabs.Content>
      </Tabs.Root>
    </Pop>
  );
}

function Features({ design, line }: { design: Design; line: Lettering }) {
  const features = useFeatures(design, line);
  const [changing, others] = [features.data?.filter((one) => one.changes) ?? [], features.data?.filter((one) => !one.changes) ?? []];

  function toggle(tag: string, on: boolean) {
    const rest = line.features.filter((one) => one !== tag && one !== `-${tag}`);
    change(line, { features: [...rest, on ? `-${tag}` : tag] });
  }

  if (features.isPending) return <p className="text-soft">Looking them up…</p>;
  return (
    <>
      <ul className="flex max-h-72 flex-col gap-1 overflow-y-auto">
        {changing.map((one) => (
          <li key={one.tag}>
            <button
              type="button"
              aria-pressed={one.on}
              onClick={() => toggle(one.tag, one.on)}
              className="w-full rounded-lg border border-line px-2 py-1.5 text-left hover:border-plum aria-pressed:border-plum aria-pressed:bg-plum-soft"
            >
              <span className="flex justify-between">
                <span className="font-semibold">{one.name}</span>
                <span className="text-soft">{one.on ? "on; without:" : "with:"}</span>
              </span>
              <Drawn d={one.d} box={one.box} fill="nonzero" align="xMinYMid" className="mt-1 h-7 w-full" />
            </button>
          </li>
        ))}
      </ul>
      {changing.length === 0 && <p className="text-soft">This font has no other forms for these words.</p>}
      {others.length > 0 && (
        <p className="mt-2 text-soft">For other words it has too: {others.map((one) => one.name.toLowerCase()).join(", ")}.</p>
      )}
    </>
  );
}

/** Sketches come with capitals 100 mm tall: room for descenders and accents keeps signs on one scale. */
function onOneScale(box: GlyphGroup["glyphs"][number]["box"]): typeof box {
  return box && [box[0], Math.min(box[1], -112), box[2], Math.max(box[3], 30)];
}

function Signs({ line }: { line: Lettering }) {
  const letter = useBench((state) => state.letter);
  const row = letter?.row ?? line.rows.length - 1;
  const glyphs = useGlyphs(line.rows[row]?.font ?? line.font);

  function add(text: string) {
    change(line, { rows: line.rows.map((one, i) => (i === row ? { ...one, text: `${one.text}${text}`.slice(0, 200) } : one)) });
  }

  if (glyphs.isPending) return <p className="text-soft">Drawing them…</p>;
  return (
    <div className="max-h-96 overflow-y-auto">
      <p className="mb-1 text-soft">A click adds a sign to the end of row {row + 1}.</p>
      {glyphs.data?.map((group) => (
        <section key={group.name}>
          <h3 className="mt-1.5 mb-1 font-semibold">{group.name}</h3>
          <ul className="grid grid-cols-8 gap-1">
            {group.glyphs.map((one) => (
              <li key={one.text}>
                <button
                  type="button"
                  title={one.name}
                  aria-label={`Add ${one.name}`}
                  onClick={() => add(one.text)}
                  className="grid size-9 place-items-center rounded-md border border-line p-1.5 hover:border-plum"
                >
                  <Drawn d={one.d} box={onOneScale(one.box)} fill="nonzero" className="size-full" />
                </button>
              </li>
            ))}
          </ul>
        </section>
      ))}
    </div>
  );
}

/** Where a variable font is on its axes. */
function Axes({ line }: { line: Lettering }) {
  const fonts = useFonts();
  const axes = fonts.data?.find((font) => font.id === line.font)?.axes ?? [];
  if (axes.length === 0) return null;
  return (
    <ul className="mt-1 rounded-lg border border-line bg-card px-2.5 py-1">
      {axes.map((axis) => (
        <li key={axis.tag} className="flex items-center justify-between">
          {axis.name}
          <NumberValue
            label={axis.name}
            value={line.axes[axis.tag] ?? axis.default}
            as={PLAIN}
            low={axis.low}
            high={axis.high}
            step={Math.max(1, Math.round((axis.high - axis.low) / 100))}
            onChange={(value) => change(line, { axes: { ...line.axes, [axis.tag]: value } })}
          />
        </li>
      ))}
    </ul>
  );
}
