"""Ready shapes, each filling a box of the given width and height (mm) about the origin."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np

from perigram.core.art import figures, ornaments
from perigram.core.geometry import bezier, measure
from perigram.core.geometry.overlay import cut_away
from perigram.core.geometry.pen import RegionPen
from perigram.core.geometry.region import Region
from perigram.core.geometry.regularise import sound

Figure = Literal[
    "heart",
    "oval",
    "rounded box",
    "polygon",
    "star",
    "burst",
    "sun",
    "flower",
    "cog",
    "cross",
    "arrow",
    "bolt",
    "pennant",
    "banner",
    "ribbon",
    "ticket",
    "frame",
    "scallop",
    "shield",
    "drop",
    "leaf",
    "crescent",
    "ring",
    "arc band",
    "bubble",
    "cloud",
    "waved bar",
    "card with flap",
    "swirl",
    "flourish",
    "scrolls",
    "laurel",
]

#: Round outlines are this near to true arcs, in mm; cut files promise 0.005.
_ROUND = 0.002
#: Dashes of a fold and the gaps between them are so long at least, and a dash is so broad, in mm.
_DASH, _SLIT = 3.0, 0.4


#: How many points figures look best with, where that is not five; and how tall some are for their width.
_POINTS = {
    "polygon": 6,
    "burst": 16,
    "sun": 12,
    "flower": 8,
    "cog": 10,
    "scallop": 14,
    "waved bar": 2,
    "laurel": 12,
}
_TALL = {"oval": 0.7, "rounded box": 0.6, "card with flap": 1.4}


@dataclass(frozen=True)
class Shape:
    """A figure by name, with the figures it has of its own where it has them.

    Attributes:
        width, height: of its box, in mm.
        radius: of the corners of a rounded box, in mm.
        points: how many points, petals, teeth or lobes it has.
        depth: how deep it is cut in, how thick a band is, in percent of what there is.
    """

    figure: Figure
    width: float
    height: float
    radius: float = 6.0
    points: int = 5
    depth: float = 50.0


def oval(width: float, height: float) -> Region:
    return rounded_box(width, height, max(width, height))


def rounded_box(width: float, height: float, radius: float) -> Region:
    """A box with round corners; a radius too large for the box makes its short sides half-ovals."""
    rx, ry = min(radius, width / 2), min(radius, height / 2)
    x, y = width / 2 - rx, height / 2 - ry
    quarter = np.pi / 2
    pen = RegionPen()
    pen.move_to((-x, -y - ry))
    for corner, (cx, cy) in enumerate(((x, -y), (x, y), (-x, y), (-x, -y))):
        start = np.array([(corner - 1) * quarter])
        arcs, _ = bezier.unit_arcs(start, np.array([quarter]), bezier.widest_arc(max(rx, ry), _ROUND))
        # An exact quarter begins and ends on the axes.
        arcs = np.where(np.abs(arcs) < 1e-15, 0.0, arcs) * [rx, ry] + [cx, cy]
        pen.line_to(tuple(arcs[0, 0].tolist()))
        if radius > 0:
            for _, first, second, to in arcs.tolist():
                pen.cubic_to(tuple(first), tuple(second), tuple(to))
    return pen.region()


def card(width: float, height: float) -> Region:
    """A card with a flap of its own size above it: the fold between them is a row of dashes."""
    pen = RegionPen()
    count = max(2, int(width / (2.0 * _DASH)))
    step = width / count
    for i in range(count):
        x = -width / 2.0 + (i + 0.25) * step
        pen.move_to((x, -_SLIT / 2.0))
        for to in ((x + step / 2.0, -_SLIT / 2.0), (x + step / 2.0, _SLIT / 2.0), (x, _SLIT / 2.0)):
            pen.line_to(to)
    return cut_away(rounded_box(width, height, 0.0), pen.region())


def draw(shape: Shape) -> Region:
    """The figure, as wide and as tall as asked for."""
    width, height = shape.width, shape.height
    own: dict[str, Callable[[], Region]] = {
        "oval": lambda: oval(width, height),
        "rounded box": lambda: rounded_box(width, height, shape.radius),
        "card with flap": lambda: card(width, height),
    }
    if shape.figure in own:
        return own[shape.figure]()
    drawn = (figures.FIGURES | ornaments.ORNAMENTS)[shape.figure](shape.points, shape.depth / 100.0)
    return sound(filling(drawn, width, height))


@dataclass(frozen=True, eq=False)
class Sample:
    """A figure as it looks best, to be chosen from: its name, its number of points, and a drawing of it."""

    figure: Figure
    points: int
    region: Region


def gallery() -> list[Sample]:
    """Every figure once, the longer side of each 100 mm."""
    return [Sample(figure, _POINTS.get(figure, 5), _at_its_best(figure)) for figure in get_args(Figure)]


def _at_its_best(figure: Figure) -> Region:
    points = _POINTS.get(figure, 5)
    if figure not in figures.FIGURES | ornaments.ORNAMENTS:
        return draw(Shape(figure, 100.0, 100.0 * _TALL.get(figure, 1.0), 12.0))
    drawn = (figures.FIGURES | ornaments.ORNAMENTS)[figure](points, 0.5)
    x0, y0, x1, y1 = measure.bounds(drawn) or (0.0, 0.0, 1.0, 1.0)
    size = 100.0 / max(x1 - x0, y1 - y0)
    return sound(filling(drawn, size * (x1 - x0), size * (y1 - y0)))


def filling(region: Region, width: float, height: float) -> Region:
    """A region stretched to fill a box about the origin."""
    box = measure.bounds(region)
    assert box is not None, "a figure has a size"
    x, y = width / (box[2] - box[0]), height / (box[3] - box[1])
    return region.transformed(
        np.array([[x, 0.0, -x * (box[0] + box[2]) / 2.0], [0.0, y, -y * (box[1] + box[3]) / 2.0]])
    )
