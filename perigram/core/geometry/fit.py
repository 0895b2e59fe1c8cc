"""Cubic Beziers fitted to smooth stretches of a known curve, many at once."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Floats, Ints

#: Places at which a fit is compared with its curve, ends included.
SAMPLES = 17
_ROUNDS = 2
#: Halving stops here; a 1,024th of a segment is far below any cutter's step.
_DEEPEST = 10
#: A polyline turning by more than this in one vertex (in radians) has a corner there.
_CORNER = 0.35

#: Takes which stretch and the parameters, (n,) and (n, k); gives points and directions (n, k, 2).
Sampler = Callable[[Ints, Floats], tuple[Floats, Floats]]


def unit(vectors: Floats) -> Floats:
    """Vectors over their lengths along the last axis; zero stays zero."""
    size = np.hypot(vectors[..., 0], vectors[..., 1])[..., None]
    return np.asarray(vectors / np.where(size > 0.0, size, 1.0))


def fit_cubics(points: Floats, first: Floats, last: Floats) -> tuple[Floats, Floats]:
    """The cubic for each row of points with given end directions, by least squares.

    Solves for the two handle lengths, then moves the points' parameters to their feet, in turns.
    Source: Schneider, An Algorithm for Automatically Fitting Digitized Curves (Graphics Gems, 1990).

    Args:
        points: (n, k, 2) at about equal parameters along each stretch; the ends are kept exactly.
        first, last: (n, 2) unit directions at the ends, both pointing along the stretch.

    Returns:
        (n, 4, 2) cubics and (n,) the largest distance in mm from any point to its cubic.
    """
    n, k, _ = points.shape
    whole = np.hypot(*np.diff(points, axis=1).transpose(2, 0, 1)).sum(axis=1)
    u = np.tile(np.linspace(0.0, 1.0, k), (n, 1))
    start, end = points[:, 0], points[:, -1]
    cubics = np.empty((n, 4, 2))
    for _ in range(_ROUNDS):
        s = 1.0 - u
        near, far = (3 * s * s * u)[..., None], (3 * s * u * u)[..., None]
        base = (s**3)[..., None] * start[:, None] + near * start[:, None]
        base = base + far * end[:, None] + (u**3)[..., None] * end[:, None]
        a, b = near * first[:, None], -far * last[:, None]
        rest = points - base
        aa, ab, bb = ((p * q).sum(axis=(1, 2)) for p, q in ((a, a), (a, b), (b, b)))
        ra, rb = (rest * a).sum(axis=(1, 2)), (rest * b).sum(axis=(1, 2))
        determinant = aa * bb - ab * ab
        safe = np.where(np.abs(determinant) > 1e-14 * aa * bb, determinant, np.inf)
        alpha, beta = (ra * bb - rb * ab) / safe, (rb * aa - ra * ab) / safe
        third = whole / 3.0
        poor = (alpha < 0.02 * third) | (beta < 0.02 * third)
        alpha, beta = np.where(poor, third, alpha), np.where(poor, third, beta)
        cubics[:, 0], cubics[:, 3] = start, end
        cubics[:, 1] = start + alpha[:, None] * first
        cubics[:, 2] = end - beta[:, None] * last
        u = _feet(cubics, points, u)
    repeated = np.repeat(cubics, k, axis=0)
    gap = bezier.evaluate(repeated, u.ravel()) - points.reshape(-1, 2)
    return cubics, np.hypot(*gap.T).reshape(n, k).max(axis=1)


def _feet(cubics: Floats, points: Floats, u: Floats) -> Floats:
    """One Newton step of each parameter towards the foot of its point; ends stay."""
    n, k, _ = points.shape
    repeated, at = np.repeat(cubics, k, axis=0), u.ravel()
    gap = bezier.evaluate(repeated, at) - points.reshape(-1, 2)
    speed, turn = bezier.derivative(repeated, at), bezier.second_derivative(repeated, at)
    slope = (speed * speed).sum(axis=1) + (gap * turn).sum(axis=1)
    step = (gap * speed).sum(axis=1) / np.where(slope > 1e-300, slope, np.inf)
    moved = np.clip(at - step, 0.0, 1.0).reshape(n, k)
    moved[:, 0], moved[:, -1] = 0.0, 1.0
    return moved


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
        cubics, error = fit_cubics(points, directions[:, 0], directions[:, -1])
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


def fit_ring(points: Floats, tolerance: float) -> Floats:
    """A closed polyline of exact points as cubics (m, 4, 2), smooth except at its corners.

    Args:
        points: (n, 2) the ring's vertices, dense where it bends; the first is not repeated.
    """
    n = len(points)
    step = np.roll(points, -1, axis=0) - points
    turn = np.arctan2(
        bezier.cross(np.roll(step, 1, axis=0), step), (np.roll(step, 1, axis=0) * step).sum(axis=1)
    )
    corners = np.flatnonzero(np.abs(turn) > _CORNER)
    if len(corners) == 0:
        corners = np.array([0])
    # Start at a corner, so that every stretch runs from one corner to the next.
    points = np.roll(points, -corners[0], axis=0)
    low = (corners - corners[0]).astype(float)
    high = np.append(low[1:], float(n))
    closed = np.vstack([points, points[:1]])
    smooth = len(corners) == 1 and abs(turn[corners[0]]) <= _CORNER

    def sample(stretch: Ints, at: Floats) -> tuple[Floats, Floats]:
        place = np.clip(at, 0.0, float(n))
        before = np.minimum(place.astype(np.intp), n - 1)
        share = (place - before)[..., None]
        between = closed[before] * (1.0 - share) + closed[before + 1] * share
        # Directions look half a step each way, but not round a corner.
        start, end = low[stretch][:, None], high[stretch][:, None]
        behind = place - 0.5 if smooth else np.maximum(place - 0.5, start)
        ahead = place + 0.5 if smooth else np.minimum(place + 0.5, end)
        way = _on_ring(closed, ahead) - _on_ring(closed, behind)
        return between, unit(way)

    return fit_stretches(sample, low, high, tolerance)[0]


def _on_ring(closed: Floats, at: Floats) -> Floats:
    n = len(closed) - 1
    place = np.remainder(at, n)
    place = np.where((place == 0.0) & (at >= n), float(n), place)
    before = np.minimum(place.astype(np.intp), n - 1)
    share = (place - before)[..., None]
    return np.asarray(closed[before] * (1.0 - share) + closed[before + 1] * share)
