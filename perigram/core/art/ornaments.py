"""Ornaments of our own drawing: strokes of a brush that swells and thins; about as large as the figures."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from perigram.core.art.figures import closed_curve, turned
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.overlay import weld
from perigram.core.geometry.region import Region
from perigram.core.geometry.regularise import regularise

_SAMPLES = 160
_MIRRORED = np.array([[-1.0, 0.0, 0.0], [0.0, 1.0, 0.0]])


def _brush(line: Callable[[Floats], Floats], half: Callable[[Floats], Floats]) -> Region:
    """A stroke along a line for t from 0 to 1, half as broad as `half` says, round at both ends."""
    t = np.linspace(0.0, 1.0, _SAMPLES)
    xy, broad = line(t), half(t)
    way = np.gradient(xy, t, axis=0)
    way /= np.hypot(*way.T)[:, None]
    across = np.stack([-way[:, 1], way[:, 0]], axis=1) * broad[:, None]
    # Round the ends: half circles of as many points as look round.
    fan = np.linspace(0.0, np.pi, 9)[1:-1, None]
    start = xy[0] + across[0] * np.cos(fan) - way[0] * broad[0] * np.sin(fan)
    end = xy[-1] - across[-1] * np.cos(fan) + way[-1] * broad[-1] * np.sin(fan)
    outline = np.concatenate([xy - across, end, (xy + across)[::-1], start])
    velocity = (np.roll(outline, -1, axis=0) - np.roll(outline, 1, axis=0)) / 2.0
    raw = closed_curve(outline, velocity, 1.0)
    return regularise(raw.segments, ~raw.straight, raw.loop_offsets)


def _spiral(turns: float, r0: float, r1: float, end: float) -> Callable[[Floats], Floats]:
    """Round the origin from one radius to another, up to an angle."""

    def line(t: Floats) -> Floats:
        angle, r = end - 2.0 * np.pi * turns * (1.0 - t), r0 * (r1 / r0) ** t
        return np.asarray(np.stack([r * np.cos(angle), r * np.sin(angle)], axis=1))

    return line


def _swell(least: float, most: float) -> Callable[[Floats], Floats]:
    return lambda t: least + (most - least) * np.sin(np.pi * t) ** 1.5


def _swirl(points: int, depth: float) -> Region:
    turns = 1.0 + 0.25 * max(1, min(points, 8))
    return _brush(_spiral(turns, 6.0, 100.0, 0.0), lambda t: 1.2 + (2.0 + 9.0 * depth) * t * (1.15 - t))


def _flourish(points: int, depth: float) -> Region:
    """A long S with a curl at both ends: curvature runs from one side to the other (Euler's spiral)."""
    t = np.linspace(0.0, 1.0, 2001)
    curl = 3.2 + 0.12 * min(points, 12)
    angle = 2.2 * curl * (2.0 * t - 1.0) ** 4 + 0.4
    steps = np.stack([np.cos(angle), np.sin(angle)], axis=1)
    path = np.cumsum(steps, axis=0) / len(t) * 200.0
    # Level from end to end.
    (x, y), size = path[-1] - path[0], np.hypot(*(path[-1] - path[0]))
    path = path @ np.array([[x, -y], [y, x]]) / size

    def line(at: Floats) -> Floats:
        return np.stack([np.interp(at, t, path[:, k]) for k in (0, 1)], axis=1)

    return _brush(line, _swell(0.7, 1.2 + 5.0 * depth))


def _scrolls(points: int, depth: float) -> Region:
    """Two swirls back to back, and a bead between."""
    one = turned(_swirl(points, depth), np.pi).transformed(np.array([[1.0, 0.0, 97.0], [0.0, 0.7, 0.0]]))
    return weld([one, one.transformed(_MIRRORED)])


def _laurel(points: int, depth: float) -> Region:
    """Two branches of leaves, bent towards each other."""
    count = max(4, min(points, 24))
    stem = _brush(lambda t: _on_branch(t), lambda t: 2.6 - 1.4 * t)
    leaves = [stem]
    size = 10.0 + 16.0 * depth
    leaf = closed_curve(*_leaf(size), 1.0)
    for i in range(count):
        t = np.array([0.1 + 0.9 * i / (count - 1)])
        place, after = _on_branch(t)[0], _on_branch(t + 1e-4)[0]
        way = float(np.arctan2(*(after - place)[::-1]))
        side = (0.75 if i % 2 else -0.75) if i < count - 1 else 0.0
        leaves.append(turned(leaf, way + side).translated(*place.tolist()))
    half = weld(leaves)
    return weld([half, half.transformed(_MIRRORED)])


def _on_branch(t: Floats) -> Floats:
    angle = np.pi / 2.0 + 0.06 - 0.8 * np.pi * t
    return np.asarray(np.stack([96.0 * np.cos(angle), 96.0 * np.sin(angle)], axis=1))


def _leaf(size: float) -> tuple[Floats, Floats]:
    """A leaf that grows to the right from the origin, and its velocities."""
    a = 2.0 * np.pi * np.arange(32) / 32.0
    x, y = size * (1.0 - np.cos(a)), -0.42 * size * np.sin(a) * (1.0 - 0.45 * np.cos(a + np.pi))
    xy = np.stack([x - 0.1 * size, -y], axis=1)
    return xy, (np.roll(xy, -1, axis=0) - np.roll(xy, 1, axis=0)) / 2.0


ORNAMENTS: dict[str, Callable[[int, float], Region]] = {
    "swirl": _swirl,
    "flourish": _flourish,
    "scrolls": _scrolls,
    "laurel": _laurel,
}
