"""Hooks at ends of segments and turns on the spot within them, which parallels would miss."""

from __future__ import annotations

import numpy as np

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.fit import unit
from perigram.core.geometry.region import FINE, Region

#: Handles shorter than this share of the leg beside them that turn aside by so much make a hook.
_HOOK, _ASIDE = 0.1, 0.2
#: Handles shorter than this many mm are none.
_NO_HANDLE = 5e-5
#: Places where a segment is looked at for turns on the spot, and how often the slowest is narrowed down.
_LOOKS, _NARROWINGS = np.linspace(0.0, 1.0, 33), 4


def unhooked(region: Region) -> tuple[Floats, Bools, Ints, Ints, Bools]:
    """Segments cut where they turn on the spot, and before ends that hook: a handle far shorter than the leg
    beside it that turns aside.

    All of the turn happens over less of the segment than lies between two probes, and the parallel's arc
    round it would be missed. One that turns on past the corner it ends in, by more than half a turn together,
    is a line where it is as short as one: the corner seems to turn the other way round with it.

    Returns:
        The segments, which are straight, the region's segment each is of, the offsets of loops in them, and
        which start and end (m, 2) in a corner they turn on past, or that they themselves make as they stop.
    """
    segments, straight = _without_short_handles(region.segments.copy(), region.straight), region.straight
    following, loops, owner = region.following, region.loop_offsets, np.arange(len(segments))
    turns = _turns_on_the_spot(segments, straight)
    if np.isfinite(turns).any():
        segments, owner = _cut(segments, np.insert(turns, (0, 2), (0.0, 1.0), axis=1))
        straight, loops = straight[owner], np.searchsorted(owner, loops)
        segments = _without_short_handles(segments, straight)
        following = np.arange(1, len(segments) + 1)
        following[loops[1:] - 1] = loops[:-1]
    legs = np.diff(segments, axis=1)
    size = bezier.length(legs)
    share = size[:, [0, 2]] / np.maximum(size[:, 1:2], 1e-300)
    aside = np.stack([unit(legs[:, 0]) - unit(legs[:, 1]), unit(legs[:, 2]) - unit(legs[:, 1])], axis=1)
    hooks = (share > 0.0) & (share < _HOOK) & (bezier.length(aside) > _ASIDE)
    hooks &= ~straight[:, None]
    # Twice as far in as where the handle's pull is as strong as the leg's.
    first, last = (
        np.where(hooks[:, 0], 2.0 * share[:, 0], np.nan),
        np.where(hooks[:, 1], 1.0 - 2.0 * share[:, 1], np.nan),
    )
    made, whole = _cut(segments, np.stack([np.zeros(len(first)), first, last, np.ones(len(first))], axis=1))
    starts = np.searchsorted(whole, loops)
    is_first = np.diff(whole, prepend=-1) != 0
    at_ends = np.stack([is_first, np.append(is_first[1:], True)], axis=1)
    wound = (_wound(segments, following) & hooks)[whole] & at_ends
    lines = wound.any(axis=1) & (bezier.length(made[:, 3] - made[:, 0]) < FINE)
    made[lines] = bezier.line_controls(made[lines, 0], made[lines, 3])
    # Where a segment stops within is a corner.
    on = np.flatnonzero(np.diff(owner) == 0)
    stops = on[(size[on, 2] == 0.0) | (size[on + 1, 0] == 0.0)]
    stopped = np.zeros((len(segments), 2), bool)
    stopped[stops, 1] = stopped[stops + 1, 0] = True
    return made, straight[whole] | lines, owner[whole], starts, wound | stopped[whole] & at_ends


def _without_short_handles(segments: Floats, straight: Bools) -> Floats:
    """Segments, changed in place, whose shortest handles are none: they say nothing of where a curve goes."""
    for control, node in ((1, 0), (2, 3)):
        short = ~straight & (bezier.farther(segments[:, control] - segments[:, node]) < _NO_HANDLE)
        segments[short, control] = segments[short, node]
    return segments


