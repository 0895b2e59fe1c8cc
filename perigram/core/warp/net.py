"""Shaping by a net of control points: a tensor-product Bezier patch over a box."""

from __future__ import annotations

from dataclasses import dataclass
from math import comb

import numpy as np

from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.measure import Box

#: Parts of a net are quartered so often to decide whether it folds.
_DEEPEST = 9


@dataclass(frozen=True, eq=False)
class Net:
    """The map of a box that a net of control points (n, m, 2) makes: n rows from the top, m columns.

    A point u across and v down goes to the sum of control points times Bernstein polynomials in u and v; the
    corners are met, an even net changes nothing.
    Source: Farin, Curves and Surfaces for CAGD, chapter on tensor product patches.
    """

    box: Box
    control: Floats

    @property
    def step(self) -> float:
        most = max(self.control.shape[:2]) - 1
        return max(self.box[2] - self.box[0], self.box[3] - self.box[1]) / max(most, 1)

    @property
    def levels(self) -> Floats:
        return np.zeros(0)

    def _shares(self, xy: Floats) -> tuple[Floats, Floats]:
        x0, y0, x1, y1 = self.box
        return (xy[:, 0] - x0) / (x1 - x0), (xy[:, 1] - y0) / (y1 - y0)

    def points(self, xy: Floats) -> Floats:
        u, v = self._shares(xy)
        return _patch(self.control, u, v)

    def jacobian(self, xy: Floats) -> Floats:
        u, v = self._shares(xy)
        n, m = self.control.shape[:2]
        across = _patch((m - 1) * np.diff(self.control, axis=1), u, v) / (self.box[2] - self.box[0])
        down = _patch((n - 1) * np.diff(self.control, axis=0), u, v) / (self.box[3] - self.box[1])
        return np.stack([across, down], axis=2)

    def holds_over(self, box: Box) -> bool:
        """Whether it does not fold over its own box, which `box` is within."""
        return self.fold() is None

    def fold(self) -> tuple[float, float] | None:
        """A place, as shares across and down, where it folds or may; None where it nowhere does.

        The determinant of its derivative is a Bernstein polynomial itself: where all coefficients are above
        zero it is, where a corner is not it is not; anything else is quartered.
        """
        n, m = self.control.shape[:2]
        across, down = (m - 1) * np.diff(self.control, axis=1), (n - 1) * np.diff(self.control, axis=0)
        size = (self.box[2] - self.box[0]) * (self.box[3] - self.box[1])
        whole = _product(across[:, :, 0], down[:, :, 1]) - _product(across[:, :, 1], down[:, :, 0])
        least = 1e-6 * size
        todo = [(whole - least, 0.0, 0.0, 1.0)]
        for _ in range(_DEEPEST):
            after: list[tuple[Floats, float, float, float]] = []
            for part, u, v, wide in todo:
                if (part > 0.0).all():
                    continue
                for row, column in ((0, 0), (0, -1), (-1, 0), (-1, -1)):
                    if part[row, column] <= 0.0:
                        return u - column * wide, v - row * wide
                for j, half in enumerate(_halves(part)):
                    for i, quarter in enumerate(_halves(half.T)):
                        after.append((quarter.T, u + i * wide / 2.0, v + j * wide / 2.0, wide / 2.0))
            todo = after
            if not todo:
                return None
        _, u, v, wide = todo[0]
        return u + wide / 2.0, v + wide / 2.0


def even(box: Box, rows: int, columns: int) -> Floats:
    """The net (rows, columns, 2) that changes nothing."""
    x, y = np.linspace(box[0], box[2], columns), np.linspace(box[1], box[3], rows)
    return np.stack(np.meshgrid(x, y), axis=2)


def resized(control: Floats, rows: int, columns: int) -> Floats:
    """The net with another number of points: more keep its shape exactly, fewer as well as they can."""
    return _resized(_resized(control, rows).transpose(1, 0, 2), columns).transpose(1, 0, 2)


def _resized(control: Floats, rows: int) -> Floats:
    while len(control) < rows:
        # Degree elevation (Farin, chapter on Bezier curves).
        n = len(control)
        share = (np.arange(1, n) / n)[:, None, None]
        inner = share * control[:-1] + (1.0 - share) * control[1:]
        control = np.concatenate([control[:1], inner, control[-1:]])
    if len(control) > rows:
        t = np.linspace(0.0, 1.0, 8 * len(control))
        before, after = _basis(len(control) - 1, t), _basis(rows - 1, t)
        goal = np.tensordot(before, control, axes=(0, 0))
        flat = np.linalg.lstsq(after.T, goal.reshape(len(t), -1), rcond=None)[0]
        fitted = np.asarray(flat.reshape(rows, *control.shape[1:]), np.float64)
        # Corners and edges stay where they are.
        fitted[0], fitted[-1] = control[0], control[-1]
        control = fitted
    return control


def _basis(degree: int, t: Floats) -> Floats:
    """Bernstein polynomials (degree + 1, n)."""
    rising, falling = [np.ones_like(t)], [np.ones_like(t)]
    # Multiplied up: a power of its own for each takes ten times as long.
    for _ in range(degree):
        rising.append(rising[-1] * t)
        falling.append(falling[-1] * (1.0 - t))
    return np.stack([comb(degree, i) * rising[i] * falling[degree - i] for i in range(degree + 1)])


def _patch(control: Floats, u: Floats, v: Floats) -> Floats:
    """Points (k, 2) of a patch; summed one by one, so that none depends on what is asked along with it."""
    n, m = control.shape[:2]
    down, across = _basis(n - 1, v), _basis(m - 1, u)
    out = np.zeros((2, len(u)))
    for i in range(n):
        row = np.zeros((2, len(u)))
        for j in range(m):
            row += control[i, j, :, None] * across[j]
        out += down[i] * row
    return np.ascontiguousarray(out.T)


def _product(a: Floats, b: Floats) -> Floats:
    """Bernstein coefficients of the product of two patches of numbers."""
    (p, q), (r, s) = np.subtract(a.shape, 1), np.subtract(b.shape, 1)
    out = np.zeros((p + r + 1, q + s + 1))
    for i in range(p + 1):
        for k in range(r + 1):
            rows = comb(p, i) * comb(r, k) / comb(p + r, i + k)
            for j in range(q + 1):
                for m in range(s + 1):
                    columns = comb(q, j) * comb(s, m) / comb(q + s, j + m)
                    out[i + k, j + m] += rows * columns * a[i, j] * b[k, m]
    return out


def _halves(part: Floats) -> tuple[Floats, Floats]:
    """The upper and lower half of a patch of numbers, by de Casteljau."""
    rows = [part]
    while len(rows[-1]) > 1:
        rows.append((rows[-1][:-1] + rows[-1][1:]) / 2.0)
    return np.array([row[0] for row in rows]), np.array([row[-1] for row in reversed(rows)])
