"""Bending along a circle: the one curve whose map is a closed form."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.optimize import brentq

from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.measure import Box

#: An arc is highest over words bent by this many radians; bent farther its ends come round again.
HIGHEST_TURN = 4.6622


@dataclass(frozen=True)
class Arc:
    """Level lines become arcs about one centre, upright ones its rays, pointing away from it or to it.

    A point on the base line stays as far along it as it was: at radius r, s mm from the middle lie at the
    angle s / r (arc length).

    Attributes:
        middle: the point of the base line that lies at `angle`.
        centre: of the circle.
        radius: of the base line, above zero.
        angle: where on the circle the middle comes to lie, in radians clockwise from the top.
        inward: whether what is above the base line comes to lie inside the circle.
        spread: lengths along the base line are times so much.
    """

    middle: tuple[float, float]
    centre: tuple[float, float]
    radius: float
    angle: float = 0.0
    inward: bool = False
    spread: float = 1.0

    @property
    def step(self) -> float:
        return self.radius / 2.0

    @property
    def levels(self) -> Floats:
        return np.zeros(0)

    def _polar(self, xy: Floats) -> tuple[Floats, Floats]:
        way = -1.0 if self.inward else 1.0
        angle = self.angle + way * self.spread * (xy[:, 0] - self.middle[0]) / self.radius
        return angle, self.radius - way * (xy[:, 1] - self.middle[1])

    def points(self, xy: Floats) -> Floats:
        angle, radius = self._polar(xy)
        return np.stack(
            [self.centre[0] + radius * np.sin(angle), self.centre[1] - radius * np.cos(angle)], axis=1
        )

    def jacobian(self, xy: Floats) -> Floats:
        angle, radius = self._polar(xy)
        way = -1.0 if self.inward else 1.0
        around = way * self.spread * radius / self.radius
        s, c = np.sin(angle), np.cos(angle)
        return np.stack(
            [np.stack([around * c, -way * s], axis=1), np.stack([around * s, way * c], axis=1)], axis=1
        )

    def holds_over(self, box: Box) -> bool:
        """Whether it does not fold over a box: nothing in it lies at or beyond the centre."""
        way = -1.0 if self.inward else 1.0
        return min(self.radius - way * (y - self.middle[1]) for y in (box[1], box[3])) > 1e-3


def turn_for_rise(width: float, rise: float) -> float:
    """By how many radians a length is to be bent so that its middle lies so much above its ends.

    From the circular segment: rise = r (1 - cos(a / 2)) with r = width / a. The flatter of two answers.

    Raises:
        ValueError: beyond what any arc of that length reaches.
    """
    share = rise / width

    def miss(turn: float) -> float:
        return (1.0 - np.cos(turn / 2.0)) / turn - share

    return float(brentq(miss, 1e-9, HIGHEST_TURN, xtol=1e-12))


def most_rise(width: float) -> float:
    """How far a length can be bent up at most, in mm."""
    return float(width * (1.0 - np.cos(HIGHEST_TURN / 2.0)) / HIGHEST_TURN)
