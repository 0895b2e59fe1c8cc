import type { Design, Line, Pick, Piece } from "../api/client";
import { show } from "../design/face";
import { useCalled } from "../state/shown";
import { useBench } from "../state/store";
import { tidied } from "../units";

const same = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other);
/** Picks without those of some pieces. */
const without = (picks: Pick[], pieces: Piece[]) => picks.filter((one) => !pieces.some((piece) => same(one.anchor, piece.pick.anchor)));

type Slicing = Extract<Line, { kind: "slice" }>;

/** Where pieces that are clicked go. */
function WhereTo({ line }: { design: Design; line: Slicing }) {
  const { pieceTo, setPieceTo } = useBench();
  const called = useCalled();
  const choices = [["", "dropped"], ...line.of.map((ref) => [ref, `to ${called(ref)}`])] as const;
  return (
    <div role="group" aria-label="Clicked pieces go" className="mt-1 flex flex-wrap items-center gap-1.5">
      <span>Clicked pieces are</span>
      {choices.map(([to, name]) => (
        <button
          key={to}
          type="button"
          aria-pressed={pieceTo === to}
          onClick={() => setPieceTo(to)}
          className="h-7 rounded-lg border border-line bg-card px-2 text-[12px] leading-none font-semibold whitespace-nowrap hover:border-plum aria-pressed:border-plum aria-pressed:text-plum"
        >
          {name}
        </button>
      ))}
    </div>
  );
}

show("slice", {
  Tools: WhereTo,
  pieces: {
    says: (_, piece) => (useBench.getState().pieceTo === piece.pick.to ? "a click puts it back" : useBench.getState().pieceTo ? "a click moves it" : "a click drops it"),
    clicked: (line, pieces, to) => {
      // All of them there already: they go back to where they would be.
      const back = pieces.every((piece) => piece.pick.to === to);
      const picks = without(line.picks, pieces);
      return { ...line, picks: back ? picks : [...picks, ...pieces.map((piece) => ({ ...piece.pick, to }))] };
    },
  },
});

show("keep_parts", {
  pieces: {
    says: (_, piece) => (piece.pick.to ? "a click drops it" : "a click keeps it"),
    clicked: (line, pieces) => {
      const picked = pieces.filter((piece) => (piece.pick.to !== "") === (line.keep === "only"));
      const picks = without(line.picks, pieces);
      // Clicked together they all go the way of the first: kept ones are dropped, or all come back.
      return { ...line, picks: picked.length ? picks : [...picks, ...pieces.map((piece) => ({ ...piece.pick, to: "" }))] };
    },
  },
});

show("move_pieces", {
  pieces: {
    stays: true,
    says: (_, piece) => (piece.pick.to ? "dragged it moves, a click lets go of it" : "a click takes it up, dragged it moves"),
    clicked: (line, pieces) => {
      const picks = without(line.picks, pieces);
      return { ...line, picks: pieces.every((piece) => piece.pick.to) ? picks : [...picks, ...pieces.map((piece) => ({ ...piece.pick, to: line.of }))] };
    },
    // A piece that moves already takes the others along; any other is taken up as it is dragged.
    dragged: (line, { pick }, [dx, dy]) => ({
      ...line,
      picks: pick.to ? line.picks : [...line.picks, { ...pick, to: line.of }],
      across: tidied(line.across + dx),
      down: tidied(line.down + dy),
    }),
  },
});

show("bridge", {
  pieces: {
    says: (_, piece) => (piece.pick.to ? "a click takes it away, dragged it goes along" : "a click brings it back"),
    clicked: (line, pieces) => {
      let { gone, own } = line;
      for (const { pick } of pieces) {
        if (own.some((one) => same(one, pick.anchor))) own = own.filter((one) => !same(one, pick.anchor));
        else if (gone.some((one) => same(one, pick.anchor))) gone = gone.filter((one) => !same(one, pick.anchor));
        else gone = [...gone, pick.anchor];
      }
      return { ...line, gone, own };
    },
    on: (line) => line.of,
    added: (line, anchor) => ({ ...line, own: [...line.own, anchor] }),
    moved: (line, { pick }, anchor) => {
      const own = line.own.filter((one) => !same(one, pick.anchor));
      const gone = own.length === line.own.length ? [...line.gone, pick.anchor] : line.gone;
      return { ...line, gone, own: [...own, anchor] };
    },
  },
});
