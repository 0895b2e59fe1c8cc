"""Texture: an area filled with a pattern, clipped to it without slivers."""

from __future__ import annotations

from collections.abc import Hashable
from typing import Annotated, Literal

import numpy as np
import shapely
from pydantic import Field, FiniteFloat

from perigram.core.combine.leavings import without_leavings
from perigram.core.combine.texture import Over, laid, tiled
from perigram.core.geometry import measure
from perigram.core.geometry.bezier import Bools, Floats
from perigram.core.geometry.clean import drop_bits
from perigram.core.geometry.finish import without_hairs
from perigram.core.geometry.flat import prepared
from perigram.core.geometry.overlay import cut_away, divide
from perigram.core.geometry.region import Region
from perigram.core.recipe.kinds import Handle, Kind, Note, Outcome, Shaping, Tools, on_one
from perigram.core.recipe.leaving import said_of
from perigram.core.recipe.parts import Made
from perigram.core.recipe.placing import sizing
from perigram.core.recipe.values import Line, Ref, angle, length, slot

Point = tuple[FiniteFloat, FiniteFloat]


class Texture(Line):
    kind: Literal["texture"] = "texture"
    of: Ref = slot("ref", "What is filled", "")
    pattern: Literal["scales", "stripes", "dots", "checks", "waves", "bricks", "picture"] = slot(
        "choice",
        "Pattern",
        "scales",
        choices={
            "scales": "scales",
            "stripes": "stripes",
            "dots": "dots",
            "checks": "checks",
            "waves": "waves",
            "bricks": "bricks",
            "picture": "a picture,",
        },
    )
    picture: Annotated[str, Field(max_length=80)] = slot(
        "picture", "Picture that is repeated", "", optional=True
    )
    size: FiniteFloat = length("Size of a tile", 8.0, low=0.5, high=500.0, step=0.5)
    clear: FiniteFloat = length("Clear between tiles", 1.0, low=0.1, high=100.0, measure=True)
    turn: FiniteFloat = angle("Turned by", 0.0, low=-180.0, high=180.0)
    least: FiniteFloat = length("Pieces narrower than", 1.0, low=0.0, high=50.0, measure=True)
    #: how far the pattern is shifted, in mm
    shift: Point = Field((0.0, 0.0), json_schema_extra={"scales": "size"})


def run(line: Texture, tools: Tools) -> Outcome:
    source = tools.region(line.of)
    box = measure.bounds(source)
    if box is None:
        return Outcome({"texture": Made(source), "rest": Made(source)})
    if line.pattern == "picture" and not line.picture:
        # What is to be filled shows meanwhile, and one cause is said once.
        nothing = [Note("stop", "No picture chosen yet. Choose one whose shapes are repeated.")]
        return Outcome({"texture": Made(source), "rest": Made(Region.empty())}, nothing)
    # Laid level, then turned about the box's middle: tiles that come to lie on the thing are wanted.
    middle = measure.middle(box)
    half = np.array([box[2] - box[0], box[3] - box[1]]) / 2.0
    onto = _turned(line.turn, middle, line.shift)

    body = prepared(source.multipolygon)

    def wanted(places: Floats, reach: float) -> Bools:
        there = shapely.points(places @ onto[:, :2].T + onto[:, 2])
        return np.asarray(shapely.dwithin(body, there, reach))

    over = Over(float(np.hypot(*half) + np.hypot(*line.shift)), wanted)
    tiles = _laid(line, tools, over, (source.digest(), *line.shift, line.turn)).transformed(onto)
    rest, texture = divide(source, tiles)
    # What only a hair holds would come off when it is made fit to be cut, and be a bit then.
    texture, dropped = drop_bits(without_hairs(texture), line.least)
    cleared = without_leavings(texture, tiles, line.least)
    texture, strands = cleared.region, cleared.removed
    notes = []
    if dropped or strands:
        rest = cut_away(source, texture)
    if dropped:
        what = "1 piece" if len(dropped) == 1 else f"{len(dropped)} pieces"
        notes = [Note("holds", f"{what} under {line.least:g} mm at the edge dropped", dropped[0].place)]
    notes += said_of(strands, line.least)
    rest = rest if rest.is_sound else without_hairs(rest)
    x, y = middle[0] + line.shift[0], middle[1] + line.shift[1]
    handle = Handle("shift", "Where the pattern lies", (x, y), line.shift)
    return Outcome({"texture": Made(texture), "rest": Made(rest)}, notes, Shaping([handle]))


def _laid(line: Texture, tools: Tools, over: Over, key: tuple[Hashable, ...]) -> Region:
    if line.pattern != "picture":
        pattern, size, clear = line.pattern, line.size, line.clear
        known = ("texture", pattern, size, clear, key)
        made: Region = tools.memo(known, lambda: laid(pattern, over, size, clear))
        return made
    drawing = tools.sources.drawing(line.picture)
    region = drawing.region(frozenset(), "cut")
    region = region.transformed(sizing(region, line.size, None))
    own = measure.bounds(region)
    if own is None:
        return region
    region = region.translated(-(own[0] + own[2]) / 2.0, -(own[1] + own[3]) / 2.0)
    return tiled(region, over, (line.size + line.clear, own[3] - own[1] + line.clear), 0.5)


def _turned(turn: float, middle: tuple[float, float], shift: tuple[float, float]) -> Floats:
    c, s = np.cos(np.radians(turn)), np.sin(np.radians(turn))
    return np.array([[c, -s, middle[0] + shift[0]], [s, c, middle[1] + shift[1]]])


KIND = Kind(
    Texture,
    name="Fill with a texture",
    sentence="Fill {of} with {pattern}[pattern=picture: {picture},] {size} wide, {clear} clear, "
    "turned by {turn}, dropping pieces under {least}",
    words=(
        "texture",
        "pattern",
        "fill",
        "scales",
        "stripes",
        "dots",
        "checks",
        "waves",
        "bricks",
        "tile",
        "hatch",
    ),
    results={"texture": "texture", "rest": "rest"},
    run=run,
    replaces={"texture": "of"},
    starts=on_one,
)
