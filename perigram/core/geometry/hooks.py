"""Ends of segments that hook: parallels would miss the turn that hides in a short handle."""

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


def unhooked(region: Region) -> tuple[Floats, Bools, Ints, Ints, Bools]:
    """Segments cut before ends that hook: a handle far shorter than the leg beside it that turns aside.

    All of the turn happens over less of the segment than lies between two probes, and the parallel's arc
    round it would be missed. One that turns on past the corner it ends in, by more than half a turn together,
    is a line where it is as short as one: the corner seems to turn the other way round with it.

    Returns:
        The segments, which are straight, the region's segment each is of, the offsets of loops in them, and
        which start and end (m, 2) in a corner they turn on past.
    """
    segments, straight = region.segments.copy(), region.straight
    for control, node in ((1, 0), (2, 3)):
        # A handle that short says nothing of where the curve goes.
        short = ~straight & (bezier.farther(segments[:, control] - segments[:, node]) < _NO_HANDLE)
        segments[short, control] = segments[short, node]
    legs = np.diff(segments, axis=1)
    size = bezier.length(legs)
    share = size[:, [0, 2]] / np.maximum(size[:, 1:2], 1e-300)
    aside = np.stack([unit(legs[:, 0]) - unit(legs[:, 1]), unit(legs[:, 2]) - unit(legs[:, 1])], axis=1)
    hooks = (share > 0.0) & (share < _HOOK) & (bezier.length(aside) > _ASIDE)
    hooks &= ~straight[:, None]
    # Twice as far in as where the handle's pull is as strong as the leg's.
    first, last = (
        np.where(hooks[:, 0], 2.0 * share[:, 0], 0.0),
        np.where(hooks[:, 1], 1.0 - 2.0 * share[:, 1], 1.0),
    )
    pieces = 1 + hooks.sum(axis=1)
    whole, place = bezier.expand(pieces)
    cuts = np.stack([np.zeros(len(first)), first, last, np.ones(len(first))], axis=1)
    at = place + ~hooks[whole, 0]
    made = segments[whole]
    cut = pieces[whole] > 1
    made[cut] = bezier.subcurve(made[cut], cuts[whole, at][cut], cuts[whole, at + 1][cut])
    # Ends keep their bits.
    made[place == 0, 0] = segments[:, 0]
    made[np.append(place[1:] == 0, True), 3] = segments[:, 3]
    starts = np.concatenate([[0], np.cumsum(pieces)]).astype(np.intp)[region.loop_offsets]
    at_ends = np.stack([place == 0, np.append(place[1:] == 0, True)], axis=1)
    wound = (_wound(region, segments) & hooks)[whole] & at_ends
    lines = wound.any(axis=1) & (bezier.length(made[:, 3] - made[:, 0]) < FINE)
    made[lines] = bezier.line_controls(made[lines, 0], made[lines, 3])
    return made, straight[whole] | lines, whole, starts, wound


def _wound(region: Region, segments: Floats) -> Bools:
    """Whether handles at starts and ends of segments (n, 2) and the corners there turn by more than half a
    turn together.
    """
    legs = np.diff(segments, axis=1)
    real = bezier.length(legs) > 0.0
    row = np.arange(len(legs))
    out, back = legs[row, real.argmax(axis=1)], legs[row, 2 - real[:, ::-1].argmax(axis=1)]
    corner = _turn(back, out[region.following])
    at_start, at_end = _turn(legs[:, 0], legs[:, 1]), _turn(legs[:, 1], legs[:, 2])
    before = np.empty_like(corner)
    before[region.following] = corner
    return np.abs(np.stack([at_start + before, at_end + corner], axis=1)) > np.pi


def _turn(a: Floats, b: Floats) -> Floats:
    """By how many radians (n,) directions turn."""
    return np.asarray(np.arctan2(bezier.cross(a, b), bezier.dot(a, b)))
