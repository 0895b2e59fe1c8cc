"""Outlines drawn stroke by stroke, collected into arrays."""

from __future__ import annotations

import numpy as np
import shapely

from perigram.core.geometry.region import Region
from perigram.core.geometry.regularise import FillRule, paths, regularise

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

    def lines(self, tolerance: float) -> shapely.MultiLineString:
        """The strokes as lines no farther than `tolerance` mm from them, for looking at."""
        self.close()
        if not self._segments:
            return shapely.MultiLineString()
        drawn = paths(np.array(self._segments, float), np.array(self._curved), np.array(self._loops))
        xy, rings = drawn.flattened(tolerance).closed()
        return shapely.from_ragged_array(
            shapely.GeometryType.MULTILINESTRING, xy, (rings, np.array([0, len(rings) - 1]))
        )[0]

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
    # One at a time: an array for each of a font's strokes would take ten times as long.
    (x0, y0), (x3, y3) = start, end
    along_x, along_y = x3 - x0, y3 - y0
    squared = along_x * along_x + along_y * along_y
    if squared == 0.0:
        return False
    offsets = [(x - x0, y - y0) for x, y in (control1, control2)]
    across = max(abs(x * along_y - y * along_x) for x, y in offsets)
    first, second = ((x * along_x + y * along_y) / squared for x, y in offsets)
    return across < 1e-9 * squared and 0 <= first <= second <= 1
