"""Running things between rails: curves from left to right that heights are stretched between."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.interpolate import CubicHermiteSpline, PchipInterpolator, PPoly

from perigram.core.errors import GeometryError
from perigram.core.geometry.bezier import Floats, Ints
from perigram.core.geometry.measure import Box
from perigram.core.warp.maps import Map

#: Rails are kept as so many cubic pieces across what they are for, or so many a wave.
_PIECES, _A_WAVE = 96, 32
#: Arcs of circles stand higher than this share of their width on ends too steep for a rail: taller ones are
#: parts of ellipses.
_ROUND = 0.35
#: Rails go on straight beyond their ends by this many mm.
_BEYOND = 50_000.0
#: Rails nearer than this many mm have crossed.
_LEAST = 1e-3
_DEEPEST = 16


@dataclass(frozen=True, eq=False)
class Rail:
    """A height for every x, as a piecewise cubic without kinks; in mm, y down."""

    spline: CubicHermiteSpline
    low: float
    high: float

    @staticmethod
    def through(x: Floats, y: Floats, slope: Floats) -> Rail:
        """A rail through points (n,) with slopes (n,) there, going on straight at both ends."""
        ends = np.array([x[0] - _BEYOND, x[-1] + _BEYOND])
        far = np.array([y[0] - _BEYOND * slope[0], y[-1] + _BEYOND * slope[-1]])
        wide = np.concatenate([ends[:1], x, ends[1:]])
        heights = np.concatenate([far[:1], y, far[1:]])
        slopes = np.concatenate([slope[:1], slope, slope[-1:]])
        return Rail(CubicHermiteSpline(wide, heights, slopes), float(x[0]), float(x[-1]))

    def at(self, x: Floats) -> Floats:
        return np.asarray(self.spline(x))

    def slope(self, x: Floats) -> Floats:
        return np.asarray(self.spline(x, 1))

    def parallel(self, distance: float) -> Rail:
        """The rail so many mm below it, measured square to it.

        Raises:
            GeometryError: where it bends too sharply for that.
        """
        if distance == 0.0:
            return self
        breaks = self.spline.x[1:-1]
        x = (breaks[:-1, None] + np.diff(breaks)[:, None] * np.array([0.0, 0.25, 0.5, 0.75])).ravel()
        x = np.append(x, breaks[-1])
        slope = self.slope(x)
        size = np.hypot(1.0, slope)
        moved = x - distance * slope / size
        if (np.diff(moved) <= 1e-9).any():
            raise GeometryError("A rail bends too sharply for the gap between the rows.")
        return Rail.through(moved, self.at(x) + distance / size, slope)


def level(y: float, low: float, high: float) -> Rail:
    return Rail.through(np.array([low, high]), np.array([y, y]), np.zeros(2))


def tilted(y: float, low: float, high: float, rise: float) -> Rail:
    """Level in the middle, its right end `rise` mm above its left one."""
    slope = -rise / (high - low)
    return Rail.through(np.array([low, high]), y + np.array([rise, -rise]) / 2.0, np.full(2, slope))


def arched(y: float, low: float, high: float, rise: float, at: float = 0.5) -> Rail:
    """An arc of a circle from end to end, `rise` mm high, its top at a share of the way.

    A top that is not in the middle is brought there by a projective map of the way.
    """
    width = high - low
    round_rise = float(np.clip(abs(rise), 1e-9, _ROUND * width))
    radius = (width**2 / 4.0 + round_rise**2) / (2.0 * round_rise)
    share = np.linspace(0.0, 1.0, _PIECES + 1)
    bottom = share * (1.0 - at) + at * (1.0 - share)
    moved, speed = share * (1.0 - at) / bottom, at * (1.0 - at) / bottom**2
    across = (moved - 0.5) * width
    deep = np.sqrt(np.maximum(radius**2 - across**2, 1e-12))
    by = rise / round_rise
    height = by * (deep - (radius - round_rise))
    return Rail.through(low + share * width, y - height, by * across / deep * speed)


def waved(
    y: float, low: float, high: float, height: float, times: float, up: bool, ends_level: bool = False
) -> Rail:
    """A sine wave `height` mm from crest to trough, starting in its middle, going up first or down.

    With `ends_level` it grows from nothing over its first quarter and dies away over its last.
    """
    width = high - low
    share = np.linspace(0.0, 1.0, max(_PIECES, int(np.ceil(_A_WAVE * times))) + 1)
    rate = 2.0 * np.pi * times
    amount = -height / 2.0 if up else height / 2.0
    wave, change = amount * np.sin(rate * share), amount * rate * np.cos(rate * share)
    if ends_level:
        reach = min(0.5, 0.25 / max(times, 0.25))
        near = np.minimum(np.minimum(share, 1.0 - share) / reach, 1.0)
        grown = np.sin(np.pi / 2.0 * near) ** 2
        turn = np.where(near < 1.0, np.pi / 2.0 / reach * np.sin(np.pi * near), 0.0)
        turn = np.where(share > 0.5, -turn, turn)
        wave, change = wave * grown, change * grown + wave * turn
    return Rail.through(low + share * width, y + wave, change / width)


def drawn(y: float, low: float, high: float, points: Sequence[tuple[float, float]]) -> Rail:
    """Through points of one's own: shares of the way from left to right, and mm above the level.

    Nowhere higher or lower than the points it lies between.
    Source: Fritsch and Butland, A method for constructing local monotone piecewise cubic interpolants (1984).
    """
    way = sorted(set(points))
    share, up = np.array(way).T
    if len(share) < 2 or (np.diff(share) <= 1e-9).any():
        raise GeometryError("A rail of your own needs two points or more, each farther right than the last.")
    x = low + share * (high - low)
    spline = PchipInterpolator(x, y - up)
    return Rail.through(x, y - up, np.asarray(spline(x, 1)))


@dataclass(frozen=True, eq=False)
class Between:
    """Heights between two levels go between the two rails that are theirs; what is upright stays so.

    Beyond the outermost levels heights go on as between the nearest two.

    Attributes:
        heights: (k,) levels, from the top down.
        rails: where each of them goes.
    """

    heights: Floats
    rails: Sequence[Rail]
    step: float

    @property
    def levels(self) -> Floats:
        return self.heights[1:-1]

    def _band(self, xy: Floats) -> tuple[Ints, Floats, Floats]:
        """Between which two levels points lie, as what share of the way down, and how far apart those are."""
        band = np.clip(np.searchsorted(self.heights, xy[:, 1], side="right") - 1, 0, len(self.heights) - 2)
        size = np.diff(self.heights)[band]
        return band, (xy[:, 1] - self.heights[band]) / size, size

    def _along(self, band: Ints, x: Floats, order: int) -> tuple[Floats, Floats]:
        """Heights (or, of order 1, slopes) of the rails above and below points."""
        top, bottom = np.empty(len(x)), np.empty(len(x))
        for k in range(len(self.rails) - 1):
            here = band == k
            top[here] = self.rails[k].spline(x[here], order)
            bottom[here] = self.rails[k + 1].spline(x[here], order)
        return top, bottom

    def points(self, xy: Floats) -> Floats:
        band, share, _ = self._band(xy)
        top, bottom = self._along(band, xy[:, 0], 0)
        return np.stack([xy[:, 0], top + share * (bottom - top)], axis=1)

    def jacobian(self, xy: Floats) -> Floats:
        band, share, size = self._band(xy)
        top, bottom = self._along(band, xy[:, 0], 0)
        rise, fall = self._along(band, xy[:, 0], 1)
        out = np.zeros((len(xy), 2, 2))
        out[:, 0, 0] = 1.0
        out[:, 1, 0] = rise + share * (fall - rise)
        out[:, 1, 1] = (bottom - top) / size
        return out

    def crossing(self, low: float, high: float) -> tuple[float, float] | None:
        """A place between two x where rails cross; None where they nowhere do."""
        for upper, lower in zip(self.rails[:-1], self.rails[1:], strict=True):
            x = least_below(upper.spline, lower.spline, low, high)
            if x is not None:
                return x, float(upper.at(np.array([x]))[0])
        return None

    def holds_over(self, box: Box) -> bool:
        """Whether no two rails cross over a box."""
        return self.crossing(box[0], box[2]) is None


def least_below(upper: PPoly, lower: PPoly, low: float, high: float) -> float | None:
    """Where a lower spline is not below the upper one by `_LEAST` mm at least; None where it is all along.

    Decided by the Bernstein coefficients of their difference on each piece, and halving: samples could miss
    a place.
    """
    breaks = np.unique(np.concatenate([upper.x, lower.x, [low, high]]))
    breaks = breaks[(breaks >= low) & (breaks <= high)]
    left, right = breaks[:-1], breaks[1:]
    for _ in range(_DEEPEST):
        if len(left) == 0:
            return None
        size = right - left
        # By value and slope at both ends, a cubic piece is known; its slopes are taken inside the piece.
        inner = np.stack([left + 1e-9 * size, right - 1e-9 * size])
        gap = lower(np.stack([left, right])) - upper(np.stack([left, right])) - _LEAST
        slope = lower(inner, 1) - upper(inner, 1)
        hull = np.stack(
            [gap[0], gap[0] + slope[0] * size / 3.0, gap[1] - slope[1] * size / 3.0, gap[1]], axis=1
        )
        if (gap <= 0.0).any():
            side, which = np.argwhere(gap <= 0.0)[0]
            return float((left, right)[side][which])
        unsure = hull.min(axis=1) <= 0.0
        left, right = left[unsure], right[unsure]
        middle = (left + right) / 2.0
        left, right = np.concatenate([left, middle]), np.concatenate([middle, right])
    return float(left[0]) if len(left) else None


@dataclass(frozen=True)
class Sideways:
    """A map with across and down exchanged."""

    map: Between

    @property
    def step(self) -> float:
        return self.map.step

    @property
    def levels(self) -> Floats:
        return np.zeros(0)

    def points(self, xy: Floats) -> Floats:
        return self.map.points(xy[:, ::-1])[:, ::-1]

    def jacobian(self, xy: Floats) -> Floats:
        return self.map.jacobian(xy[:, ::-1])[:, ::-1, ::-1]

    def holds_over(self, box: Box) -> bool:
        return self.map.crossing(box[1], box[3]) is None


@dataclass(frozen=True)
class Then:
    """One map, and another of what comes of it; the second has no kinks."""

    first: Map
    second: Map

    @property
    def step(self) -> float:
        return min(self.first.step, self.second.step)

    @property
    def levels(self) -> Floats:
        return self.first.levels

    def points(self, xy: Floats) -> Floats:
        return self.second.points(self.first.points(xy))

    def jacobian(self, xy: Floats) -> Floats:
        a, b = self.second.jacobian(self.first.points(xy)), self.first.jacobian(xy)
        out = np.empty_like(a)
        for i in (0, 1):
            for j in (0, 1):
                # Element by element, so that no answer depends on what else is asked along with it.
                out[:, i, j] = a[:, i, 0] * b[:, 0, j] + a[:, i, 1] * b[:, 1, j]
        return out
