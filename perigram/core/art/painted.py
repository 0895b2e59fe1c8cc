"""What of a drawing is seen: painted shapes, and the areas that let them through."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from perigram.core.art.outlines import Outlines
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.stroke import Pen

#: Of a mask, what is no lighter hides, and what is at least as light lets through.
DARK, LIGHT = 0.1, 0.7


@dataclass(frozen=True, eq=False)
class Area:
    """What a clip path or a mask lets through.

    Attributes:
        shapes: of a clip path, in px, each with its rule and clips of its own.
        painted: of a mask, from bottom to top: what is light lets through, what is dark hides.
    """

    shapes: Sequence[tuple[Outlines, str, tuple[Area, ...]]]
    painted: Sequence[Painted] = ()


@dataclass(frozen=True, eq=False)
class Painted:
    """One painted shape.

    Attributes:
        name: its id, or what it is.
        outlines: in its own units.
        matrix: (2, 3) from those to px.
        fill, stroke: how light each looks on white paper; None where there is none.
        rule: the fill rule.
        pen: how it is stroked, in its own units.
        clips: areas it only shows within.
    """

    name: str
    outlines: Outlines
    matrix: Floats
    fill: float | None
    stroke: float | None
    rule: str
    pen: Pen
    clips: tuple[Area, ...]


def in_white(one: Painted) -> Painted:
    """A shape with its paint made white where it has any."""
    return replace(one, fill=None if one.fill is None else 1.0, stroke=None if one.stroke is None else 1.0)


def box_area(matrix: Floats, x: float, y: float, width: float, height: float) -> Area:
    """A box in some units, by the matrix (2, 3) from those to px, as an area."""
    corners = np.array([[x, y], [x + width, y], [x + width, y + height], [x, y + height]])
    ends = np.roll(corners, -1, axis=0)
    segments = np.stack([corners, corners, ends, ends], axis=1)
    outlines = Outlines(segments, np.zeros(4, bool), np.array([0, 4]), np.ones(1, bool))
    return Area([(outlines.mapped(matrix), "nonzero", ())])
