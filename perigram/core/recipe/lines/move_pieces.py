"""Move pieces: pieces of a thing moved, turned and sized by themselves, the rest left as it is."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Literal

import numpy as np
from pydantic import FiniteFloat

from perigram.core.geometry import measure
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.measure import Box
from perigram.core.geometry.overlay import cut_away, overlap, weld
from perigram.core.geometry.region import Region
from perigram.core.recipe.kinds import Handle, Kind, Note, Outcome, Shaping, Tools, on_one
from perigram.core.recipe.lines.slice import MOST_PIECES, too_many
from perigram.core.recipe.parts import Made, Part
from perigram.core.recipe.pieces import Pick, Picks, Piece, Places, described, recognised
from perigram.core.recipe.values import Line, Ref, angle, length, limits, percent, slot


class MovePieces(Line):
    kind: Literal["move_pieces"] = "move_pieces"
    of: Ref = slot("ref", "Of what", "")
    picks: Picks = slot("picks", "Pieces", [])
    across: FiniteFloat = length("Moved to the right", 0.0, low=-3000.0, high=3000.0)
    down: FiniteFloat = length("Moved down", 0.0, low=-3000.0, high=3000.0)
    turn: FiniteFloat = angle("Turned clockwise", 0.0, low=-360.0, high=360.0)
    size: FiniteFloat = percent("Size", 100.0, low=5.0, high=1000.0)


def run(line: MovePieces, tools: Tools) -> Outcome:
    made = tools.inputs[line.of]
    regions = made.region.pieces()
    if len(regions) > MOST_PIECES:
        return Outcome({}, [too_many(len(regions))])
    places = Places({line.of: made})
    own = described(regions, [[line.of]] * len(regions), places)
    picked, notes = recognised(line.picks, regions, own, places)
    chosen = Region.joined([regions[i] for i in sorted(picked)])
    box = measure.bounds(chosen)
    if box is None:
        notes.append(Note("look", "No piece is picked yet. Click one on the proof, or drag it."))
        return Outcome({"moved": made}, notes, pieces=_pieces(line, regions, own, {}, np.eye(2, 3)))
    matrix = _map(line, box)
    pieces = _pieces(line, regions, own, picked, matrix)
    stays = Region.joined([one.region for one in pieces if not one.pick.to])
    moved = Region.joined([one.region for one in pieces if one.pick.to])
    region = weld([stays, moved])
    if measure.area(region) < (measure.area(stays) + measure.area(moved)) * (1.0 - 1e-9) - 1e-6:
        notes.append(
            Note("look", "A moved piece lies over others: they are one piece now", measure.bounds(moved))
        )

    def parts() -> list[Part]:
        return [_part(part, chosen, matrix) for part in made.parts()]

    result = Made(region, parts, made.levels)
    return Outcome({"moved": result}, notes, shaping=_shaping(line, box, matrix), pieces=pieces)


def _map(line: MovePieces, box: Box) -> Floats:
    """The (2, 3) map of the picked pieces: sized and turned about their middle, then moved."""
    at = np.radians(line.turn)
    turn = line.size / 100.0 * np.array([[np.cos(at), -np.sin(at)], [np.sin(at), np.cos(at)]])
    middle = np.array(measure.middle(box))
    return np.column_stack([turn, middle - turn @ middle + (line.across, line.down)])


def _pieces(
    line: MovePieces,
    regions: Sequence[Region],
    own: Sequence[Pick],
    picked: Mapping[int, Pick],
    matrix: Floats,
) -> list[Piece]:
    """All pieces where they lie now; a pick goes to the result it moves in, any other to none."""
    return [
        Piece(
            region.transformed(matrix).without_flat_loops() if i in picked else region,
            picked.get(i, own[i]).model_copy(update={"to": line.of if i in picked else ""}),
        )
        for i, region in enumerate(regions)
    ]


def _part(part: Part, chosen: Region, matrix: Floats) -> Part:
    """A part with what of it is moved; its frame goes along where all of it does."""
    goes, stays = overlap(part.region, chosen), cut_away(part.region, chosen)
    if goes.is_empty:
        return part
    put = goes.transformed(matrix).without_flat_loops()
    if not stays.is_empty:
        return replace(part, region=weld([stays, put]))
    frame = np.vstack([matrix, [0.0, 0.0, 1.0]]) @ np.vstack([part.frame, [0.0, 0.0, 1.0]])
    return replace(part, region=put, frame=frame[:2])


def _shaping(line: MovePieces, box: Box, matrix: Floats) -> Shaping:
    """Handles above the pieces that turn them, and at their corner that size them."""
    half = np.array([box[2] - box[0], box[3] - box[1]]) / 2.0
    middle = np.array(measure.middle(box))
    put = matrix[:, :2] @ middle + matrix[:, 2]
    top, corner = (
        tuple(float(one) for one in matrix[:, :2] @ (middle + half * way) + matrix[:, 2])
        for way in ((0.0, -1.0), (1.0, 1.0))
    )
    reach = np.array(corner) - put
    low, high = limits(MovePieces, "size")
    along = line.size * reach / max(float(reach @ reach), 1e-9)
    about = (float(put[0]), float(put[1]))
    turned = Handle(
        "turn", "Turn the pieces", (top[0], top[1]), (line.turn,), (360.0, 0.0), about,
        low=-360.0, high=360.0, reads="angle",
    )  # fmt: skip
    sized = Handle(
        "size", "Size the pieces", (corner[0], corner[1]), (line.size,), (float(along[0]), float(along[1])),
        low=low, high=high, reads="percent",
    )  # fmt: skip
    return Shaping([turned, sized])


KIND = Kind(
    MovePieces,
    name="Move pieces",
    sentence="Move {picks} of {of} by {across} to the right and {down} down, turned {turn}, "
    "at {size} of their size",
    words=("move", "pull apart", "nudge", "turn a piece", "rotate", "resize", "shift", "separate", "spread"),
    results={"moved": "moved pieces"},
    run=run,
    replaces={"moved": "of"},
    starts=on_one,
)
