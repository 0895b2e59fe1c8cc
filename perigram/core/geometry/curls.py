"""Curls: small loops an outline makes where it crosses or touches itself a little before a sharp turn.

Rounded to what is written, a curve that runs into a tip beside the outline's other side may end on the wrong
side of it. The two cross within some hundredths of a mm, which no chord that is of use elsewhere shows.
"""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import shapely

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.flat import Flat, boxes_of
from perigram.core.geometry.flatten import closely, partly_finer
from perigram.core.geometry.near import APART, loops_of, near_segments, nearer, nearest
from perigram.core.geometry.region import FINE, Region

#: Chords in mm that curls are seen on.
FINEST = FINE / 20.0
#: An outline that comes as near to itself as so many mm, what is rounded, crosses itself on some chords.
_TOUCHES = 4.0 * FINEST
#: Where the way between is shorter than so many mm, that is only an edge as short as what is rounded.
_AROUND = 10.0 * _TOUCHES
#: A loop longer than this many mm is no curl: it is not for cutting off.
_LONGEST = 0.8


def without_curls(region: Region) -> Region:
    """The region with curls cut off where outlines cross or touch themselves; itself, where none does."""
    if region.is_empty:
        return region
    loop_of, _ = bezier.expand(np.diff(region.loop_offsets))
    i, j = near_segments(region, _TOUCHES)
    own = loop_of[i] == loop_of[j]
    near = np.zeros(region.node_count, bool)
    near[np.concatenate([i[own], j[own]])] = True
    if not near.any():
        return region
    doubtful = np.zeros(region.loop_count, bool)
    doubtful[loop_of[near]] = True
    number = np.cumsum(doubtful[loop_of]) - 1
    pairs = number[i[own]], number[j[own]]
    looked_at = _alone(region, doubtful)
    found = _crossed(closely(looked_at, pairs, _TOUCHES, FINE, FINEST))
    found[_touched(looked_at, pairs)] = True
    crossed = np.flatnonzero(doubtful)[found]
    if len(crossed) == 0:
        return region
    looked_at = _alone(region, np.isin(np.arange(region.loop_count), crossed))
    flat = looked_at.flattened(FINEST)
    suspect = near[np.isin(loop_of, crossed)][flat.segment]
    uncurled = {loop: _uncurled(looked_at, flat, k, suspect) for k, loop in enumerate(crossed.tolist())}
    uncurled = {loop: segments for loop, segments in uncurled.items() if len(segments)}
    if not uncurled:
        return region
    loops = [uncurled.get(k, region.segments[own]) for k, own in enumerate(region.loop_slices())]
    straight = [(one == bezier.line_controls(one[:, 0], one[:, 3])).all(axis=(1, 2)) for one in loops]
    sizes = np.cumsum([0, *map(len, loops)])
    return Region.from_loops(np.concatenate(loops), ~np.concatenate(straight), sizes, region.polygon_offsets)


def _alone(region: Region, loops: Bools) -> Region:
    """Some loops (m,), each as a piece."""
    return region.with_loops(np.flatnonzero(loops), np.arange(np.count_nonzero(loops) + 1))


def _crossed(flat: Flat) -> Bools:
    """(m,) loops that cross themselves."""
    coordinates, rings = flat.closed()
    each = np.arange(len(rings))
    return ~shapely.is_valid(
        shapely.from_ragged_array(shapely.GeometryType.POLYGON, coordinates, (rings, each))
    )


def _touched(region: Region, pairs: tuple[Ints, Ints]) -> Ints:
    """The loops that touch themselves round so little that it may be a curl; told of pairs of segments.

    Those that meet at a node are left out: where they cross is told without, and what else is a tip.
    """
    i, j = pairs
    loop_of, _ = bezier.expand(np.diff(region.loop_offsets))
    size = bezier.length(region.end - region.start)
    gone = np.append(0.0, np.cumsum(size))
    whole = np.bincount(loop_of, size)[loop_of]
    between = np.minimum(gone[j] - gone[i + 1], whole[i] - (gone[j + 1] - gone[i]))
    joined = (i == j) | (region.following[i] == j) | (region.following[j] == i)
    short = ~joined & (between <= _LONGEST)
    i, j = i[short], j[short]
    near = np.zeros(region.node_count, bool)
    near[np.concatenate([i, j])] = True
    if not near.any():
        return loop_of[:0]
    flat = partly_finer(region, near, FINE, FINEST)
    met = nearer(flat, region, (i, j), near, _TOUCHES)
    beside = (flat.following[met.i] == met.j) | (flat.following[met.j] == met.i)
    touching = (met.gap < _TOUCHES) & (met.way(met.t[:, None], met.u[:, None]) > _AROUND) & ~beside
    return np.unique(loops_of(flat, met.i[touching]))


