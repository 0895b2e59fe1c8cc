"""Arithmetic on arrays of cubic Bezier segments, shape (n, 4, 2), and their parameters.

Only element-wise operations are used, never matrix products: a point computed for the same curve
and parameter then has the same bits wherever and with whatever neighbours it is computed, which is
what lets shared edges be recognised exactly.

Rows are picked by `take`, here and wherever there are many: it copies each as a whole, in a tenth of the time
of indexing.
"""

from collections.abc import Callable
from functools import reduce
from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.intp]
Bools = NDArray[np.bool_]


def line_controls(start: Floats, end: Floats) -> Floats:
    """Cubics (n, 4, 2) that run along straight lines at constant speed."""
    step = (end - start) / 3.0
    return np.stack([start, start + step, end - step, end], axis=1)


def _summed(n: int, weights: tuple[Floats, ...], column: Callable[[int, int], Floats]) -> Floats:
    """Sums (n, 2) of control points times weights (n,), or one for all; `column` gives the k-th ones' x or y.

    One coordinate at a time: broadcasting weights over pairs would loop over two numbers at a time.
    """
    out = np.empty((n, 2))
    for axis in (0, 1):
        total = weights[0] * column(0, axis)
        for k in range(1, len(weights)):
            total += weights[k] * column(k, axis)
        out[:, axis] = total
    return out


def _blend(points: Floats, weights: tuple[Floats, ...]) -> Floats:
    """Sums (n, 2) of points (n, m, 2) times m weights (n,)."""
    return _summed(len(points), weights, lambda k, axis: points[:, k, axis])


def _blend_of(cubics: Floats, which: Ints, weights: tuple[Floats, ...]) -> Floats:
    """The same of `cubics[which]`: for many points on few cubics.

    Columns of few cubics stay in the processor's cache; whole cubics gathered for every point do not.
    """
    columns = np.ascontiguousarray(cubics.reshape(-1, 8).T)
    return _summed(len(which), weights, lambda k, axis: columns[2 * k + axis].take(which))


def _places(t: Floats) -> tuple[Floats, ...]:
    s = 1.0 - t
    return s * s * s, 3.0 * (s * s * t), 3.0 * (s * t * t), t * t * t


def _slopes(t: Floats) -> tuple[Floats, ...]:
    s = 1.0 - t
    ss, st, tt = 3.0 * (s * s), 6.0 * (s * t), 3.0 * (t * t)
    return -ss, ss - st, st - tt, tt


def evaluate(cubics: Floats, t: Floats) -> Floats:
    """Points (n, 2) of `cubics[i]` at `t[i]`, or all at one `t`."""
    return _blend(cubics, _places(t))


def evaluate_of(cubics: Floats, which: Ints, t: Floats) -> Floats:
    """Points (n, 2) of `cubics[which[i]]` at `t[i]`."""
    return _blend_of(cubics, which, _places(t))


def derivative(cubics: Floats, t: Floats) -> Floats:
    """First derivatives (n, 2) of `cubics[i]` at `t[i]`, or all at one `t`."""
    return _blend(cubics, _slopes(t))


def derivative_of(cubics: Floats, which: Ints, t: Floats) -> Floats:
    """First derivatives (n, 2) of `cubics[which[i]]` at `t[i]`."""
    return _blend_of(cubics, which, _slopes(t))


def second_derivative(cubics: Floats, t: Floats) -> Floats:
    """Second derivatives (n, 2) of `cubics[i]` at `t[i]`."""
    s, t = 6.0 * (1.0 - t), 6.0 * t
    return _blend(cubics, (s, t - 2.0 * s, s - 2.0 * t, t))


