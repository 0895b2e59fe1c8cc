"""Registration marks: small closed outlines at the same place of every sheet, cut along with the work."""

from __future__ import annotations

import numpy as np

from perigram.core.art.figures import box, polygon
from perigram.core.art.shapes import oval
from perigram.core.geometry.region import Region
from perigram.core.recipe.making import Marks

#: How large marks are across, and how far their middles are from the work, in mm.
SIZE = 6.0
CLEAR = 5.0
_ARM = 1.0


def marks_for(kind: Marks, width: float, height: float) -> Region:
    """Marks in the four corners of a frame round the work whose top left corner is at 0, 0.

    The frame is the work's box, larger by `room` on every side.
    """
    if kind == "none":
        return Region.empty()
    half = SIZE / 2.0
    across, down = (half, width - half), (half, height - half)
    shapes = []
    for i, x in enumerate(across):
        for j, y in enumerate(down):
            shape = _SHAPES[kind].scaled(1.0 if i == 0 else -1.0, 1.0 if j == 0 else -1.0)
            shapes.append(shape.translated(x, y))
    return Region.joined(shapes)


def room(kind: Marks) -> float:
    """How much wider than the work on every side the frame that marks lie in has to be, in mm."""
    return 0.0 if kind == "none" else SIZE + CLEAR


def box_region(width: float, height: float) -> Region:
    """An upright rectangle whose top left corner is at 0, 0."""
    return box(0.0, 0.0, width, height)


def _cross() -> Region:
    h, a = SIZE / 2.0, _ARM / 2.0
    quarter = [(a, -h), (a, -a), (h, -a)]
    turned = [np.array(quarter) @ np.array([[c, s], [-s, c]]) for c, s in ((1, 0), (0, 1), (-1, 0), (0, -1))]
    return polygon(np.concatenate(turned))


def _corner() -> Region:
    h = SIZE / 2.0
    return polygon([(-h, -h), (h, -h), (h, _ARM - h), (_ARM - h, _ARM - h), (_ARM - h, h), (-h, h)])


_SHAPES: dict[Marks, Region] = {"crosses": _cross(), "corners": _corner(), "pins": oval(SIZE, SIZE)}
