"""The order things are cut in: lines through waste, then outlines, inside before outside, near before far."""

from __future__ import annotations

from collections.abc import Sequence
from heapq import heapify, heappop, heappush

import numpy as np
import shapely

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.region import Region

#: Nodes at which an outline turns by less than this many degrees hide where a blade went in.
_SMOOTH = 20.0
#: Loops of which the order is improved once they stand in one, and how often that is gone through.
_MOST_MOVED = 120
_ROUNDS = 2
#: Runs of so many stops are moved as one.
_RUNS = (1, 2, 3, 4)


def inside_of(region: Region) -> Ints:
    """(m,) for each loop the smallest loop around it; -1 where there is none."""
    rings = _solid(region)
    inner, around = shapely.STRtree(rings).query(rings, predicate="within")
    inner, around = inner[inner != around], around[inner != around]
    parent = np.full(region.loop_count, -1, np.intp)
    # Largest first, so that the smallest one around each is what stays.
    for k in np.argsort(-shapely.area(rings)[around], kind="stable"):
        parent[inner[k]] = around[k]
    return parent


#: Where the blade is at first.
ORIGIN: Floats = np.zeros(2)


def lines_in_order(lines: Floats) -> Floats:
    """(n, 2, 2) lines one after the other, always the nearest end next, each from its nearer end."""
    made, at, left = np.empty_like(lines), ORIGIN, np.arange(len(lines))
    for place in range(len(lines)):
        away = np.hypot(*np.moveaxis(lines[left] - at, -1, 0))
        one, end = np.unravel_index(int(away.argmin()), away.shape)
        made[place] = lines[left[one], ::-1] if end else lines[left[one]]
        at, left = made[place, 1], np.delete(left, one)
    return made


def cut_order(region: Region, at: Floats = ORIGIN) -> tuple[Ints, Ints]:
    """Loops in the order they are cut in, and the segment each begins with.

    No loop is cut before all that lie in it: what is cut free may move. Among those that may come next
    the nearest does; then each is moved to where in the order it costs least way. A loop is entered at its
    nearest node, smooth ones first.

    Args:
        at: (2,) where the blade is before.

    Returns:
        (m,) loops and (m,) numbers of segments of the region.
    """
    if region.loop_count == 0:
        return np.zeros(0, np.intp), np.zeros(0, np.intp)
    parent = inside_of(region)
    loop = np.repeat(np.arange(region.loop_count), np.diff(region.loop_offsets))
    smooth = _is_smooth(region)
    # Where a loop has no smooth node any will do.
    usable = smooth | (np.bincount(loop[smooth], minlength=region.loop_count) == 0)[loop]
    every = np.flatnonzero(usable)
    nodes = np.split(every, np.searchsorted(every, region.loop_offsets[1:-1]))
    boxes = np.maximum.reduceat(region.start, region.loop_offsets[:-1], axis=0)
    # Going to the nearest leaves things behind that are far to come back for; going across does not.
    tries = [_nearest_first(region, parent, loop, usable, at)]
    tries += [
        (swept, _entered(region, swept, nodes, at)) for swept in (_swept(parent, far) for far in boxes.T)
    ]
    if 2 < region.loop_count <= _MOST_MOVED:
        for k, (loops, starts) in enumerate(tries):
            for _ in range(_ROUNDS):
                loops, starts = _moved(region, loops, starts, parent, at)
                starts = _entered(region, loops, nodes, at)
            tries[k] = loops, starts
    return min(tries, key=lambda one: travel(region, one[1], at))


def _nearest_first(region: Region, parent: Ints, loop: Ints, usable: Bools, at: Floats) -> tuple[Ints, Ints]:
    """An order that goes on to the nearest of what may be cut next, and where each loop is entered.

    Args:
        parent: (m,) the loop around each.
        loop: (n,) the loop each segment is of.
        usable: (n,) whether a loop may be entered at the node each segment starts at.
    """
    count = region.loop_count
    waiting = np.bincount(parent[parent >= 0], minlength=count)
    open_ = usable & (waiting == 0)[loop]
    loops, starts = np.empty(count, np.intp), np.empty(count, np.intp)
    for place in range(count):
        candidates = np.flatnonzero(open_)
        away = bezier.length(region.start[candidates] - at)
        first = candidates[away.argmin()]
        chosen = loop[first]
        loops[place], starts[place] = chosen, first
        at = region.start[first]
        open_[region.loop_offsets[chosen] : region.loop_offsets[chosen + 1]] = False
        outer = parent[chosen]
        if outer >= 0:
            waiting[outer] -= 1
            if waiting[outer] == 0:
                theirs = slice(region.loop_offsets[outer], region.loop_offsets[outer + 1])
                open_[theirs] = usable[theirs]
    return loops, starts