def _uncurled(region: Region, flat: Flat, loop: int, suspect: Bools) -> Floats:
    """The segments (k, 4, 2) of a loop without its curls, none where it has none.

    Args:
        suspect: (v,) the edges that may cross others.
    """
    begin, end = flat.ring_offsets[loop], flat.ring_offsets[loop + 1]
    own = region.segments[region.loop_slices()[loop]]
    curls = _curls(flat.xy[begin:end], suspect[begin:end])
    if not curls:
        return own[:0]
    first = region.loop_offsets[loop]

    def at(place: float) -> tuple[int, float]:
        """The segment of the loop that a place along its edges is on, and where on that."""
        edge = begin + int(place)
        low, high = flat.t[edge]
        whole = region.span[flat.segment[edge]]
        share = low + (place - int(place)) * (high - low)
        return int(flat.segment[edge] - first), float((share - whole[0]) / (whole[1] - whole[0]))

    kept: list[Floats] = []
    for (_, leave, enter), (stop, _, place) in pairwise([*curls, curls[0]]):
        kept.append(_between(own, at(leave), at(stop), enter, place))
    return np.concatenate(kept)


def _between(
    own: Floats, start: tuple[int, float], stop: tuple[int, float], enter: Floats, leave: Floats
) -> Floats:
    """The segments of a loop from one place on to another, which is the next time round if it lies before."""
    (first, t), (last, u) = start, stop
    if first == last and t < u:
        pieces = bezier.subcurve(own[[first]], np.array([t]), np.array([u]))
    else:
        steps = (last - first) % len(own) or len(own)
        pieces = own[(first + np.arange(steps + 1)) % len(own)].copy()
        pieces[:1] = bezier.subcurve(pieces[:1], np.array([t]), np.ones(1))
        pieces[-1:] = bezier.subcurve(pieces[-1:], np.zeros(1), np.array([u]))
    pieces[0, 0], pieces[-1, 3] = enter, leave
    return pieces


def _curls(xy: Floats, suspect: Bools) -> list[tuple[float, float, Floats]]:
    """Curls of a ring (k, 2) in order: where along its edges each begins and ends, and where that is.

    Args:
        suspect: (k,) the edges that may cross others.
    """
    count = len(xy)
    after = np.roll(xy, -1, axis=0)
    edges = np.flatnonzero(suspect)
    reach = _TOUCHES / 2.0
    boxes = boxes_of(np.minimum(xy, after)[edges] - reach, np.maximum(xy, after)[edges] + reach)
    i, j = edges[shapely.STRtree(boxes).query(boxes)]
    apart = (i < j) & (j - i > 1) & (j - i < count - 1)
    i, j = i[apart], j[apart]
    t, u, gap = nearest(xy[i], after[i], xy[j], after[j])
    size = bezier.length(after - xy)
    gone = np.append(0.0, np.cumsum(size))
    low, high = gone[i] + t * size[i], gone[j] + u * size[j]
    between = np.minimum(high - low, gone[-1] - (high - low))
    real = (gap == 0.0) | ((gap < _TOUCHES) & (between > _AROUND))
    i, j, t, u, low, high = i[real], j[real], t[real], u[real], low[real], high[real]
    places = xy[i] + t[:, None] * (after[i] - xy[i])
    # Of the two loops that a crossing makes the curl is the one that encloses less.
    swept = np.append(0.0, np.cumsum(bezier.cross(xy - xy[0], after - xy[0])))
    within = swept[j] - swept[i + 1]
    within += bezier.cross(places - xy[0], after[i] - xy[0]) + bezier.cross(xy[j] - xy[0], places - xy[0])
    around = np.abs(within) > np.abs(swept[-1] - within)
    enclosed = np.where(around, swept[-1] - within, within) / 2.0
    way = np.where(around, gone[-1] - (high - low), high - low)
    # So near its end that the sum would say the next edge, it is still this one.
    at_i, at_j = (np.minimum(edge + share, np.nextafter(edge + 1.0, 0.0)) for edge, share in ((i, t), (j, u)))
    found: list[tuple[float, float, Floats]] = []
    taken: list[tuple[float, float]] = []
    # What is as wide as can be cut and runs round the same way as the rest is a part of it beyond a neck; and
    # so is what runs the other way within it: a bay.
    wide = (2.0 * np.abs(enclosed) > APART * way) & (way <= _LONGEST)
    beyond = wide & (enclosed * swept[-1] > 0.0)
    for k in np.flatnonzero(wide & ~beyond):
        beyond[k] = _surrounded(xy, i[k], j[k], places[k], bool(around[k]))
    # The widest first: smaller ones that lie in it go with it.
    for k in np.argsort(-way, kind="stable"):
        start, stop = float(at_i[k]), float(at_j[k])
        if around[k]:
            start, stop = stop, start
        if beyond[k] or way[k] > _LONGEST or any(_meet(start, stop, *other, count) for other in taken):
            continue
        taken.append((start, stop))
        found.append((start, stop, places[k]))
    return sorted(found, key=lambda one: one[0])


def _surrounded(xy: Floats, i: int, j: int, place: Floats, around: bool) -> bool:
    """Whether the lobe that a ring makes where its edges i and j cross lies within the rest of it."""
    sides = np.vstack([place, xy[i + 1 : j + 1]]), np.vstack([place, xy[j + 1 :], xy[: i + 1]])
    lobe, rest = (shapely.polygons(side) for side in (sides[::-1] if around else sides))
    inside = shapely.point_on_surface(shapely.make_valid(lobe))
    return bool(shapely.contains_xy(rest, inside.x, inside.y))


def _meet(a: float, b: float, c: float, d: float, whole: int) -> bool:
    """Whether two stretches of a ring have anything in common."""
    return (c - a) % whole <= (b - a) % whole or (a - c) % whole <= (d - c) % whole
