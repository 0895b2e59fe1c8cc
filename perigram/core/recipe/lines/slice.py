"""Slice and keep parts: pieces told apart, and each kept, dropped or given to another ply by a click."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import partial
from typing import Annotated, Literal

import numpy as np
import shapely
from pydantic import Field, FiniteFloat

from perigram.core.combine.leavings import without_leavings
from perigram.core.geometry import measure
from perigram.core.geometry.clean import Removed
from perigram.core.geometry.overlay import Slice as Sliced
from perigram.core.geometry.overlay import overlap, slice_apart, weld
from perigram.core.geometry.region import Region
from perigram.core.recipe.kinds import Kind, Note, Outcome, Start, Tools, on_one
from perigram.core.recipe.leaving import leaving, said_of
from perigram.core.recipe.pieces import Picks, Piece, Places, described, recognised
from perigram.core.recipe.values import Line, Ref, slot

#: More pieces than this are neither shown nor picked one by one.
MOST_PIECES = 3_000
#: Pieces within this many mm of a part's edge lie beside it.
_ALONG = 0.05


class Slice(Line):
    kind: Literal["slice"] = "slice"
    of: Annotated[list[Ref], Field(max_length=12)] = slot("refs", "What is sliced", [])
    picks: Picks = slot("picks", "Pieces", [])
    least: FiniteFloat = leaving()


class KeepParts(Line):
    kind: Literal["keep_parts"] = "keep_parts"
    of: Ref = slot("ref", "Of what", "")
    keep: Literal["all", "only"] = slot(
        "choice", "Which pieces are kept", "all", choices={"all": "all but", "only": "only"}
    )
    picks: Picks = slot("picks", "Pieces", [])


def _sliced(line: Slice, tools: Tools) -> Outcome:
    """Every piece goes with the last of the things it lies in, unless it was picked."""
    given = [tools.region(ref) for ref in line.of]
    key = ("slices", line.least, *(one.digest() for one in given))
    slices, removed = tools.memo(key, lambda: _slices(given, line.least))
    regions = [one.region for one in slices]
    parents = [[line.of[i] for i in sorted(one.parents)] for one in slices]
    if len(regions) > MOST_PIECES:
        return Outcome({}, [too_many(len(regions))])
    places = Places({ref: tools.inputs[ref] for ref in line.of})
    own = described(regions, parents, places)
    picked, notes = recognised(line.picks, regions, own, places)
    pieces = []
    for i, (region, pick) in enumerate(zip(regions, own, strict=True)):
        own_pick = picked.get(i) or pick.model_copy(update={"to": pick.parents[-1]})
        to = own_pick.to if own_pick.to in line.of else ""
        pieces.append(Piece(region, own_pick.model_copy(update={"to": to})))
    results = {}
    for ref in line.of:
        region = weld([one.region for one in pieces if one.pick.to == ref])
        results[ref] = tools.inputs[ref].reduced(region, partial(overlap, region))
    dropped = sum(not one.pick.to for one in pieces)
    says = ("1 piece" if len(pieces) == 1 else f"{len(pieces)} pieces") + (
        f", {dropped} dropped" if dropped else ""
    )
    return Outcome(
        results,
        [Note("holds", says), *said_of(removed, line.least, "given to what lies beside"), *notes],
        pieces=pieces,
    )


def _slices(given: Sequence[Region], least: float) -> tuple[list[Sliced], list[Removed]]:
    """Pieces of things cut by each other; what the cut left too thin goes to a piece beside it."""
    pieces = slice_apart(given)
    together = weld(given)
    removed: list[Removed] = []
    for at, piece in enumerate(pieces):
        cleared = without_leavings(piece.region, together, least)
        if not cleared.removed:
            continue
        removed += cleared.removed
        pieces[at] = replace(piece, region=cleared.region)
        for part in cleared.gone.pieces():
            to = _beside(part, pieces, at)
            if to is not None:
                pieces[to] = replace(pieces[to], region=weld([pieces[to].region, part]))
    return [one for one in pieces if not one.region.is_empty], removed


def _beside(part: Region, pieces: Sequence[Sliced], but: int) -> int | None:
    """The piece that runs along most of a part's edge, if any does."""
    edge = shapely.buffer(part.multipolygon, _ALONG)
    along = [
        0.0 if i == but or one.region.is_empty else shapely.intersection(one.region.multipolygon, edge).area
        for i, one in enumerate(pieces)
    ]
    most = int(np.argmax(along))
    return most if along[most] > 0.0 else None


def _kept(line: KeepParts, tools: Tools) -> Outcome:
    made = tools.inputs[line.of]
    regions: Sequence[Region] = made.region.pieces()
    if len(regions) > MOST_PIECES:
        return Outcome({}, [too_many(len(regions))])
    places = Places({line.of: made})
    own = described(regions, [[line.of]] * len(regions), places)
    picked, notes = recognised(line.picks, regions, own, places)
    pieces = []
    for i, (region, pick) in enumerate(zip(regions, own, strict=True)):
        kept = (i in picked) == (line.keep == "only")
        pieces.append(Piece(region, picked.get(i, pick).model_copy(update={"to": line.of if kept else ""})))
    left = Region.joined([one.region for one in pieces if one.pick.to])
    dropped = [one for one in pieces if not one.pick.to]
    if dropped:
        place = measure.bounds(dropped[0].region)
        notes = [Note("holds", f"{len(pieces) - len(dropped)} of {len(pieces)} pieces kept", place), *notes]
    return Outcome({"parts": made.reduced(left, partial(overlap, left))}, notes, pieces=pieces)


def too_many(count: int) -> Note:
    """A stop for more pieces than can be told apart."""
    return Note(
        "stop", f"{count:,} pieces are too many to pick from; up to {MOST_PIECES:,} can be told apart."
    )


def _two(start: Start) -> dict[str, object]:
    tool, of = start.pair()
    return {"of": [*of, *tool] or list(start.free)}


SLICE = Kind(
    Slice,
    name="Slice",
    sentence="Slice {of} by each other, {picks} picked by hand, leaving nothing under {least}",
    words=("slice", "divide", "pieces", "split", "cut up", "trim", "knife", "parts"),
    results={},
    run=_sliced,
    each=("of",),
    starts=_two,
)

KEEP_PARTS = Kind(
    KeepParts,
    name="Keep parts",
    sentence="Keep of {of} {keep} the pieces that are clicked, {picks} so far",
    words=("keep", "parts", "pieces", "pick", "drop", "delete", "break apart", "ungroup", "select"),
    results={"parts": "parts"},
    run=_kept,
    replaces={"parts": "of"},
    starts=on_one,
)
