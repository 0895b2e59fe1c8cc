"""What a kind of line is, and what its function is given to work with."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Mapping
from dataclasses import dataclass, field
from typing import Any, Literal, Protocol, TypeVar

import numpy as np

from perigram.core.art.svg import Drawing
from perigram.core.geometry import measure
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.measure import Box
from perigram.core.geometry.offset import PROMISED, grow, misses
from perigram.core.geometry.parallel import Corners
from perigram.core.geometry.region import Region
from perigram.core.lettering.fonts import Font
from perigram.core.recipe.values import Line, Place

T = TypeVar("T")
Level = Literal["holds", "look", "stop"]


class Sources(Protocol):
    """Where fonts and pictures come from; raises FontError or PictureError for what is not there."""

    def font(self, font_id: str) -> Font: ...

    def drawing(self, picture_id: str) -> Drawing: ...

    def fonts_with(self, characters: str) -> list[str]:
        """Names of fonts that have all of the characters."""
        ...


@dataclass(frozen=True)
class Note:
    """Something a line has to say: `stop` where it cannot be cut, `look` where it needs a look,
    `holds` for what it did.
    """

    level: Level
    text: str
    #: the box in mm it is about, where it has one
    place: Box | None = None


@dataclass(frozen=True)
class Outcome:
    """What a line makes: named regions, and notes."""

    results: dict[str, Region]
    notes: list[Note] = field(default_factory=list)


@dataclass(frozen=True)
class Tools:
    """What a line's function works with besides its own values."""

    inputs: Mapping[str, Region]
    sources: Sources
    #: Computes a value once for equal keys; for the costly part of a line that the rest leaves alone.
    memo: Callable[[Hashable, Callable[[], Any]], Any]


@dataclass(frozen=True)
class Kind:
    """One kind of line: its values, its sentence, the trade words it is found by, its function."""

    model: type[Line]
    name: str
    sentence: str
    words: tuple[str, ...]
    #: result name -> how it is called after "line 3" in a sentence
    results: dict[str, str]
    run: Callable[[Any, Tools], Outcome]
    #: result name -> the value whose result it takes the place of: plies pass over to it when a line
    #: is added, and back when it is removed
    replaces: dict[str, str] = field(default_factory=dict)
    #: how a new ply for this line's result is called, and whether it lies under all others
    ply: str = ""
    underneath: bool = False

    @property
    def id(self) -> str:
        return str(self.model.model_fields["kind"].default)


def placed(region: Region, place: Place, tools: Tools) -> Region:
    """The region flipped and turned about its middle, and put where the place says."""
    box = measure.bounds(region)
    if box is None:
        return region
    centre = ((box[0] + box[2]) / 2, (box[1] + box[3]) / 2)
    turned = region.scaled(-1.0, 1.0).translated(2.0 * centre[0], 0.0) if place.flip else region
    turned = turned.rotated(place.rotate, *centre) if place.rotate else turned
    anchor = measure.bounds(tools.inputs[place.on]) if place.on else None
    if anchor is None:
        return turned.translated(place.x - centre[0], place.y - centre[1])
    own = measure.bounds(turned) or box
    # Turning is about the middle it had; level middles are those of the boxes as they were before it.
    mine_x = box if place.across == "middle" else own
    mine_y = box if place.down == "middle" else own
    dx = _related(place.across, (mine_x[0], mine_x[2]), (anchor[0], anchor[2]), place.x)
    dy = _related(place.down, (mine_y[1], mine_y[3]), (anchor[1], anchor[3]), place.y)
    return turned.translated(dx, dy)


def _related(how: str, own: tuple[float, float], anchor: tuple[float, float], by: float) -> float:
    """How far to move a thing from `own[0]` to `own[1]` so that it relates to the anchor as said."""
    if how in ("left", "top"):
        return anchor[0] + by - own[0]
    if how in ("right", "bottom"):
        return anchor[1] + by - own[1]
    if how in ("before", "above"):
        return anchor[0] - by - own[1]
    if how in ("after", "below"):
        return anchor[1] + by - own[0]
    return (anchor[0] + anchor[1]) / 2 + by - (own[0] + own[1]) / 2


def sized(region: Region, size: float, by: Literal["wide", "tall"]) -> Region:
    """The region scaled in proportion until it is `size` mm wide or tall."""
    box = measure.bounds(region)
    if box is None:
        return region
    now = box[2] - box[0] if by == "wide" else box[3] - box[1]
    return region.scaled(size / now, size / now)


def grown(
    tools: Tools, source: Region, distance: float, corners: Corners = "round", remains: float = 0.0
) -> tuple[Region, list[Note]]:
    """The source grown, and what to say where that could not be made as exact as promised.

    Computed once for a figure wherever it lies, so that moving one costs nothing here.
    """
    if source.is_empty or distance == 0.0:
        return source, []
    figure, x, y = source.at_origin()

    def make() -> tuple[Region, Floats]:
        made = grow(figure, distance, corners, remains=remains)
        return made, misses(figure, made, distance) if corners == "round" else np.zeros((0, 2))

    made, places = tools.memo(("grown", figure.digest(), distance, corners, remains), make)
    notes = []
    if len(places):
        px, py = (float(v) for v in places[0] + (x, y))
        what = "1 place" if len(places) == 1 else f"{len(places)} places"
        text = f"The outline is more than {PROMISED:g} mm off its distance in {what}"
        notes = [Note("look", text, (px, py, px, py))]
    return made.translated(x, y), notes
