"""Ready shapes, each filling a box of the given width and height (mm) about the origin."""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal

import numpy as np

from perigram.core.geometry import bezier
from perigram.core.geometry.pen import RegionPen
from perigram.core.geometry.region import Region

Figure = Literal["heart", "oval", "rounded box"]

#: Round outlines are this near to true arcs, in mm; cut files promise 0.005.
_ROUND = 0.002


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


def heart(width: float, height: float) -> Region:
    """Two lobes over a point; drawn on a box of -1 to 1 and stretched to size."""
    x, y = width / 2, height / 2
    half = [
        ((0.06, -0.86), (0.24, -1.0), (0.5, -1.0)),
        ((0.78, -1.0), (1.0, -0.77), (1.0, -0.46)),
        ((1.0, 0.14), (0.42, 0.56), (0.0, 1.0)),
    ]
    pen = RegionPen()
    dip = (0.0, -0.62)
    pen.move_to((dip[0] * x, dip[1] * y))
    for a, b, to in half:
        pen.cubic_to((a[0] * x, a[1] * y), (b[0] * x, b[1] * y), (to[0] * x, to[1] * y))
    ends = [dip, *(stroke[2] for stroke in half)]
    for i in (2, 1, 0):
        (bx, by), (ax, ay), (tx, ty) = half[i][1], half[i][0], ends[i]
        pen.cubic_to((-bx * x, by * y), (-ax * x, ay * y), (-tx * x, ty * y))
    return pen.region()


def draw(figure: Figure, width: float, height: float, radius: float) -> Region:
    """The named figure; only the rounded box has a corner radius."""
    makers: dict[str, Callable[[], Region]] = {
        "heart": lambda: heart(width, height),
        "oval": lambda: oval(width, height),
        "rounded box": lambda: rounded_box(width, height, radius),
    }
    return makers[figure]()
