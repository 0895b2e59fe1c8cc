"""Cubic Beziers fitted to smooth stretches of a known curve, many at once."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Floats, Ints

#: Places at which a fit is compared with its curve, ends included.
SAMPLES = 13
_ROUNDS = 3
#: Halving stops here; a 128th of a segment is far below any cutter's step.
_DEEPEST = 7

#: Takes which stretch and the parameters, (n,) and (n, k); gives points and directions (n, k, 2).
Sampler = Callable[[Ints, Floats], tuple[Floats, Floats]]


def unit(vectors: Floats) -> Floats:
    """Vectors over their lengths along the last axis; zero stays zero."""
    size = bezier.length(vectors)[..., None]
    return np.asarray(vectors / np.where(size > 0.0, size, 1.0))


def fit_cubics(points: Floats, first: Floats, last: Floats, tolerance: float) -> tuple[Floats, Floats]:
    """The cubic for each row of points with given end directions, by least squares.

    Solves for the two handle lengths, then moves the points' parameters to their feet, in turns, until
    the points are within `tolerance` mm.
    Source: Schneider, An Algorithm for Automatically Fitting Digitized Curves (Graphics Gems, 1990).

    Args:
        points: (n, k, 2) at about equal parameters along each stretch; the ends are kept exactly.
        first, last: (n, 2) unit directions at the ends, both pointing along the stretch.

    Returns:
        (n, 4, 2) cubics and (n,) the largest distance in mm from any point to its cubic.
    """
    n, k, _ = points.shape
    cubics, error = np.empty((n, 4, 2)), np.full(n, np.inf)
    u = np.tile(np.linspace(0.0, 1.0, k), (n, 1))
    open_ = np.arange(n)
    for _ in range(_ROUNDS):
        left = points.take(open_, axis=0)
        fitted = _least_squares(left, u, first.take(open_, axis=0), last.take(open_, axis=0))
        u, gap = _feet(fitted, left, u)
        cubics[open_], error[open_] = fitted, gap
        bad = gap > tolerance
        open_, u = open_[bad], u[bad]
        if len(open_) == 0:
            break
    return cubics, error


def _least_squares(points: Floats, u: Floats, first: Floats, last: Floats) -> Floats:
    """The cubics (n, 4, 2) with end directions given that pass nearest to points at parameters u (n, k)."""
    start, end = points[:, 0], points[:, -1]
    s = 1.0 - u
    near, far = 3.0 * s * s * u, 3.0 * s * u * u
    share = (s * s * s + near)[..., None]
    rest = points - end[:, None] - share * (start - end)[:, None]
    cos = bezier.dot(first, last)
    aa, bb = (near * near).sum(axis=1), (far * far).sum(axis=1)
    ab = -(near * far).sum(axis=1) * cos
    ra = np.einsum("nk,nkj,nj->n", near, rest, first)
    rb = -np.einsum("nk,nkj,nj->n", far, rest, last)
    determinant = aa * bb - ab * ab
    safe = np.where(np.abs(determinant) > 1e-14 * aa * bb, determinant, np.inf)
    alpha, beta = (ra * bb - rb * ab) / safe, (rb * aa - ra * ab) / safe
    third = bezier.length(np.diff(points, axis=1)).sum(axis=1) / 3.0
    poor = (np.minimum(alpha, beta) < 0.02 * third) | (np.maximum(alpha, beta) > 4.0 * third)
    alpha, beta = np.where(poor, third, alpha), np.where(poor, third, beta)
    return np.stack([start, start + alpha[:, None] * first, end - beta[:, None] * last, end], axis=1)


def _feet(cubics: Floats, points: Floats, u: Floats) -> tuple[Floats, Floats]:
    """Parameters (n, k) one Newton step nearer to the feet of points, and the largest gap (n,) left.

    The gap is across the curve: how far along it a point is off is the parameter's business.
    """
    n, k, _ = points.shape
    repeated, at = np.repeat(cubics, k, axis=0), u.ravel()
    gap = bezier.evaluate(repeated, at) - points.reshape(-1, 2)
    speed, turn = bezier.derivative(repeated, at), bezier.second_derivative(repeated, at)
    square = bezier.dot(speed, speed)
    slope = square + bezier.dot(gap, turn)
    step = bezier.dot(gap, speed) / np.where(slope > 1e-300, slope, np.inf)
    moved = np.clip(at - step, 0.0, 1.0).reshape(n, k)
    moved[:, 0], moved[:, -1] = 0.0, 1.0
    across = np.abs(bezier.cross(gap, speed)) / np.sqrt(np.maximum(square, 1e-300))
    return moved, np.minimum(across, bezier.length(gap)).reshape(n, k).max(axis=1)


def fit_stretches(sample: Sampler, low: Floats, high: Floats, tolerance: float) -> tuple[Floats, Ints]:
    """As few cubics as halving needs to follow each stretch of a sampled curve within `tolerance`.

    Args:
        sample: the curve, stretch by stretch; directions point along rising parameters.
        low, high: (n,) the parameters each stretch runs between.

    Returns:
        (m, 4, 2) cubics in order and (m,) the stretch each belongs to.
    """
    stretch = np.arange(len(low))
    done: list[tuple[Floats, Ints, Floats]] = []
    for depth in range(_DEEPEST + 1):
        if len(stretch) == 0:
            break
        grid = low[:, None] + (high - low)[:, None] * np.linspace(0.0, 1.0, SAMPLES)
        points, directions = sample(stretch, grid)
        cubics, error = fit_cubics(points, directions[:, 0], directions[:, -1], tolerance)
        good = (error <= tolerance) | (depth == _DEEPEST)
        done.append((cubics[good], stretch[good], low[good]))
        low, high, stretch = low[~good], high[~good], stretch[~good]
        middle = (low + high) / 2.0
        low, high = np.concatenate([low, middle]), np.concatenate([middle, high])
        stretch = np.concatenate([stretch, stretch])
    if not done:
        return np.zeros((0, 4, 2)), np.zeros(0, np.intp)
    cubics = np.concatenate([d[0] for d in done])
    stretch = np.concatenate([d[1] for d in done])
    order = np.lexsort((np.concatenate([d[2] for d in done]), stretch))
    return cubics[order], stretch[order]