def _cut(segments: Floats, cuts: Floats) -> tuple[Floats, Ints]:
    """Segments cut at parameters (n, k), 0, 1 and NaN for none among them, and which one each piece is of.

    Ends keep their bits.
    """
    whole, place = np.nonzero(np.isfinite(cuts[:, :-1]))
    low = cuts[whole, place]
    high = np.append(low[1:], 1.0)
    high[np.append(whole[1:] != whole[:-1], True)] = 1.0
    made = segments.take(whole, axis=0)
    cut = (low > 0.0) | (high < 1.0)
    made[cut] = bezier.subcurve(made[cut], low[cut], high[cut])
    made[low == 0.0, 0] = segments[:, 0]
    made[high == 1.0, 3] = segments[:, 3]
    return made, whole


def _turns_on_the_spot(segments: Floats, straight: Bools) -> Floats:
    """Parameters (n, 2) where segments all but stand still while they turn back, NaN where they do not.

    The speed of a cubic is a quadratic: it has two slowest places at most.
    """
    turns = np.full((len(segments), 2), np.nan)
    legs = np.diff(segments, axis=1)
    # A curve whose legs all lead one way turns back nowhere.
    back = np.minimum(bezier.dot(legs[:, 0], legs[:, 2]), bezier.dot(legs[:, 0], legs[:, 1]))
    some = np.flatnonzero(~straight & (np.minimum(back, bezier.dot(legs[:, 1], legs[:, 2])) < 0.0))
    speed = _speeds(segments[some], np.tile(_LOOKS, (len(some), 1)))
    least = (speed[:, 1:-1] <= speed[:, :-2]) & (speed[:, 1:-1] < speed[:, 2:])
    which, place = np.nonzero(least)
    cubics, low, high = segments[some[which]], _LOOKS[place], _LOOKS[place + 2]
    row, last = np.arange(len(which)), len(_LOOKS) - 1
    for _ in range(_NARROWINGS if len(which) else 0):
        looks = low[:, None] + (high - low)[:, None] * _LOOKS
        slowest = _speeds(cubics, looks).argmin(axis=1)
        low, high = looks[row, np.maximum(slowest - 1, 0)], looks[row, np.minimum(slowest + 1, last)]
    middle = 0.5 * (low + high)
    size = bezier.length(legs[some[which]]).max(axis=1)
    slow = bezier.length(bezier.derivative(cubics, middle)) < 3.0 * _HOOK * size
    turns[some[which[slow]], (np.diff(which, prepend=-1) == 0)[slow].astype(int)] = middle[slow]
    return turns


def _speeds(cubics: Floats, t: Floats) -> Floats:
    """How fast cubics go at parameters (n, k)."""
    speeds = bezier.derivative(np.repeat(cubics, t.shape[1], axis=0), t.ravel())
    return np.asarray(bezier.length(speeds).reshape(t.shape))


def _wound(segments: Floats, following: Ints) -> Bools:
    """Whether handles at starts and ends of segments (n, 2) and the corners there turn by more than half a
    turn together.
    """
    legs = np.diff(segments, axis=1)
    real = bezier.length(legs) > 0.0
    row = np.arange(len(legs))
    out, back = legs[row, real.argmax(axis=1)], legs[row, 2 - real[:, ::-1].argmax(axis=1)]
    corner = _turn(back, out[following])
    at_start, at_end = _turn(legs[:, 0], legs[:, 1]), _turn(legs[:, 1], legs[:, 2])
    before = np.empty_like(corner)
    before[following] = corner
    return np.abs(np.stack([at_start + before, at_end + corner], axis=1)) > np.pi


def _turn(a: Floats, b: Floats) -> Floats:
    """By how many radians (n,) directions turn."""
    return np.asarray(np.arctan2(bezier.cross(a, b), bezier.dot(a, b)))
