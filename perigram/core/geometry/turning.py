"""Segments cut where their parallel turns back, as it does where they bend tighter than it is far."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.fit import unit
from perigram.core.geometry.hooks import unhooked
from perigram.core.geometry.region import Region

#: Where along a segment its curvature is looked at for places tighter than the distance.
_PROBES = np.linspace(0.0, 1.0, 13)
_CLOSE_PROBES = np.linspace(0.0, 1.0, 97)
#: Between two probes, where a parallel turns back is narrowed down to a billionth of the segment.
_SECTIONS, _NARROWINGS = np.linspace(0.0, 1.0, 17), 7


@dataclass(eq=False)
class Parts:
    """Segments, cut where their parallel turns back.

    Attributes:
        cubics: (n, 4, 2) the segment each is a part of.
        straight: (n,) which are lines.
        owner: (n,) the number of that segment.
        low, high: (n,) its parameters from and to.
        hidden: (n,) whose parallels cannot be on the outline: they bend too tightly, or lie too deep.
        buried: (n,) those that lie too deep.
        wound: (n,) which end in a corner that a hook beside it winds round by more than half a turn, or stop
            to turn.
        following: (n,) the part after each in its loop.
        loop_offsets: offsets of loops.
    """

    cubics: Floats
    straight: Bools
    owner: Ints
    low: Floats
    high: Floats
    hidden: Bools
    buried: Bools
    wound: Bools
    following: Ints
    loop_offsets: Ints

    @cached_property
    def before(self) -> Ints:
        """The part before each in its loop."""
        before = np.empty_like(self.following)
        before[self.following] = np.arange(len(before))
        return before

    @cached_property
    def within(self) -> Bools:
        """Which parts end within their segment."""
        after = self.following
        return np.asarray((self.owner[after] == self.owner) & (after > np.arange(len(after))))


def directions(cubics: Floats, t: Floats) -> Floats:
    """Unit directions (n, 2) of cubics, also at ends whose handle has no length."""
    speed = bezier.derivative(cubics, t)
    size = np.abs(np.diff(cubics, axis=1)).max(axis=(1, 2))
    still = np.flatnonzero(bezier.farther(speed) < 1e-5 * size)
    if len(still):
        ahead = np.where(t[still] > 0.5, t[still] - 1e-3, t[still] + 1e-3)
        secant = bezier.evaluate(cubics[still], ahead) - bezier.evaluate(cubics[still], t[still])
        speed[still] = secant * np.where(t[still] > 0.5, -1.0, 1.0)[:, None]
    return unit(speed)


def normals(along: Floats) -> Floats:
    """Directions turned to the outer side of an outline that runs with positive area."""
    return np.stack([along[:, 1], -along[:, 0]], axis=1)


def _curvature(cubics: Floats, t: Floats) -> Floats:
    """Signed curvature in 1/mm, positive where the outline turns towards its solid side."""
    speed, bend = bezier.derivative(cubics, t), bezier.second_derivative(cubics, t)
    size = np.maximum(bezier.length(speed), 1e-9)
    return np.asarray(bezier.cross(speed, bend) / size**3)


def parallel_at(cubics: Floats, t: Floats, distance: float) -> tuple[Floats, Floats]:
    """Points (n, 2) of the parallels of cubics, and the unit directions of the cubics there."""
    along = directions(cubics, t)
    return bezier.evaluate(cubics, t) + distance * normals(along), along


def parts_of(region: Region, distance: float) -> Parts:
    """A region's segments, cut where their parallels at a distance in mm turn back; none is buried yet."""
    segments, straight, whole, starts, wound = unhooked(region)
    n = len(segments)
    bent = np.flatnonzero(~straight)
    stretch = _stretch(segments[bent], _PROBES, distance)
    # Where the parallel slows down much it may turn back between two probes: look closer.
    close = stretch.min(axis=1, initial=1.0) < 0.5
    owner, low, high, folding = (
        np.concatenate(columns)
        for columns in zip(
            _turns(bent[~close], stretch[~close], _PROBES),
            _turns(bent[close], _stretch(segments[bent[close]], _CLOSE_PROBES, distance), _CLOSE_PROBES),
            strict=True,
        )
    )
    for _ in range(_NARROWINGS if len(owner) else 0):
        tries = low[:, None] + (high - low)[:, None] * _SECTIONS
        curvature = _curvature(np.repeat(segments[owner], len(_SECTIONS), axis=0), tries.ravel())
        same = (1.0 + distance * curvature.reshape(tries.shape) <= 0.0) == folding[:, None]
        same[:, 0], same[:, -1] = True, False
        row, flip = np.arange(len(owner)), same.argmin(axis=1)
        low, high = tries[row, flip - 1], tries[row, flip]
    owners = np.concatenate([np.arange(n), owner])
    begins = np.concatenate([np.zeros(n), low])
    folded = np.zeros(n, bool)
    folded[bent] = stretch[:, 0] <= 0.0
    hidden = np.concatenate([folded, ~folding])
    order = np.lexsort((begins, owners))
    owners, begins, hidden = owners[order], begins[order], hidden[order]
    ends = np.append(begins[1:], 1.0)
    ends[np.append(owners[1:] != owners[:-1], True)] = 1.0
    counts = np.bincount(owners, minlength=n)
    loops = np.concatenate([[0], np.cumsum(counts)])[starts]
    following = np.arange(1, len(owners) + 1)
    following[loops[1:] - 1] = loops[:-1]
    return Parts(
        segments[owners],
        straight[owners],
        whole[owners],
        begins,
        ends,
        hidden,
        np.zeros(len(hidden), bool),
        ((ends == 1.0) & wound[owners, 1]) | ((begins == 0.0) & wound[owners, 0])[following],
        following,
        loops,
    )


def _stretch(segments: Floats, probes: Floats, distance: float) -> Floats:
    """Speeds (n, k) of parallels over their sources' at parameters (k,); negative where they turn back."""
    k = len(probes)
    curvature = _curvature(np.repeat(segments, k, axis=0), np.tile(probes, len(segments)))
    return 1.0 + distance * curvature.reshape(-1, k)


def _turns(owner: Ints, stretch: Floats, probes: Floats) -> tuple[Ints, Floats, Floats, Bools]:
    """Where parallels turn back: owner, parameters before and after, whether they run back before."""
    folds = stretch <= 0.0
    row, place = np.nonzero(folds[:, 1:] != folds[:, :-1])
    return owner[row], probes[place], probes[place + 1], folds[row, place]