def _swept(parent: Ints, far: Floats) -> Ints:
    """Loops in the order in which a line that goes across has passed them, after all that lie in each."""
    waiting = np.bincount(parent[parent >= 0], minlength=len(parent))
    ready = [(far[one], one) for one in np.flatnonzero(waiting == 0).tolist()]
    heapify(ready)
    order: list[int] = []
    while ready:
        _, one = heappop(ready)
        order.append(one)
        outer = int(parent[one])
        if outer >= 0:
            waiting[outer] -= 1
            if waiting[outer] == 0:
                heappush(ready, (far[outer], outer))
    return np.array(order, np.intp)


def _moved(region: Region, loops: Ints, starts: Ints, parent: Ints, at: Floats) -> tuple[Ints, Ints]:
    """Stops and short runs of them where in the order they cost least way, none before what lies in it.

    Or-opt: Or, Traveling salesman-type combinatorial problems and their relation to blood banking (1976).
    """
    order = list(zip(loops.tolist(), starts.tolist(), strict=True))
    for length in _RUNS:
        for first in range(len(order) - length + 1):
            run = order[first : first + length]
            rest = order[:first] + order[first + length :]
            inside = {one for one, _ in run}
            low = max((k + 1 for k, (one, _) in enumerate(rest) if parent[one] in inside), default=0)
            around = {int(parent[one]) for one in inside}
            high = min((k for k, (one, _) in enumerate(rest) if one in around), default=len(rest))
            places = np.vstack([at, region.start[[one for _, one in rest]], [[np.nan, np.nan]]])
            enter, leave = region.start[run[0][1]], region.start[run[-1][1]]
            before, after = places[:-1], places[1:]
            cost = _way(before, enter) + _way(leave, after) - _way(before, after)
            best = low + int(cost[low : high + 1].argmin())
            if cost[best] < cost[first] - 1e-9:
                order = rest[:best] + run + rest[best:]
    moved = np.array(order, np.intp)
    return moved[:, 0], moved[:, 1]


def _way(a: Floats, b: Floats) -> Floats:
    """Distances from places to places; after the last stop there is nowhere to go."""
    return np.asarray(np.nan_to_num(bezier.length(a - b), nan=0.0))


def _entered(region: Region, loops: Ints, nodes: Sequence[Ints], at: Floats) -> Ints:
    """Where each loop is entered: at its node nearest to where the blade comes from."""
    starts = np.empty(len(loops), np.intp)
    for place, loop in enumerate(loops):
        own = nodes[loop]
        starts[place] = own[bezier.length(region.start[own] - at).argmin()]
        at = region.start[starts[place]]
    return starts


def travel(region: Region, starts: Ints, at: Floats = ORIGIN) -> float:
    """How far in mm the blade goes lifted through all starts: loops end where they begin."""
    places = np.vstack([at, region.start[starts]])
    return float(bezier.length(np.diff(places, axis=0)).sum())


def outlines_in_order(region: Region, order: tuple[Ints, Ints], tolerance: float) -> list[Floats]:
    """Closed polylines (k, 2) in the order they are cut, each from where the blade goes in and back there."""
    loops, starts = order
    flat = region.flattened(tolerance)
    first_vertex = np.searchsorted(flat.segment, starts)
    made = []
    for loop, vertex in zip(loops, first_vertex, strict=True):
        begin, end = flat.ring_offsets[loop], flat.ring_offsets[loop + 1]
        ring = np.roll(flat.xy[begin:end], begin - vertex, axis=0)
        made.append(np.vstack([ring, ring[:1]]))
    return made


def _is_smooth(region: Region) -> np.ndarray:
    """(n,) whether the outline goes on smoothly at the node each segment starts at."""
    legs = np.diff(region.segments, axis=1)
    real = np.abs(legs).max(axis=2) > 0.0
    row = np.arange(len(legs))
    leave, enter = legs[row, real.argmax(axis=1)], legs[row, 2 - real[:, ::-1].argmax(axis=1)]
    before = np.empty_like(enter)
    before[region.following] = enter
    turn = np.arctan2(bezier.cross(before, leave), bezier.dot(before, leave))
    return np.asarray(np.abs(turn) < np.radians(_SMOOTH))


def _solid(region: Region) -> np.ndarray:
    """Every loop by itself as a GEOS polygon without holes."""
    flat = region.flat
    coordinates, offsets = flat.closed()
    each = np.arange(len(offsets))
    return np.asarray(shapely.from_ragged_array(shapely.GeometryType.POLYGON, coordinates, (offsets, each)))
