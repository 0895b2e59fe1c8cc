"""Ready shapes, each filling a box of the given width and height (mm) about the origin."""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal

from perigram.core.geometry.pen import RegionPen
from perigram.core.geometry.region import Region

Figure = Literal["heart", "oval", "rounded box"]

#: Handle length of the cubic nearest to a quarter circle of radius 1 (radial error 0.027 %).
QUARTER = 0.5522847498307936


def oval(width: float, height: float) -> Region:
    return rounded_box(width, height, max(width, height))


def rounded_box(width: float, height: float, radius: float) -> Region:
    """A box with round corners; a radius too large for the box makes its short sides half-ovals."""
    rx, ry = min(radius, width / 2), min(radius, height / 2)
    x, y = width / 2, height / 2
    kx, ky = rx * (1 - QUARTER), ry * (1 - QUARTER)
    pen = RegionPen()
    pen.move_to((-x + rx, -y))
    pen.line_to((x - rx, -y))
    if radius > 0:
        pen.cubic_to((x - kx, -y), (x, -y + ky), (x, -y + ry))
    pen.line_to((x, y - ry))
    if radius > 0:
        pen.cubic_to((x, y - ky), (x - kx, y), (x - rx, y))
    pen.line_to((-x + rx, y))
    if radius > 0:
        pen.cubic_to((-x + kx, y), (-x, y - ky), (-x, y - ry))
    pen.line_to((-x, -y + ry))
    if radius > 0:
        pen.cubic_to((-x, -y + ky), (-x + kx, -y), (-x + rx, -y))
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