def subcurve(cubics: Floats, start: Floats, end: Floats) -> Floats:
    """The parts (n, 4, 2) of cubics between two parameters, by blossoming (de Casteljau).

    `start > end` gives the part run backwards.
    """
    points = np.ascontiguousarray(cubics.transpose(1, 2, 0))

    def blossom(u: Floats, v: Floats, w: Floats) -> Floats:
        once = (1.0 - u) * points[:3] + u * points[1:]
        twice = (1.0 - v) * once[:2] + v * once[1:]
        thrice: Floats = (1.0 - w) * twice[:1] + w * twice[1:]
        return thrice[0]

    parts = [
        blossom(start, start, start),
        blossom(start, start, end),
        blossom(start, end, end),
        blossom(end, end, end),
    ]
    return np.ascontiguousarray(np.stack(parts).transpose(2, 0, 1))


def halves(cubics: Floats) -> tuple[Floats, Floats]:
    """Both halves (n, 4, 2) of cubics."""
    a, b, c, d = cubics.transpose(1, 0, 2)
    ab, bc, cd = (a + b) / 2.0, (b + c) / 2.0, (c + d) / 2.0
    abc, bcd = (ab + bc) / 2.0, (bc + cd) / 2.0
    middle = (abc + bcd) / 2.0
    return np.stack([a, ab, abc, middle], axis=1), np.stack([middle, bcd, cd, d], axis=1)


def boxes(cubics: Floats) -> tuple[Floats, Floats]:
    """The corners (n, 2) of the boxes round cubics and their handles."""
    a, b, c, d = cubics[:, 0], cubics[:, 1], cubics[:, 2], cubics[:, 3]
    # Pair by pair: over an axis of four NumPy takes five times as long.
    low = np.minimum(np.minimum(a, b), np.minimum(c, d))
    return low, np.maximum(np.maximum(a, b), np.maximum(c, d))


def steps_for(cubics: Floats, tolerance: float | Floats) -> Ints:
    """How many equal parameter steps keep the chords of each cubic within `tolerance` mm.

    From the bound |B''| h^2 / 8 on the error of linear interpolation, with |B''| at most six times
    the larger second difference of the control points.
    """
    bend = np.maximum(
        length(cubics[:, 0] - 2.0 * cubics[:, 1] + cubics[:, 2]),
        length(cubics[:, 1] - 2.0 * cubics[:, 2] + cubics[:, 3]),
    )
    return np.maximum(1, np.ceil(np.sqrt(0.75 * bend / tolerance))).astype(np.intp)


def meet(a: Floats, b: Floats, t: Floats, u: Floats) -> tuple[Floats, Floats]:
    """Parameters of crossings of cubics a and b, by Newton's method from near by.

    Where the two run alike there, parameters stay; whether they have settled is for the caller to see.
    """
    t, u = t.copy(), u.copy()
    moving = np.arange(len(t))
    powers_a, powers_b = _powers(a), _powers(b)
    for _ in range(8):
        at_a, da = _by_powers(powers_a, t[moving])
        at_b, db = _by_powers(powers_b, u[moving])
        gap = at_a - at_b
        determinant = cross(da, db)
        safe = np.where(np.abs(determinant) < 1e-12, np.inf, determinant)
        dt, du = cross(gap, db) / safe, cross(gap, da) / safe
        t[moving] = np.clip(t[moving] - dt, 0.0, 1.0)
        u[moving] = np.clip(u[moving] - du, 0.0, 1.0)
        # Each stops by itself, so that no result depends on what else is asked for along with it. Steps
        # shrink by their squares: after one so small the next would be less than rounding.
        going = np.maximum(np.abs(dt), np.abs(du)) > 1e-12
        if not going.any():
            break
        moving = moving[going]
        powers_a, powers_b = powers_a[..., going], powers_b[..., going]
    return t, u


def _powers(cubics: Floats) -> Floats:
    """Coefficients (4, 2, n) of the powers of t, a row of numbers for each: three times as quick to evaluate
    as control points, and good enough to find a parameter by.
    """
    p, q, r, s = cubics.transpose(1, 2, 0)
    return np.stack([p, 3.0 * (q - p), 3.0 * (p - 2.0 * q + r), s - 3.0 * (r - q) - p])


