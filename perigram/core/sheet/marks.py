"""Registration marks: small closed outlines at the same place of every sheet, cut along with the work."""

from __future__ import annotations

import numpy as np

from perigram.core.art.figures import box, polygon
from perigram.core.art.shapes import oval
from perigram.core.geometry.region import Region
from perigram.core.recipe.making import Marks
from perigram.core.sheet.seams import Part

#: How large marks are across, and how far their middles are from the work, in mm.
SIZE = 6.0
CLEAR = 5.0
_ARM = 1.0


def marks_round(kind: Marks, part: Part) -> Region:
    """Marks off the four corners of a part of a design, where the design has them.

    At the end of a seam both parts have the same mark, in the middle of it; where seams cross there is none.
    """
    if kind == "none":
        return Region.empty()
    off = CLEAR + SIZE / 2.0
    left, top, right, bottom = part.box
    at_left, at_top, at_right, at_bottom = part.seams
    # Where each lies, whether on a seam, and which way it faces: the same from both sides of a seam.
    across = (_along(left, -off, at_left, 1.0), _along(right, off, at_right, -1.0))
    down = (_along(top, -off, at_top, 1.0), _along(bottom, off, at_bottom, -1.0))
    return Region.joined(
        _SHAPES[kind].scaled(facing_x, facing_y).translated(x, y)
        for x, seam_x, facing_x in across
        for y, seam_y, facing_y in down
        if not (seam_x and seam_y)
    )


def _along(side: float, off: float, seam: bool, facing: float) -> tuple[float, bool, float]:
    return (side, True, 1.0) if seam else (side + off, False, facing)


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
