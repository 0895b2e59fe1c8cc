"""Pieces picked by hand, found again whatever changes before them.

A piece is remembered by what it is: the things it comes from, the part of one of them it lies in (a letter,
a shape of a picture), and where in that part's own box it lies. A letter that moves, grows or is drawn by
another font takes the pick along.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np
import shapely
from pydantic import Field, FiniteFloat

from perigram.core.geometry import measure
from perigram.core.geometry.arrange import places_in
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.measure import Box
from perigram.core.geometry.region import Region
from perigram.core.recipe.kinds import Note
from perigram.core.recipe.parts import Made, Part
from perigram.core.recipe.values import Ref, Strict

#: A piece this many times as large or as small as the one that was picked may be another.
_OTHER_SIZE = 4.0
#: Where no piece lies where the picked one did, one is looked for within this share of its part's size.
_ASIDE = 0.25
#: Parts thinner than this many mm have no inside to measure in.
_FLAT = 1e-6


class Anchor(Strict):
    """A place on a thing: `at` in shares of the upright box of its part `part`, or of all of it."""

    of: Ref
    part: Annotated[list[int], Field(max_length=6)] = []
    at: tuple[FiniteFloat, FiniteFloat] = (0.5, 0.5)


class Pick(Strict):
    """A piece picked by hand, and the result it goes to; to none if that is empty.

    `parents` are the results it comes from, `share` its area as a part of its part's.
    """

    anchor: Anchor
    parents: Annotated[list[Ref], Field(max_length=60)] = []
    share: FiniteFloat = 1.0
    to: Annotated[str, Field(max_length=800)] = ""


Picks = Annotated[list[Pick], Field(max_length=400)]


@dataclass(frozen=True, eq=False)
class Piece:
    """What can be picked on the proof: its region, how it is found again and where it goes, its name."""

    region: Region
    pick: Pick
    name: str = ""


@dataclass(frozen=True, eq=False)
class _Place:
    """A part, or a whole result, as anchors see it: its box in its own frame."""

    ref: str
    path: tuple[int, ...]
    frame: Floats
    box: Box
    body: shapely.Geometry

    def at(self, anchor: Anchor) -> Floats:
        x0, y0, x1, y1 = self.box
        own = np.array([x0 + anchor.at[0] * (x1 - x0), y0 + anchor.at[1] * (y1 - y0)])
        return np.asarray(self.frame[:, :2] @ own + self.frame[:, 2])

    def anchor(self, point: Floats) -> Anchor:
        x0, y0, x1, y1 = self.box
        own = np.linalg.solve(self.frame[:, :2], point - self.frame[:, 2])
        at = (own - (x0, y0)) / np.maximum((x1 - x0, y1 - y0), _FLAT)
        return Anchor(of=self.ref, part=list(self.path), at=(round(float(at[0]), 5), round(float(at[1]), 5)))


class Places:
    """The parts of some results, to anchor places to."""

    def __init__(self, made: Mapping[str, Made]) -> None:
        self._found: list[_Place] = []
        for ref, one in made.items():
            whole = Part((), "", one.region, np.eye(2, 3))
            self._found += [place for part in (*one.parts(), whole) if (place := _placed(ref, part))]

    def anchor(self, point: Floats, refs: Sequence[str] = ()) -> tuple[Anchor, float] | None:
        """The smallest part round a point, or the nearest one, as an anchor; and that part's area."""
        own = [place for place in self._found if not refs or place.ref in refs]
        if not own:
            return None
        spot = shapely.points(point)
        bodies = np.array([place.body for place in own])
        away, size = shapely.distance(bodies, spot), shapely.area(bodies)
        place = own[int(np.lexsort((size, away))[0])]
        return place.anchor(point), float(shapely.area(place.body))

    def find(self, anchor: Anchor) -> tuple[Floats, float] | None:
        """Where an anchor lies now, and the size of its part in mm; None where that part is gone."""
        for place in self._found:
            if (place.ref, list(place.path)) == (anchor.of, anchor.part):
                x0, y0, x1, y1 = shapely.bounds(place.body)
                return place.at(anchor), float(np.hypot(x1 - x0, y1 - y0))
        return None


def _placed(ref: str, part: Part) -> _Place | None:
    if part.region.is_empty or abs(np.linalg.det(part.frame[:, :2])) < _FLAT:
        return None
    inverse = np.linalg.inv(part.frame[:, :2])
    upright = part.region.transformed(np.column_stack([inverse, -inverse @ part.frame[:, 2]]))
    box = measure.bounds(upright)
    assert box is not None
    return _Place(ref, part.path, part.frame, box, part.region.multipolygon)


def described(regions: Sequence[Region], parents: Sequence[Sequence[str]], places: Places) -> list[Pick]:
    """How each of some pieces would be found again: by a place well inside it."""
    picks = []
    for region, refs in zip(regions, parents, strict=True):
        # On coarse chords a piece may not be sound.
        body = shapely.make_valid(region.multipolygon)
        inside = shapely.get_coordinates(places_in(np.array([body], object)))[0]
        found = places.anchor(inside, refs)
        assert found is not None, "a piece lies in something"
        anchor, size = found
        share = round(measure.area(region) / max(size, _FLAT), 6)
        picks.append(Pick(anchor=anchor, parents=list(refs), share=share))
    return picks


def recognised(
    picks: Sequence[Pick], regions: Sequence[Region], own: Sequence[Pick], places: Places
) -> tuple[dict[int, Pick], list[Note]]:
    """Which pieces are the picked ones now, and what is not sure.

    Args:
        own: how each of the pieces describes itself.

    Returns:
        by the number of a piece, its pick; and a note for what may not be the one that was meant. What cannot
        be found any more counts for nothing, and is remembered in case it comes back.
    """
    found: dict[int, Pick] = {}
    notes: list[Note] = []
    bodies = np.array([region.multipolygon for region in regions])
    for pick in picks:
        where = places.find(pick.anchor)
        if where is None or len(bodies) == 0:
            continue
        point, size = where
        alike = np.array([set(one.parents) == set(pick.parents) for one in own])
        away = np.where(alike, shapely.distance(bodies, shapely.points(point)), np.inf)
        nearest = int(np.argmin(away))
        if away[nearest] > _ASIDE * size:
            continue
        found[nearest] = pick
        ratio = own[nearest].share / max(pick.share, _FLAT)
        if away[nearest] > 0.0 or not 1.0 / _OTHER_SIZE < ratio < _OTHER_SIZE:
            place = measure.bounds(regions[nearest])
            notes.append(
                Note("look", "This may not be the piece that was picked: look whether it is.", place)
            )
    return found, notes
