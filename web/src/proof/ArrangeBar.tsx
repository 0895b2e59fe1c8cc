import { useMutation } from "@tanstack/react-query";
import {
  AlignCenterHorizontal,
  AlignCenterVertical,
  AlignEndHorizontal,
  AlignEndVertical,
  AlignHorizontalDistributeCenter,
  AlignHorizontalSpaceBetween,
  AlignStartHorizontal,
  AlignStartVertical,
  AlignVerticalDistributeCenter,
  AlignVerticalSpaceBetween,
  FlipHorizontal2,
  FlipVertical2,
  Lock,
  LockOpen,
  type LucideIcon,
  MoveHorizontal,
  MoveVertical,
  RotateCcwSquare,
  RotateCwSquare,
  Shapes,
} from "lucide-react";
import { useState } from "react";
import { type Arrangement, type ArrangeTo, api, type Design, type Line, type Place } from "../api/client";
import { withLine } from "../design/edits";
import { flipped, turned, upended, withEachPlace } from "../design/placing";
import { askFor } from "../state/ask";
import { useBench } from "../state/store";
import { Button } from "../ui/Button";
import { IconButton } from "../ui/IconButton";
import { sayProblem } from "../ui/notices";
import { Pick } from "../ui/Pick";
import { Pop } from "../ui/Pop";
import { Toggle } from "../ui/Toggle";
import { heldStill } from "../state/heldStill";

type Action = [Arrangement, string, LucideIcon];

const GROUPS: { name: string; actions: Action[] }[] = [
  {
    name: "Line up",
    actions: [
      ["left", "Left edges level", AlignStartVertical],
      ["centre", "Middles level across", AlignCenterVertical],
      ["right", "Right edges level", AlignEndVertical],
      ["top", "Tops level", AlignStartHorizontal],
      ["middle", "Middles level up and down", AlignCenterHorizontal],
      ["bottom", "Bottoms level", AlignEndHorizontal],
    ],
  },
  {
    name: "Spread evenly",
    actions: [
      ["centres across", "Middles evenly across", AlignHorizontalDistributeCenter],
      ["space across", "Clear space evenly across", AlignHorizontalSpaceBetween],
      ["centres down", "Middles evenly down", AlignVerticalDistributeCenter],
      ["space down", "Clear space evenly down", AlignVerticalSpaceBetween],
    ],
  },
  {
    name: "Same size",
    actions: [
      ["width", "As wide", MoveHorizontal],
      ["height", "As tall", MoveVertical],
    ],
  },
];
const TURNS: [string, (place: Place) => Place, LucideIcon][] = [
  ["Flip sideways", flipped, FlipVertical2],
  ["Flip upside down", upended, FlipHorizontal2],
  ["A quarter turn left", (place) => turned(place, -90), RotateCcwSquare],
  ["A quarter turn right", (place) => turned(place, 90), RotateCwSquare],
];
const SPREADS: Arrangement[] = ["centres across", "space across", "centres down", "space down"];
const TO: Record<ArrangeTo, string> = { "each other": "each other", design: "the whole design", ground: "the ground" };

/** Lines up, spreads and matches what is chosen: once, or held from now on. */
function Bar({ design, lines }: { design: Design; lines: Line[] }) {
  const [asked, setTo] = useState<ArrangeTo>("each other");
  const [hold, setHold] = useState(false);
  const { change, arranging, arrange: openArranging } = useBench();
  const to = lines.length === 1 && asked === "each other" ? "design" : asked;
  const arrange = useMutation({
    mutationFn: (how: Arrangement) =>
      askFor((design) =>
        api.POST("/api/lines/arrange", {
          body: { design, lines: lines.map((line) => line.id), how, to, hold: hold && to === "each other" },
        }),
      ),
    onError: sayProblem,
  });
  const locked = lines.every((line) => line.locked);
  const choices = lines.length === 1 ? { design: TO.design, ground: TO.ground } : TO;

  return (
    <div className="absolute top-2.5 left-8 flex items-center gap-0.5 rounded-lg border border-line bg-card p-0.5">
      <Pop
        label="Arrange"
        open={arranging}
        onOpenChange={openArranging}
        width={292}
        trigger={
          <Button look="quiet" className="h-7 px-2">
            <Shapes size={14} /> Arrange
          </Button>
        }
      >
        <div className="grid grid-cols-[auto_1fr] items-center gap-x-4 gap-y-2">
          <span>Against</span>
          <Pick label="Against" look="field" value={to} choices={choices} onChange={(value) => setTo(value as ArrangeTo)} />
        </div>
        {GROUPS.map((group) => (
          <fieldset key={group.name} className="mt-2.5">
            <legend className="text-soft">{group.name}</legend>
            <div className="mt-0.5 flex flex-wrap gap-1">
              {group.actions.map(([how, label, Icon]) => (
                <IconButton
                  key={how}
                  label={label}
                  disabled={arrange.isPending || (SPREADS.includes(how) && lines.length < 3)}
                  className="size-8! border border-line"
                  onClick={() => arrange.mutate(how)}
                >
                  <Icon size={16} />
                </IconButton>
              ))}
            </div>
          </fieldset>
        ))}
        <fieldset className="mt-2.5">
          <legend className="text-soft">Flip and turn, each by itself</legend>
          <div className="mt-0.5 flex flex-wrap gap-1">
            {TURNS.map(([label, edit, Icon]) => (
              <IconButton
                key={label}
                label={label}
                disabled={locked}
                className="size-8! border border-line"
                onClick={() => change((now) => withEachPlace(now, lines.map((line) => line.id), edit))}
              >
                <Icon size={16} />
              </IconButton>
            ))}
          </div>
        </fieldset>
        {to === "each other" ? (
          <div className="mt-3">
            <Toggle label="Hold it from now on" on={hold} onChange={setHold} />
            <p className="mt-1 text-soft">
              {hold ? "The others follow the first of them in the recipe, and say so in their sentence." : "The first of them in the recipe stays; the others move once."}
            </p>
          </div>
        ) : (
          <p className="mt-3 text-soft">
            {to === "ground" && !design.ground.width ? "The ground has no size yet: its middle counts. Give it one under Plies." : "Each moves by itself, once."}
          </p>
        )}
      </Pop>
      <IconButton
        label={locked ? "Unlock" : "Lock in place"}
        onClick={() =>
          change((now) => lines.reduce((next, line) => withLine(next, line.id, (one) => ({ ...one, locked: !locked })), now))
        }
      >
        {locked ? <Lock size={14} /> : <LockOpen size={14} />}
      </IconButton>
    </div>
  );
}

export const ArrangeBar = heldStill(Bar);