def _by_powers(powers: Floats, t: Floats) -> tuple[Floats, Floats]:
    """Points and first derivatives (n, 2) at `t` (n,), by Horner's scheme."""
    d, c, b, a = powers
    return (((a * t + b) * t + c) * t + d).T, ((3.0 * a * t + 2.0 * b) * t + c).T


def cross(a: Floats, b: Floats) -> Any:
    """The z of the cross product of vectors along the last axis."""
    return a[..., 0] * b[..., 1] - a[..., 1] * b[..., 0]


def dot(a: Floats, b: Floats) -> Any:
    """The dot product of vectors along the last axis; ten times as quick as summing over so short an axis."""
    return a[..., 0] * b[..., 0] + a[..., 1] * b[..., 1]


def length(vectors: Floats) -> Any:
    """The lengths of vectors along the last axis; an eighth of the time of `np.hypot`, which guards against
    overflow.
    """
    return np.sqrt(dot(vectors, vectors))


def farther(vectors: Floats) -> Any:
    """The larger size, in x or in y, of vectors along the last axis (their Chebyshev norm); a twentieth of
    the time of a maximum over so short an axis.
    """
    sizes = np.abs(vectors)
    return np.maximum(sizes[..., 0], sizes[..., 1])


def least(values: Floats) -> Floats:
    """The least (n,) of few values (n, k) each, column by column for the same reason."""
    return reduce(np.minimum, values.T)


def most(values: Floats) -> Floats:
    """The largest (n,) of few values (n, k) each."""
    return reduce(np.maximum, values.T)


def same(a: Floats, b: Floats) -> Any:
    """Which points along the last axis are the same to the bit."""
    return (a[..., 0] == b[..., 0]) & (a[..., 1] == b[..., 1])


def expand(counts: Ints) -> tuple[Ints, Ints]:
    """For groups of the given sizes laid end to end: each member's group and place in it."""
    group = np.repeat(np.arange(len(counts)), counts)
    first = np.cumsum(counts) - counts
    return group, np.arange(len(group)) - first[group]


def row_hash(rows: Floats) -> NDArray[np.uint64]:
    """One 64-bit key a row of floats; equal rows have equal keys, and callers allow for a clash."""
    bits = np.ascontiguousarray(rows).view(np.uint64)
    key = np.zeros(len(rows), np.uint64)
    for column in range(bits.shape[1]):
        key = (key ^ bits[:, column]) * np.uint64(0x9E3779B97F4A7C15)
        key ^= key >> np.uint64(29)
    return key


def unit_arcs(start: Floats, turn: Floats, widest: float) -> tuple[Floats, Ints]:
    """Arcs of the unit circle as cubics (m, 4, 2), each over `widest` radians at most, and their arcs (m,).

    A cubic over an angle a, its handles 4/3 tan(a/4) long, is outside the circle by up to
    2/27 sin^6(a/4) / cos^2(a/4).
    Source: Goldapp, Approximation of circular arcs by cubic polynomials (1991).

    Args:
        start, turn: (n,) where on the circle each arc begins and how far it goes, in radians.
    """
    arc, place = expand(np.maximum(1, np.ceil(np.abs(turn) / widest - 1e-9).astype(np.intp)))
    step = turn[arc] / np.bincount(arc, minlength=len(turn))[arc]
    angle = start[arc] + place * step
    handle = (4.0 / 3.0 * np.tan(step / 4.0))[:, None]
    a, b = (np.stack([np.cos(x), np.sin(x)], axis=1) for x in (angle, angle + step))
    aside, back = (np.stack([-x[:, 1], x[:, 0]], axis=1) * handle for x in (a, b))
    return np.stack([a, a + aside, b - back, b], axis=1), arc


def widest_arc(radius: float, tolerance: float) -> float:
    """The widest angle, a quarter turn at most, that a cubic of `unit_arcs` may go over at a radius in mm."""
    share = (0.85 * 27.0 / 2.0 * tolerance / max(radius, 1e-9)) ** (1.0 / 6.0)
    return float(min(np.pi / 2.0, 4.0 * np.arcsin(min(share, 0.5))))
