"""Bending along any curve: by arc length along it, and square to it."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from math import comb

import numpy as np
from scipy.optimize import brentq

from perigram.core.errors import GeometryError
from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Floats, Ints
from perigram.core.geometry.measure import Box

#: Five-point Gauss-Legendre quadrature on [0, 1] (Abramowitz and Stegun, table 25.4).
_AT, _WEIGHT = (v / 2.0 for v in np.polynomial.legendre.leggauss(5))
_AT = _AT + 0.5
#: Each cubic's length is tabled in so many cells; one wave is made of so many cubics.
_CELLS, _A_WAVE = 16, 32
#: Points of a curve nearer than this many mm are one.
_ONE_PLACE = 1e-3
#: The parts of a curve are halved so often to decide whether it bends too sharply.
_DEEPEST = 12


@dataclass(frozen=True, eq=False)
class Path:
    """A smooth curve, (k, 4, 2) cubics joined end to end, going on straight beyond its ends."""

    cubics: Floats

    @cached_property
    def _table(self) -> Floats:
        """(k * cells + 1,) the length up to the beginning of each cell."""
        k = len(self.cubics)
        which, cell = bezier.expand(np.full(k, _CELLS))
        sizes = self._cell_length(which, cell / _CELLS, np.full(len(which), 1.0 / _CELLS))
        return np.concatenate([[0.0], np.cumsum(sizes)])

    @cached_property
    def _speeds(self) -> tuple[Floats, Floats]:
        """Speeds at the beginning and at the end of each cell, in mm per parameter."""
        which, cell = bezier.expand(np.full(len(self.cubics), _CELLS))
        begin, end = (
            bezier.length(bezier.derivative(self.cubics[which], (cell + side) / _CELLS)) for side in (0, 1)
        )
        return begin, end

    @property
    def length(self) -> float:
        return float(self._table[-1])

    def _cell_length(self, which: Ints, start: Floats, width: Floats) -> Floats:
        total = np.zeros(len(which))
        for at, weight in zip(_AT, _WEIGHT, strict=True):
            velocity = bezier.derivative(self.cubics[which], start + at * width)
            total += weight * bezier.length(velocity)
        return np.asarray(total * width)

    def at(self, s: Floats) -> tuple[Floats, Floats, Floats]:
        """Points (n, 2), unit directions (n, 2) and curvatures (n,) at lengths along the curve, in mm."""
        which, t, beyond = self._found(s)
        point, way, speed = self._seen(which, t, beyond)
        turn = bezier.second_derivative(self.cubics[which], t)
        return point, way, np.where(beyond == 0.0, bezier.cross(way, turn) / speed**2, 0.0)

    def placed(self, s: Floats) -> tuple[Floats, Floats]:
        """Points (n, 2) and unit directions (n, 2) at lengths along the curve, in mm."""
        return self._seen(*self._found(s))[:2]

    def _seen(self, which: Ints, t: Floats, beyond: Floats) -> tuple[Floats, Floats, Floats]:
        """Points, unit directions and speeds; the curve goes on straight beyond its ends."""
        velocity = bezier.derivative_of(self.cubics, which, t)
        speed = np.maximum(bezier.length(velocity), 1e-12)
        way = velocity / speed[:, None]
        return bezier.evaluate_of(self.cubics, which, t) + beyond[:, None] * way, way, speed

    def _found(self, s: Floats) -> tuple[Ints, Floats, Floats]:
        """The cubics (n,) that lengths lie on, their parameters there, and how far (n,) beyond the curve."""
        inner = np.clip(s, 0.0, self.length)
        cell = np.clip(np.searchsorted(self._table, inner, side="right") - 1, 0, len(self._table) - 2)
        which, start = (cell // _CELLS).astype(np.intp), (cell % _CELLS) / _CELLS
        size = self._table[cell + 1] - self._table[cell]
        # Within a cell the parameter is a cubic in the length, by its values and slopes at both ends.
        u = (inner - self._table[cell]) / np.maximum(size, 1e-12)
        first, last = (size / np.maximum(self._speeds[side][cell], 1e-12) for side in (0, 1))
        rise = u * u * (3.0 - 2.0 * u)
        t = start + rise / _CELLS + u * (1.0 - u) * ((1.0 - u) * first - u * last)
        return which, np.clip(t, 0.0, 1.0), s - inner

    def holds_within(self, low: float, high: float) -> bool:
        """Whether offsets from `low` to `high` mm square to it, to the right as it runs, do not fold.

        That is |c'|^3 > d (c' x c'') all along: decided by Bernstein coefficients of both sides and halving,
        so that no sharp place is missed.
        """
        cubics = self.cubics
        for _ in range(_DEEPEST):
            velocity = 3.0 * np.diff(cubics, axis=1)
            turn = 2.0 * np.diff(velocity, axis=1)
            speed = _bernstein_product(velocity[:, :, 0], velocity[:, :, 0]) + _bernstein_product(
                velocity[:, :, 1], velocity[:, :, 1]
            )
            cross = _bernstein_product(velocity[:, :, 0], turn[:, :, 1]) - _bernstein_product(
                velocity[:, :, 1], turn[:, :, 0]
            )
            least = np.maximum(speed.min(axis=1), 0.0) ** 1.5
            most = np.maximum((low * cross).max(axis=1), (high * cross).max(axis=1))
            # At its ends each is known exactly: one that folds there folds.
            for end in (0, -1):
                known = np.maximum(speed[:, end], 0.0) ** 1.5
                if (known <= np.maximum(low * cross[:, end], high * cross[:, end])).any():
                    return False
            unsure = least <= most
            if not unsure.any():
                return True
            half = np.full(int(unsure.sum()), 0.5)
            zero, one = np.zeros_like(half), np.ones_like(half)
            left = bezier.subcurve(cubics[unsure], zero, half)
            cubics = np.concatenate([left, bezier.subcurve(cubics[unsure], half, one)])
        return False


def _bernstein_product(a: Floats, b: Floats) -> Floats:
    """Bernstein coefficients (n, p + q + 1) of products of polynomials, (n, p + 1) and (n, q + 1).

    Source: Farouki and Rajan, Algorithms for polynomials in Bernstein form (1988), section 4.3.
    """
    p, q = a.shape[1] - 1, b.shape[1] - 1
    out = np.zeros((len(a), p + q + 1))
    for i in range(p + 1):
        for j in range(q + 1):
            out[:, i + j] += comb(p, i) * comb(q, j) / comb(p + q, i + j) * a[:, i] * b[:, j]
    return out


@dataclass(frozen=True)
class Along:
    """Level lines become parallels of a path, upright ones its normals.

    Attributes:
        middle: the point of the base line that comes to lie `at` mm along the path.
        spread: lengths along the base line are times so much.
    """

    path: Path
    middle: tuple[float, float]
    at: float
    step: float
    spread: float = 1.0

    @property
    def levels(self) -> Floats:
        return np.zeros(0)

    def _along(self, xy: Floats) -> tuple[Floats, Floats]:
        """How far (n,) along the path points come to lie, and how far beside it."""
        return self.at + self.spread * (xy[:, 0] - self.middle[0]), xy[:, 1] - self.middle[1]

    def points(self, xy: Floats) -> Floats:
        s, below = self._along(xy)
        point, way = self.path.placed(s)
        return np.stack([point[:, 0] - below * way[:, 1], point[:, 1] + below * way[:, 0]], axis=1)

    def jacobian(self, xy: Floats) -> Floats:
        s, below = self._along(xy)
        _, way, curvature = self.path.at(s)
        along = self.spread * (1.0 - curvature * below)
        return np.stack(
            [
                np.stack([along * way[:, 0], -way[:, 1]], axis=1),
                np.stack([along * way[:, 1], way[:, 0]], axis=1),
            ],
            axis=1,
        )

    def holds_over(self, box: Box) -> bool:
        """Whether it does not fold over a box."""
        return self.path.holds_within(box[1] - self.middle[1], box[3] - self.middle[1])


def wave(length: float, height: float, times: float, up: bool) -> Path:
    """A sine wave so many mm long along itself, `height` mm from crest to trough, so many times over.

    It starts in its middle, going up first or down, about the origin's level.

    Raises:
        ValueError: where there is no such wave.
    """
    count = max(8, int(np.ceil(_A_WAVE * times)))

    def drawn(width: float) -> Path:
        rate = 2.0 * np.pi * times / width
        x = np.linspace(0.0, width, count + 1)
        sign = -1.0 if up else 1.0
        y, slope = (sign * height / 2.0 * f for f in (np.sin(rate * x), rate * np.cos(rate * x)))
        return Path(
            hermite(np.stack([x, y], axis=1), np.stack([np.ones_like(x), slope], axis=1), width / count)
        )

    if 2.02 * times * abs(height) >= length:
        # Up and down alone it would have to go farther than that.
        raise ValueError("no wave so high is so short")
    width = brentq(lambda one: drawn(one).length - length, 1e-3 * length, 1.0001 * length, xtol=1e-7)
    return drawn(float(width))


def hermite(points: Floats, velocities: Floats, step: float) -> Floats:
    """Cubics (n - 1, 4, 2) through points with velocities per mm of a parameter that goes by `step`."""
    third = velocities * step / 3.0
    return np.stack([points[:-1], points[:-1] + third[:-1], points[1:] - third[1:], points[1:]], axis=1)


def through(points: Floats, corners: bool = False) -> Path:
    """A smooth curve through points (n, 2), two or more of them in places of their own.

    Where a point is given twice in a row the curve has a corner, if it may have any. Centripetal Catmull-Rom
    splines neither loop nor overshoot between points.
    Source: Yuksel, Schaefer and Keyser, On the parameterization of Catmull-Rom curves (2009).
    """
    apart = bezier.length(np.diff(points, axis=0)) > _ONE_PLACE
    runs = np.split(points, np.flatnonzero(~apart) + 1) if corners else [points]
    places = [run for run in map(_in_own_places, runs) if len(run) > 1]
    if not places:
        raise GeometryError("A curve of its own needs two points or more in different places.")
    return Path(np.concatenate([_smoothly(run) for run in places]))


def _in_own_places(points: Floats) -> Floats:
    apart = bezier.length(np.diff(points, axis=0)) > _ONE_PLACE
    return points[np.concatenate([[True], apart])]


def _smoothly(points: Floats) -> Floats:
    """Cubics (n - 1, 4, 2) through points (n, 2) in places of their own."""
    if len(points) == 2:
        return bezier.line_controls(points[:1], points[1:])
    knots = np.sqrt(bezier.length(np.diff(points, axis=0)))
    slopes = np.diff(points, axis=0) / knots[:, None]
    before, after = knots[:-1, None], knots[1:, None]
    inner = (after * slopes[:-1] + before * slopes[1:]) / (before + after)
    first, last = (3.0 * slopes[0] - inner[0]) / 2.0, (3.0 * slopes[-1] - inner[-1]) / 2.0
    velocity = np.concatenate([first[None], inner, last[None]])
    third = velocity[:-1] * knots[:, None] / 3.0, velocity[1:] * knots[:, None] / 3.0
    return np.stack([points[:-1], points[:-1] + third[0], points[1:] - third[1], points[1:]], axis=1)
