"""Parallel curves of a region's outlines at one distance, as functions of their parameters."""

from __future__ import annotations

import numpy as np

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.fit import unit
from perigram.core.geometry.region import Region

#: Gaps and arcs below this many mm at a joint are closed by moving its ends together.
JOINT = 0.002
#: Where along a segment its curvature is looked at for places tighter than the distance.
_PROBES = np.linspace(0.0, 1.0, 33)


class Parallels:
    """The parallels of a region's outlines, numbered in the order of the outlines.

    Parallel 2 i belongs to part i, parallel 2 i + 1 to the joint at its end: an arc where the outline
    turns away from the offset side, nothing elsewhere. Parts are segments, cut where their curvature
    reaches 1 / distance; a part bent more tightly than that is dead: its parallel runs backwards and
    is never on the boundary. A part's parameter is its curve's, a joint's runs from 0 to 1.
    """

    def __init__(self, region: Region, distance: float) -> None:
        self.distance = distance
        segments = region.segments
        owner, self.low, self.high, self.dead = _parts(segments, region.straight, distance)
        self.cubics = segments[owner]
        self.straight = region.straight[owner]
        counts = np.bincount(owner, minlength=len(segments))
        self.loops = np.concatenate([[0], np.cumsum(counts)])[region.loops]
        self.following = np.arange(1, len(owner) + 1)
        self.following[self.loops[1:] - 1] = self.loops[:-1]
        self.before = np.empty_like(self.following)
        self.before[self.following] = np.arange(len(owner))
        self.corner = bezier.evaluate(self.cubics, self.high)
        leave = directions(self.cubics, self.high)
        enter = directions(self.cubics[self.following], self.low[self.following])
        self.turn = np.arctan2(bezier.cross(leave, enter), (leave * enter).sum(axis=1))
        self.turn[np.append(owner[1:] == owner[:-1], False)] = 0.0
        # Turning straight back leaves the sign of the turn to rounding: it goes round the tip.
        back = np.abs(self.turn) > np.pi - 1e-6
        self.turn[back] = np.pi * np.sign(distance)
        self.heading = np.arctan2(-leave[:, 0], leave[:, 1])
        self.smooth = np.abs(self.turn * distance) < JOINT
        self.arc: Bools = (self.turn * distance > 0.0) & ~self.smooth

    def at(self, parallel: Ints, u: Floats) -> tuple[Floats, Floats]:
        """Points (n, 2) on parallels and their derivatives by `u`."""
        part, joint = parallel // 2, (parallel % 2 == 1)[:, None]
        cubics = self.cubics[part]
        speed = bezier.derivative(cubics, u)
        direction = directions(cubics, u)
        normal = np.stack([direction[:, 1], -direction[:, 0]], axis=1)
        along = speed * _stretch(cubics, u, self.distance)[:, None]
        point = bezier.evaluate(cubics, u) + self.distance * normal
        angle = self.heading[part] + u * self.turn[part]
        arm = self.distance * np.stack([np.cos(angle), np.sin(angle)], axis=1)
        swing = np.stack([-arm[:, 1], arm[:, 0]], axis=1) * self.turn[part][:, None]
        return np.where(joint, self.corner[part] + arm, point), np.where(joint, swing, along)

    def begin(self, parallel: Ints) -> Floats:
        return np.where(parallel % 2 == 1, 0.0, self.low[parallel // 2])

    def finish(self, parallel: Ints) -> Floats:
        return np.where(parallel % 2 == 1, 1.0, self.high[parallel // 2])

    def next_of(self, parallel: Ints) -> Ints:
        return np.where(parallel % 2 == 0, parallel + 1, 2 * self.following[parallel // 2])

    def neighbour(self, parallel: Ints, way: int) -> Ints:
        """The parallel that joins on smoothly after (1) or before (-1); -1 where there is none."""
        part, joint = parallel // 2, parallel % 2 == 1
        if way > 0:
            beyond, at = self.following[part], part
            onto = np.where(joint, 2 * beyond, np.where(self.arc[at], 2 * at + 1, 2 * beyond))
        else:
            at = np.where(joint, part, self.before[part])
            onto = np.where(joint | ~self.arc[at], 2 * at, 2 * at + 1)
        open_ = (self.smooth[at] | self.arc[at]) & ~(self.dead[onto // 2] & (onto % 2 == 0))
        return np.where(open_, onto, -1)

    def foot(self, parallel: Ints, points: Floats, u: Floats) -> Floats:
        """Parameters of the source's places nearest to points, searched from `u` by Newton's method."""
        part = parallel // 2
        cubics, low, high = self.cubics[part], self.low[part], self.high[part]
        for _ in range(4):
            gap = bezier.evaluate(cubics, u) - points
            speed, bend = bezier.derivative(cubics, u), bezier.second_derivative(cubics, u)
            square = (speed * speed).sum(axis=1)
            slope = np.maximum(square + (gap * bend).sum(axis=1), 0.2 * square)
            u = np.clip(u - (gap * speed).sum(axis=1) / np.maximum(slope, 1e-300), low, high)
        return u

    def swing(self, part: Ints, points: Floats) -> Floats:
        """Where on the arc of each part's joint, from 0 to 1, points are seen from the corner."""
        arm = (points - self.corner[part]) * np.sign(self.distance)
        angle = np.arctan2(arm[:, 1], arm[:, 0]) - self.heading[part]
        turn = np.where(self.turn[part] == 0.0, 1e-300, self.turn[part])
        # Take the angle nearest to the middle of the arc, so that ends do not wrap round.
        middle = turn / 2.0
        angle = middle + np.remainder(angle - middle + np.pi, 2.0 * np.pi) - np.pi
        return np.clip(angle / turn, 0.0, 1.0)


def directions(cubics: Floats, t: Floats) -> Floats:
    """Unit directions (n, 2) of cubics, also at ends whose handle has no length."""
    speed = bezier.derivative(cubics, t)
    size = np.abs(np.diff(cubics, axis=1)).max(axis=(1, 2))
    still = np.flatnonzero(np.abs(speed).max(axis=1) < 1e-5 * size)
    if len(still):
        ahead = np.where(t[still] > 0.5, t[still] - 1e-3, t[still] + 1e-3)
        secant = bezier.evaluate(cubics[still], ahead) - bezier.evaluate(cubics[still], t[still])
        speed[still] = secant * np.where(t[still] > 0.5, -1.0, 1.0)[:, None]
    return unit(speed)


def _stretch(cubics: Floats, t: Floats, distance: float) -> Floats:
    """Speed of the parallel over speed of the source, 1 + curvature * distance."""
    speed, bend = bezier.derivative(cubics, t), bezier.second_derivative(cubics, t)
    size = np.maximum(np.hypot(*speed.T), 1e-9)
    return np.asarray(1.0 + distance * bezier.cross(speed, bend) / size**3)


def _parts(segments: Floats, straight: Bools, distance: float) -> tuple[Ints, Floats, Floats, Bools]:
    """Segments cut where their parallel turns back: owner, parameters from and to, whether dead."""
    n, k = len(segments), len(_PROBES)
    factor = np.ones((n, k))
    bent = np.flatnonzero(~straight)
    if len(bent):
        repeated = np.repeat(segments[bent], k, axis=0)
        factor[bent] = _stretch(repeated, np.tile(_PROBES, len(bent)), distance).reshape(-1, k)
    owner, place = np.nonzero((factor[:, 1:] > 0.0) != (factor[:, :-1] > 0.0))
    low, high = _PROBES[place], _PROBES[place + 1]
    rising = factor[owner, place] <= 0.0
    for _ in range(40):
        middle = (low + high) / 2.0
        dead = _stretch(segments[owner], middle, distance) <= 0.0
        low = np.where(dead == rising, middle, low)
        high = np.where(dead == rising, high, middle)
    everyone = np.arange(n)
    owners = np.concatenate([everyone, owner])
    begins = np.concatenate([np.zeros(n), low])
    order = np.lexsort((begins, owners))
    owners, begins = owners[order], begins[order]
    ends = np.append(begins[1:], 1.0)
    ends[np.append(owners[1:] != owners[:-1], True)] = 1.0
    dead = _stretch(segments[owners], (begins + ends) / 2.0, distance) <= 0.0
    return owners, begins, ends, dead & ~straight[owners]
