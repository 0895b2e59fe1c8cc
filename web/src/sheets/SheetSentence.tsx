import type { Design } from "../api/client";
import { NumberValue } from "../fields/NumberValue";
import { RangedValue } from "../fields/RangedValue";
import { gesture } from "../state/store";
import { Pick } from "../ui/Pick";
import { lengthIn, PLAIN } from "../units";

type Settings = Design["sheets"];

const LAYOUTS = { registered: "registered", packed: "packed" };
const KEEPS = { designs: "whole designs", pieces: "loose pieces" };
const MARKS = { none: "no marks", crosses: "crosses", corners: "corners", pins: "pin holes" };
const TURNED = { yes: "turned where that saves", no: "never turned" };
const ACROSS = { yes: "cuts through large waste", no: "no cuts through waste" };
const FIRST_ACROSS = 40;
const FRAME = { yes: "a frame along the edges", no: "no frame" };
const SPLIT = { no: "not laid out", butt: "cut in parts that meet", overlap: "cut in parts that overlap" };
const BORDER = { yes: "a weeding border", no: "no border" };

/** How plies are laid, read as a sentence. */
export function SheetSentence({ design }: { design: Design }) {
  const settings = design.sheets;
  const set = (part: Partial<Settings>) => gesture.change((now) => ({ ...now, sheets: { ...now.sheets, ...part } }));
  const length = lengthIn(design.unit);
  const packed = settings.layout === "packed";
  return (
    <div className="border-t border-line pt-3 leading-[1.9]">
      <p>
        Make{" "}
        <NumberValue label="How many" value={settings.copies} as={PLAIN} low={1} high={500} step={1} onChange={(copies) => set({ copies: Math.round(copies) })} />
        , plies <Pick label="Layout" value={settings.layout} choices={LAYOUTS} onChange={(layout) => set({ layout: layout as Settings["layout"] })} />
        {packed && (
          <>
            {" "}
            as <Pick label="What stays together" value={settings.keeps} choices={KEEPS} onChange={(keeps) => set({ keeps: keeps as Settings["keeps"] })} />,{" "}
            <Pick label="Turning" value={settings.turned ? "yes" : "no"} choices={TURNED} onChange={(yes) => set({ turned: yes === "yes" })} />
          </>
        )}
        , <RangedValue of="Sheets.edge" label="From the edge" value={settings.edge} as={length} onChange={(edge) => set({ edge })} /> from the edge and{" "}
        <RangedValue of="Sheets.apart" label="Apart" value={settings.apart} as={length} onChange={(apart) => set({ apart })} /> apart
        {!(packed && settings.keeps === "pieces") && (
          <>
            , <Pick label="Marks" value={settings.marks} choices={MARKS} onChange={(marks) => set({ marks: marks as Settings["marks"] })} />
            {settings.marks !== "none" && " at the corners"}
          </>
        )}
        , <Pick label="Weeding border" value={settings.border ? "yes" : "no"} choices={BORDER} onChange={(yes) => set({ border: yes === "yes" })} /> round each
        {settings.border && (
          <>
            {" "}
            with <Pick label="Lines through waste" value={settings.across > 0 ? "yes" : "no"} choices={ACROSS} onChange={(yes) => set({ across: yes === "yes" ? FIRST_ACROSS : 0 })} />
            {settings.across > 0 && (
              <>
                {" "}
                every <RangedValue of="Sheets.across" label="Between lines" value={settings.across} as={length} onChange={(across) => set({ across })} />
              </>
            )}
          </>
        )}
        , <Pick label="Frame" value={settings.frame ? "yes" : "no"} choices={FRAME} onChange={(yes) => set({ frame: yes === "yes" })} />.
      </p>
      {!packed && (
        <p>
          What is too large for its sheet is{" "}
          <Pick label="Too large" value={settings.split} choices={SPLIT} onChange={(split) => set({ split: split as Settings["split"] })} />
          {settings.split === "overlap" && (
            <>
              {" "}
              by <RangedValue of="Sheets.overlap" label="Overlap" value={settings.overlap} as={length} onChange={(overlap) => set({ overlap })} />
            </>
          )}
          .
        </p>
      )}
      <p className="mt-2 leading-snug text-soft">
        {packed
          ? "Packed: each ply is laid so that little of its material is used up."
          : "Registered: every ply lies at the same place of its sheet, so marks go over marks."}
      </p>
    </div>
  );
}
