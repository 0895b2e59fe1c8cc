"""Outlines drawn stroke by stroke, collected into arrays."""

from __future__ import annotations

import numpy as np

from perigram.core.geometry import bezier
from perigram.core.geometry.overlay import FillRule, regularise
from perigram.core.geometry.region import Region

Point = tuple[float, float]


class RegionPen:
    """Collects move, line, quadratic and cubic strokes in the manner of fontTools' pens.

    A contour that was not closed is closed by a line, as fills in SVG and fonts are.
    """

    def __init__(self) -> None:
        self._segments: list[tuple[Point, Point, Point, Point]] = []
        self._curved: list[bool] = []
        self._loops: list[int] = [0]
        self._first: Point = (0.0, 0.0)
        self._at: Point = (0.0, 0.0)

    def move_to(self, to: Point) -> None:
        self.close()
        self._first = self._at = to

    def line_to(self, to: Point) -> None:
        if to != self._at:
            self._add(to, to, to, curved=False)

    def quadratic_to(self, control: Point, to: Point) -> None:
        """The cubic that is the same curve: its degree raised by one, exactly."""
        (x0, y0), (x1, y1), (x2, y2) = self._at, control, to
        self._add(
            (x0 + (x1 - x0) * 2 / 3, y0 + (y1 - y0) * 2 / 3),
            (x2 + (x1 - x2) * 2 / 3, y2 + (y1 - y2) * 2 / 3),
            to,
        )

    def cubic_to(self, control1: Point, control2: Point, to: Point) -> None:
        self._add(control1, control2, to)

    def close(self) -> None:
        self.line_to(self._first)
        if len(self._segments) > self._loops[-1]:
            self._loops.append(len(self._segments))

    def region(self, rule: FillRule = "nonzero") -> Region:
        """What the strokes enclose."""
        self.close()
        if not self._segments:
            return Region.empty()
        return regularise(
            np.array(self._segments, float), np.array(self._curved), np.array(self._loops), rule
        )

    @property
    def segment_count(self) -> int:
        return len(self._segments)

    def _add(self, control1: Point, control2: Point, to: Point, curved: bool = True) -> None:
        if curved and _runs_straight(self._at, control1, control2, to):
            curved = False
        self._segments.append((self._at, control1, control2, to))
        self._curved.append(curved)
        self._at = to


def _runs_straight(start: Point, control1: Point, control2: Point, end: Point) -> bool:
    """Whether a cubic is a straight line drawn as a curve, controls in order between its ends."""
    points = np.array([start, control1, control2, end])
    along = points[3] - points[0]
    squared = float((along * along).sum())
    if squared == 0.0:
        return False
    offsets = points[1:3] - points[0]
    across = np.abs(bezier.cross(offsets, along)) / squared**0.5
    share = (offsets * along).sum(axis=1) / squared
    return bool(across.max() < 1e-9 * squared**0.5 and 0 <= share[0] <= share[1] <= 1)
