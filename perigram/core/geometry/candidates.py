"""Which segments may come near each other: told from their control points.

So only the chords of those few need be compared.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from perigram.core.errors import GeometryError
from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.fit import unit
from perigram.core.geometry.flat import boxes_of

#: Outlines are asked again and again for what comes nearer than this many mm, or less.
CLOSE = 0.0125
#: The cosine of the widest angle by which what goes onward leaves its way, to either side.
_AHEAD = 0.2
#: Two that leave one place part at once where any place on the one is from any on the other, as the crow
#: flies, at least half this share of the way along both.
_PARTING = 0.1
#: Of more loops than this a closer look first takes less than the chords of those that it spares: segments
#: are halved so often, into so many parts. Of few loops it takes a fifth more.
MANY_LOOPS, HALVINGS = 500, 4
PARTS = 1 << HALVINGS
#: So many pairs may come near; a map of 70,000 lines has half as many at 5 mm across. So many boxes are
#: asked, and so many pairs looked at, at a time.
_MOST, _ASKED, _PAIRS = 4_000_000, 4_000, 500_000
#: Control points no farther from the chord than this share of what is looked for are as good as on it.
_STRAIGHT = 0.25


def near_pairs(
    controls: Floats, following: Ints, apart: float, asked: Bools | None = None, halvings: int = 0
) -> tuple[Ints, Ints]:
    """Pairs i <= j of segments that may come nearer than `apart` mm to each other, or to themselves.

    Args:
        controls: (n, 4, 2) the segments of closed loops.
        following: (n,) the one that goes on where each ends.
        asked: (n,) segments of which each pair must have one; all of them if not given.
        halvings: how often segments are halved to tell.

    Raises:
        GeometryError: for more than can be looked at.
    """
    if asked is not None and not asked.any():
        return np.zeros(0, np.intp), np.zeros(0, np.intp)
    low, high = bezier.boxes(controls)
    boxes = boxes_of(low - apart / 2.0, high + apart / 2.0)
    about = np.ones(len(boxes), bool) if asked is None else asked
    which = np.flatnonzero(about)
    tree, count = shapely.STRtree(boxes), 0
    found = []
    for some in _some(which, _ASKED):
        i, j = tree.query(boxes[some])
        i = some[i]
        # A pair of two that are asked for is found from both sides.
        once = (i <= j) | ~about[j]
        found.append(np.stack([np.minimum(i, j)[once], np.maximum(i, j)[once]]))
        count += found[-1].shape[1]
        if count > _MOST:
            raise GeometryError(
                f"These outlines lie so close together that one may touch another more than {_MOST:,} times. "
                "Make it larger, or use a simpler picture."
            )
    i, j = np.concatenate(found, axis=1)
    return narrowed(controls, following, (i, j), apart, halvings)


def pairs_like(
    controls: Floats,
    following: Ints,
    apart: float,
    keys: NDArray[np.uint64],
    known: tuple[NDArray[np.uint64], tuple[Ints, Ints]],
    halvings: int = 0,
) -> tuple[Ints, Ints]:
    """As `near_pairs` has it of all segments, sooner where most of the pairs are known from elsewhere.

    Args:
        keys: (n,) of segments between the ones that lead to them and on from them.
        known: (m,) such keys of other segments, and the pairs of those that may come so near.
    """
    there, (i, j) = known
    order = np.argsort(there, kind="stable")
    first, last = (np.searchsorted(there[order], keys, side) for side in ("left", "right"))
    _, of, times = np.unique(keys, return_inverse=True, return_counts=True)
    # What is there twice is not known from which it comes.
    same = (last == first + 1) & (times[of] == 1)
    now = np.full(len(there), -1)
    now[order[first[same]]] = np.flatnonzero(same)
    i, j = now[i], now[j]
    both = (i >= 0) & (j >= 0)
    i, j = np.sort([i[both], j[both]], axis=0)
    more = near_pairs(controls, following, apart, ~same, halvings)
    return np.concatenate([i, more[0]]), np.concatenate([j, more[1]])


def _some(rows: Ints, most: int) -> list[Ints]:
    """Rows, so many at a time."""
    return [rows[first : first + most] for first in range(0, max(1, len(rows)), most)]


def narrowed(
    controls: Floats, following: Ints, pairs: tuple[Ints, Ints], apart: float, halvings: int = 0
) -> tuple[Ints, Ints]:
    """Those of some pairs that may come so near.

    Left out are only those that cannot: their control points lie apart, or on either side of a strip that
    wide along the chord of one; or one goes on where the other ends, and they part there for good. What is
    not true of two segments may be of their halves, and of those in turn.
    """
    i, j = pairs
    alone = i[i == j]
    i, j = i[i != j], j[i != j]
    may = np.zeros(len(i), bool)
    for some in _some(np.arange(len(i)), _PAIRS):
        a, b = i[some], j[some]
        first, second = controls.take(a, axis=0), controls.take(b, axis=0)
        for met in _may_meet(first, second, following[a] == b, following[b] == a, apart, halvings):
            may[some[met.pair]] = True
    alone = alone[~_onward(controls[alone])]
    return np.concatenate([i[may], alone]), np.concatenate([j[may], alone])


def near_parts(controls: Floats, following: Ints, pairs: tuple[Ints, Ints], apart: float) -> Bools:
    """Which of `PARTS` equal parts (n, k) of segments may come so near, of what pairs of them may."""
    near = np.zeros((len(controls), PARTS), bool)
    i, j = pairs
    near[i[i == j]] = True
    i, j = i[i != j], j[i != j]
    for some in _some(np.arange(len(i)), _PAIRS):
        a, b = i[some], j[some]
        first, second = controls.take(a, axis=0), controls.take(b, axis=0)
        for met in _may_meet(first, second, following[a] == b, following[b] == a, apart, HALVINGS):
            for segment, part in ((a, met.first), (b, met.second)):
                for nth in range(met.parts):
                    near[segment[met.pair], part * met.parts + nth] = True
    return near


@dataclass(frozen=True, eq=False)
class _Met:
    """Parts of cubics that may come near one another: of which pair, and which of either.

    `parts` is how many of `PARTS` equal ones each of them is, where cubics are halved that often.
    """

    pair: Ints
    first: Ints
    second: Ints
    parts: int


def _may_meet(
    first: Floats, second: Floats, after: Bools, before: Bools, apart: float, halvings: int
) -> Iterator[_Met]:
    """What of cubics (n, 4, 2) may come nearer than `apart` mm to others.

    Args:
        after, before: (n,) whether the second goes on where the first ends, and the other way round.
    """
    pair = np.arange(len(first))
    nth = np.zeros((2, len(first)), np.intp)
    for deep in range(halvings + 1):
        left = _not_told_apart(first, second, after, before, apart)
        parts = 1 << (halvings - deep)
        if deep == halvings:
            yield _Met(pair[left], nth[0, left], nth[1, left], parts)
            return
        first, second, pair, nth = (
            first.take(left, axis=0),
            second.take(left, axis=0),
            pair[left],
            nth[:, left],
        )
        after, before = after[left], before[left]
        # Halves of what is as good as straight say no more, but where one goes on as the other ends.
        worth = after | before | (np.maximum(_bulge(first), _bulge(second)) > _STRAIGHT * apart)
        yield _Met(pair[~worth], nth[0, ~worth], nth[1, ~worth], parts)
        (a, b), (c, d) = (
            bezier.halves(first.compress(worth, axis=0)),
            bezier.halves(second.compress(worth, axis=0)),
        )
        no, on, back = np.zeros(len(a), bool), after[worth], before[worth]
        first, second = np.concatenate([a, a, b, b]), np.concatenate([c, d, c, d])
        after, before = np.concatenate([no, no, on, no]), np.concatenate([no, back, no, no])
        pair = np.tile(pair[worth], 4)
        one, other = 2 * nth[:, worth]
        nth = np.stack([np.concatenate([one, one, one + 1, one + 1]), np.concatenate([other, other + 1] * 2)])


def _not_told_apart(first: Floats, second: Floats, after: Bools, before: Bools, apart: float) -> Ints:
    """Which cubics may come that near to others, as far as can be told from them as they are.

    Each test is only put to what the ones before left, the cheapest first.
    """
    left = np.flatnonzero(~(after | before))
    left = left[~_clear(first.take(left, axis=0), second.take(left, axis=0), apart)]
    for one, other in ((first, second), (second, first)):
        left = left[~_beside(one.take(left, axis=0), other.take(left, axis=0), apart)]
    joined = np.flatnonzero(after | before)
    for follows, one, other in ((after, first, second), (before, second, first)):
        meet = joined[follows[joined]]
        part = _part(one.take(meet, axis=0)[:, ::-1], other.take(meet, axis=0))
        joined = np.append(joined[~follows[joined]], meet[~part])
    return np.append(left, joined)


def _clear(first: Floats, second: Floats, apart: float) -> Bools:
    """(n,) whether the boxes round cubics lie `apart` mm from each other."""
    (low, high), (other_low, other_high) = bezier.boxes(first), bezier.boxes(second)
    clear = (low > other_high + apart) | (other_low > high + apart)
    return np.asarray(clear[:, 0] | clear[:, 1])


def _beside(first: Floats, second: Floats, apart: float) -> Bools:
    """(n,) whether a strip `apart` mm wide along the chord of one cubic lies between it and the other."""
    own, other = (_aside(first, points) for points in (first, second))
    left = bezier.least(other) > bezier.most(own) + apart
    return np.asarray(left | (bezier.most(other) < bezier.least(own) - apart))


def _onward(points: Floats) -> Bools:
    """(n,) whether from control point to control point (n, k, 2) all goes about one way.

    Tangents lie between the steps: within such a cone the way from one place to another is so many times
    the distance between them at most.
    """
    steps = points[:, 1:] - points[:, :-1]
    along = unit(unit(steps).sum(axis=1))[:, None]
    ahead = bezier.dot(steps, along) >= _AHEAD * bezier.length(steps)
    return np.asarray(ahead.all(axis=1))


def _part(first: Floats, second: Floats) -> Bools:
    """(n,) whether cubics that begin at one place part at once and for good.

    The tangents of each lie in a cone about the way it goes; what is left between the two cones is the least
    angle between any place on the one and any on the other, as seen from where they begin.
    """
    (one, spread), (other, other_spread) = (_cone(cubics) for cubics in (first, second))
    between = np.arccos(np.clip(bezier.dot(one, other), -1.0, 1.0)) - spread - other_spread
    straight = np.cos(np.maximum(spread, other_spread))
    return np.asarray((between > 0.0) & (np.sin(np.minimum(between, np.pi / 2.0)) * straight >= _PARTING))


def _cone(cubics: Floats) -> tuple[Floats, Floats]:
    """The way (n, 2) cubics go on the whole, and by how many radians (n,) tangents leave it at most."""
    steps = unit(np.diff(cubics, axis=1))
    way = unit(steps[:, 0] + steps[:, 1] + steps[:, 2])
    along = bezier.least(np.where(bezier.farther(steps) == 0.0, 1.0, bezier.dot(steps, way[:, None])))
    return way, np.arccos(np.clip(along, -1.0, 1.0))


def _aside(cubics: Floats, points: Floats) -> Floats:
    """How far (n, k) points (n, k, 2) lie to the left of the chords of cubics, in mm."""
    chord = unit(cubics[:, 3] - cubics[:, 0])
    normal = np.stack([-chord[:, 1], chord[:, 0]], axis=1)[:, None]
    return np.asarray(bezier.dot(points - cubics[:, :1], normal))


def _bulge(cubics: Floats) -> Floats:
    """How far (n,) control points of cubics lie from their chords at most, in mm."""
    return np.asarray(bezier.most(np.abs(_aside(cubics, cubics))))
