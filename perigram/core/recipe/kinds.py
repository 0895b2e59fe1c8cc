"""What a kind of line is, and what its function is given to work with."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal, Protocol, TypeVar

import numpy as np

from perigram.core.art.svg import Drawing
from perigram.core.geometry import measure
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.finish import without_hairs
from perigram.core.geometry.measure import Box
from perigram.core.geometry.offset import PROMISED, grow, misses
from perigram.core.geometry.overlay import fill_holes
from perigram.core.geometry.parallel import Corners
from perigram.core.geometry.region import Region
from perigram.core.lettering.fonts import Font
from perigram.core.recipe.values import Line, Place

T = TypeVar("T")
Level = Literal["holds", "look", "stop"]


class Sources(Protocol):
    """Where fonts and pictures come from; raises FontError or PictureError for what is not there."""

    @property
    def state(self) -> str:
        """Another one whenever fonts come or go, or a name of one, or of a picture, stands for another."""
        ...

    def font(self, font_id: str, axes: Mapping[str, float]) -> Font:
        """A font, a variable one at a place on its axes."""
        ...

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
    #: what would put it right: how that is called, and values of its line
    mend: tuple[str, dict[str, str]] | None = None


@dataclass(frozen=True)
class Piece:
    """One letter of a lettering where it lies, to be picked by itself: its row and its first
    character's place in that row as typed, both from 0.
    """

    row: int
    at: int
    text: str
    region: Region


@dataclass(frozen=True)
class Outcome:
    """What a line makes: named regions, and notes.

    Attributes:
        pieces: what can be picked by itself, worked out when asked for.
        levels: heights (y in mm) that other things may be lined up with: baselines and cap heights.
    """

    results: dict[str, Region]
    notes: list[Note] = field(default_factory=list)
    pieces: Callable[[], list[Piece]] = list
    levels: list[float] = field(default_factory=list)


@dataclass(frozen=True)
class Tools:
    """What a line's function works with besides its own values."""

    inputs: Mapping[str, Region]
    sources: Sources
    #: Computes a value once for equal keys; for the costly part of a line that the rest leaves alone.
    memo: Callable[[Hashable, Callable[[], Any]], Any]


@dataclass(frozen=True)
class Start:
    """What a new line finds on the bench.

    Attributes:
        free: results that no line has taken the place of yet, oldest first.
        on: the result it was asked for on, where it was.
        picture, height: the picture it is for, and how tall that is in mm.
    """

    free: Sequence[str] = ()
    on: str | None = None
    picture: str | None = None
    height: float | None = None


Side = Literal["width", "height"]


def by_size(line: Any, ratio: float, side: Side) -> dict[str, float]:
    """A line with one figure for its size, made so many times as large."""
    return {"size": round(line.size * ratio, 4)}


@dataclass(frozen=True)
class Kind:
    """One kind of line: its values, its sentence, the trade words it is found by, its function.

    In a sentence `{size}` is a value. `[figure=heart:words]` is said only where that value is so, and
    `[rows>1:words]` only where there are more than so many of it: what does not count is not said.
    """

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
    #: values of a new line that depend on what is on the bench
    starts: Callable[[Start], dict[str, object]] = lambda start: {}
    #: values of a line that is to be so many times as wide or tall; others follow in proportion
    resized: Callable[[Any, float, Side], dict[str, float]] = by_size

    @property
    def id(self) -> str:
        return str(self.model.model_fields["kind"].default)


def placed(region: Region, place: Place, tools: Tools) -> Region:
    """The region flipped and turned about its middle, and put where the place says."""
    return region.transformed(placing(region, place, tools))


def placing(region: Region, place: Place, tools: Tools) -> Floats:
    """The (2, 3) map that puts a region where its place says."""
    box = measure.bounds(region)
    if box is None:
        return np.eye(2, 3)
    cx, cy = (box[0] + box[2]) / 2, (box[1] + box[3]) / 2
    c, s = np.cos(np.radians(place.rotate)), np.sin(np.radians(place.rotate))
    linear = np.array([[c, -s], [s, c]]) @ np.diag([-1.0 if place.flip else 1.0, 1.0])
    turned = np.column_stack([linear, (cx, cy) - linear @ (cx, cy)])
    anchor = measure.bounds(tools.inputs[place.on]) if place.on else None
    if anchor is None:
        turned[:, 2] += (place.x - cx, place.y - cy)
        return turned
    own = box
    if place.rotate or place.flip:
        own = measure.bounds(region.transformed(turned)) or box
    # Turning is about the middle it had; level middles are those of the boxes as they were before it.
    mine_x = box if place.across == "middle" else own
    mine_y = box if place.down == "middle" else own
    dx = _related(place.across, (mine_x[0], mine_x[2]), (anchor[0], anchor[2]), place.x)
    dy = _related(place.down, (mine_y[1], mine_y[3]), (anchor[1], anchor[3]), place.y)
    turned[:, 2] += (dx, dy)
    return turned


def matched(place: Place, tools: Tools) -> tuple[float | None, float | None]:
    """The width and height in mm a thing takes over from others, where it does."""
    wide, tall = (
        measure.bounds(tools.inputs[ref]) if ref else None for ref in (place.as_wide, place.as_tall)
    )
    return wide and wide[2] - wide[0], tall and tall[3] - tall[1]


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


def sized(region: Region, wide: float | None, tall: float | None, stretch: float = 1.0) -> Region:
    """The region scaled until it is so many mm wide, tall or both; `stretch` is width over height
    where one of them leaves the other to follow.
    """
    box = measure.bounds(region)
    if box is None:
        return region
    width, height = box[2] - box[0], box[3] - box[1]
    if wide and tall:
        return region.scaled(wide / width, tall / height)
    if wide:
        return region.scaled(wide / width, wide / width / stretch)
    share = (tall or height) / height
    return region.scaled(share * stretch, share)


def grown(
    tools: Tools,
    source: Region,
    distance: float,
    corners: Corners = "round",
    remains: float = 0.0,
    filled: bool = False,
) -> tuple[Region, list[Note]]:
    """The source grown, with its holes filled if asked for, and what to say where that could not be made
    as exact as promised.

    Computed once for a figure wherever it lies, so that moving one costs nothing here.
    """
    if source.is_empty or (distance == 0.0 and not filled):
        return source, []
    if distance == 0.0:
        return fill_holes(without_hairs(source)), []
    figure, x, y = source.at_origin()

    def make() -> tuple[Region, Floats]:
        # What is too thin to be cut is no part of what is grown: a hair would come out as broad as the rest,
        # and what only a hair closes is no hole.
        solid = without_hairs(figure)
        solid = fill_holes(solid) if filled else solid
        made = grow(solid, distance, corners, remains=remains)
        return made, misses(solid, made, distance) if corners == "round" else np.zeros((0, 2))

    made, places = tools.memo(("grown", figure.digest(), distance, corners, remains, filled), make)
    notes = []
    if len(places):
        px, py = (float(v) for v in places[0] + (x, y))
        what = "1 place" if len(places) == 1 else f"{len(places)} places"
        text = f"The outline is more than {PROMISED:g} mm off its distance in {what}"
        notes = [Note("look", text, (px, py, px, py))]
    return made.translated(x, y), notes
