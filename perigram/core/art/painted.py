"""What of a drawing is seen: painted shapes, and the areas that let them through."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from perigram.core.art.outlines import Outlines
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.stroke import Pen

#: Lightness of the paper.
PAPER = 1.0
#: Of a mask, what is no lighter hides, and what is at least as light lets through.
DARK, LIGHT = 0.1, 0.7
#: What is no more opaque is not seen; what is less than half is seen through more than it is seen.
_UNSEEN, _HALF = 0.02, 0.5


@dataclass(frozen=True)
class Paint:
    """What an area is painted with.

    Attributes:
        light: how light its colour is, from 0 for black to 1.
        alpha: how opaque it is, from 0 to 1; of a gradient, in the mean.
        least: how opaque it is where it is least.
    """

    light: float
    alpha: float
    least: float

    @property
    def is_seen(self) -> bool:
        return self.alpha > _UNSEEN

    @property
    def is_faint(self) -> bool:
        """Whether what is below shows through, in places, more than the paint does."""
        return self.least < _HALF

    @property
    def shade(self) -> float:
        """How light it looks on paper."""
        return float(self.over(PAPER))

    def over(self, below: Any) -> Any:
        """How light it looks on what is so light (Compositing 1, section 5.1: simple alpha compositing)."""
        return self.alpha * self.light + (1.0 - self.alpha) * below

    @property
    def lets_through(self) -> bool | None:
        """Whether a mask painted so lets through by its light; None for what is neither light nor dark.

        It is black where nothing is painted: what lets through is light on black, what hides dark on white.
        """
        if self.over(0.0) >= LIGHT:
            return True
        return False if self.over(1.0) <= DARK else None


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
        fill, stroke: what each is painted with; None where it is not seen.
        rule: the fill rule.
        pen: how it is stroked, in its own units.
        clips: areas it only shows within.
    """

    name: str
    outlines: Outlines
    matrix: Floats
    fill: Paint | None
    stroke: Paint | None
    rule: str
    pen: Pen
    clips: tuple[Area, ...]


def in_white(one: Painted) -> Painted:
    """A shape with its paint made white where it has any, as opaque as it is."""
    fill, stroke = (paint and replace(paint, light=1.0) for paint in (one.fill, one.stroke))
    return replace(one, fill=fill, stroke=stroke)


def unveiled(one: Painted) -> Painted:
    """A shape without paint so thin that a mask lets through what it did without."""
    fill, stroke = (paint if paint and paint.alpha > DARK else None for paint in (one.fill, one.stroke))
    return replace(one, fill=fill, stroke=stroke)


def box_area(matrix: Floats, x: float, y: float, width: float, height: float) -> Area:
    """A box in some units, by the matrix (2, 3) from those to px, as an area."""
    corners = np.array([[x, y], [x + width, y], [x + width, y + height], [x, y + height]])
    ends = np.roll(corners, -1, axis=0)
    segments = np.stack([corners, corners, ends, ends], axis=1)
    outlines = Outlines(segments, np.zeros(4, bool), np.array([0, 4]), np.ones(1, bool))
    return Area([(outlines.mapped(matrix), "nonzero", ())])
