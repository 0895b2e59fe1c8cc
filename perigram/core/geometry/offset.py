"""Grow and shrink: outlines at a distance, smooth where their source is smooth.

GEOS's buffer decides the topology: which stretches of which outlines end up on the boundary, and
how they follow each other. The geometry does not come from its vertices, which lie off the true
parallel curve by up to a hundredth of the distance, but from the parallel curve of each source
segment and from true arcs about corners. Where two of those meet, they are intersected.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from scipy.spatial import KDTree

from perigram.core.errors import GeometryError
from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.fit import fit_stretches
from perigram.core.geometry.measure import area
from perigram.core.geometry.overlay import fill_holes, regularise
from perigram.core.geometry.parallel import JOINT, Parallels, directions
from perigram.core.geometry.region import Region
from perigram.core.geometry.restore import rings_of

#: Fitted outlines follow the true parallel curve within this many mm.
TOLERANCE = 0.004
#: Farthest an outline can be moved, in mm.
FARTHEST = 50.0
#: Stretches GEOS may have passed over at a corner: this share of the distance, and this many mm.
_PASSED_OVER = (0.1, 0.02)
#: How many joints may lie between two stretches that count as following each other.
_HOPS = 8


def grow(region: Region, distance: float) -> Region:
    """The region grown by a distance in mm with round corners, or shrunk where it is negative.

    Everything within `distance` of the region; for a negative one, everything of the region farther
    than that from its edge.

    Raises:
        GeometryError: for a distance beyond `FARTHEST`, or not a number.
    """
    if not np.isfinite(distance) or abs(distance) > FARTHEST:
        raise GeometryError(f"An offset can be up to {FARTHEST:g} mm either way.")
    if region.is_empty or abs(distance) < 1e-6:
        return region
    outcome = shapely.buffer(region.multipolygon, distance, quad_segs=8)
    xy, rings, polygons = rings_of(outcome)
    if len(xy) == 0:
        return Region.empty()
    parallels = Parallels(region, distance)
    finder = _Finder(parallels)
    runs, lost = _runs(parallels, finder, xy, rings)
    everything = np.ones(len(lost), bool)
    for given_up in (lost, everything):
        grown = _rebuilt(parallels, finder, runs, given_up, xy, rings, polygons)
        if not shapely.is_valid(grown.multipolygon):
            grown = regularise(grown.segments, ~grown.straight, grown.loops, "positive")
        if abs(area(grown) - outcome.area) <= _slack(distance) * outcome.length:
            break
    return grown


def _slack(distance: float) -> float:
    """How far GEOS's own outline may lie from the true one, in mm: it simplifies by 1 %."""
    return 0.01 + 0.02 * abs(distance)


def backing(region: Region, distance: float, holes: bool) -> Region:
    """A ply to lie under a region: grown by a distance, with its holes filled or kept."""
    grown = grow(region, distance)
    return grown if holes else fill_holes(grown)


class _Finder:
    """Finds the parallel that a point near the boundary lies on."""

    def __init__(self, parallels: Parallels) -> None:
        self.parallels = parallels
        live = np.flatnonzero(~parallels.dead)
        step = max(abs(parallels.distance) / 2.0, 0.25)
        cubics = parallels.cubics[live]
        size = np.abs(np.diff(cubics, axis=1)).sum(axis=(1, 2))
        counts = np.maximum(bezier.steps_for(cubics, 0.02), np.ceil(size / step).astype(np.intp)) + 1
        owner, place = bezier.expand(counts)
        share = place / np.maximum(counts[owner] - 1, 1)
        self.part = live[owner]
        low, high = parallels.low[self.part], parallels.high[self.part]
        self.t = low + share * (high - low)
        self.tree = KDTree(bezier.evaluate(parallels.cubics[self.part], self.t))

    def nearest(self, points: Floats) -> tuple[Ints, Floats, Floats]:
        """The parallel each point lies on, the parameter there, and the nearest source point."""
        parallels = self.parallels
        k = min(6, len(self.t))
        _, index = self.tree.query(points, k=k)
        index = index.reshape(len(points), k)
        # Only the nearest sample of each part near a point is worth a closer look.
        near = np.sort(self.part[index] * k + np.arange(k), axis=1)
        first = np.ones(near.shape, bool)
        first[:, 1:] = near[:, 1:] // k != near[:, :-1] // k
        point, column = np.nonzero(first)
        part, place = np.divmod(near[point, column], k)
        t = parallels.foot(2 * part, points[point], self.t[index[point, place]])
        foot = bezier.evaluate(parallels.cubics[part], t)
        miss = np.hypot(*(foot - points[point]).T)
        # Of feet equally near, at a joint, take the earlier part: the joint is counted at its end.
        order = np.lexsort((part, np.round(miss, 9), point))
        pick = order[np.flatnonzero(np.diff(point[order], prepend=-1))]
        part, t, foot = part[pick], t[pick], foot[pick]
        at_low = t <= parallels.low[part] + 1e-9
        at_high = t >= parallels.high[part] - 1e-9
        joint = np.where(at_low, parallels.before[part], part)
        on_arc = (at_low | at_high) & parallels.arc[joint]
        u = np.where(on_arc, parallels.swing(joint, points), t)
        return np.where(on_arc, 2 * joint + 1, 2 * part), u, foot


@dataclass(frozen=True, eq=False)
class _Runs:
    """Stretches of parallels, ring by ring in the order they bound the outcome."""

    ring: Ints
    parallel: Ints
    low: Floats
    high: Floats
    node: Floats


def _runs(parallels: Parallels, finder: _Finder, xy: Floats, rings: Ints) -> tuple[_Runs, Bools]:
    """What the outcome's boundary consists of, and which rings that could not be told for."""
    following = np.arange(1, len(xy) + 1)
    following[rings[1:] - 1] = rings[:-1]
    label, _, _ = finder.nearest((xy + xy[following]) / 2.0)
    ring_of, _ = bezier.expand(np.diff(rings))
    previous = np.arange(-1, len(xy) - 1)
    previous[rings[:-1]] = rings[1:] - 1
    first = np.flatnonzero(label != label[previous])
    lost = np.bincount(ring_of[first], minlength=len(rings) - 1) < 2
    p, q, x = label[previous[first]], label[first], xy[first]

    follows, passed = _succession(parallels, p, q)
    ends_at, ends, begins_at, begins, node, met = _meetings(parallels, p, q, x, ~follows)
    lost[ring_of[first[~(follows | met)]]] = True

    # Link i ends a run on p and begins one on q; the run that begins ends with its ring's next link.
    ring = ring_of[first]
    counts = np.bincount(ring, minlength=len(rings) - 1)
    last = np.cumsum(counts)
    next_link = np.arange(1, len(first) + 1)
    next_link[last[counts > 0] - 1] = (last - counts)[counts > 0]
    every = np.arange(2 * len(parallels.low))
    starts, stops = parallels.begin(every), parallels.finish(every)
    rows: list[tuple[int, int, float, float, Floats]] = []
    whole = np.full(2, np.nan)
    for i in range(len(first)):
        if not met[i]:
            chain = [(r, None) for r in passed[i]] + [(int(q[i]), None)]
        else:
            chain = [(r, node[i] if k == 0 else None) for k, r in enumerate(begins[i])]
        after = ends[next_link[i]] if met[next_link[i]] else [chain[-1][0]]
        chain += [(r, None) for r in after[1:]]
        for k, (r, at) in enumerate(chain):
            low = starts[r] if at is None else begins_at[i]
            cut = k == len(chain) - 1 and met[next_link[i]]
            high = ends_at[next_link[i]] if cut else stops[r]
            rows.append((int(ring[i]), r, low, high, whole if at is None else at))
    runs = _Runs(*(np.array(column) for column in zip(*rows, strict=True)))
    lost[runs.ring[runs.high < runs.low - 1e-9]] = True
    return runs, lost


def _meetings(
    parallels: Parallels, p: Ints, q: Ints, x: Floats, wanted: Bools
) -> tuple[Floats, list[list[int]], Floats, list[list[int]], Floats, Bools]:
    """Where stretches that do not follow each other cross.

    GEOS may have passed over a short stretch just before or after the crossing. So where two do not
    cross, and one of them was left at its very end, its neighbour is tried in its place.

    Returns:
        For each pair: the parameter at which the first one ends, the parallels it then goes through
        (itself first), the parameter at which the second begins, the parallels it goes through
        (itself last), the node, and whether a crossing was found.
    """
    ends, begins = [[int(r)] for r in p], [[int(r)] for r in q]
    u, v, node = np.zeros(len(p)), np.zeros(len(p)), np.zeros((len(p), 2))
    met = np.zeros(len(p), bool)
    open_ = np.flatnonzero(wanted)
    for _ in range(_HOPS):
        if len(open_) == 0:
            break
        a = np.array([ends[i][-1] for i in open_])
        b = np.array([begins[i][0] for i in open_])
        u[open_], v[open_], node[open_], met[open_] = _meeting(parallels, a, b, x[open_])
        missed = open_[~met[open_]]
        a, b = a[~met[open_]], b[~met[open_]]
        ahead = np.where(u[missed] >= parallels.finish(a), parallels.neighbour(a, 1), -1)
        behind = np.where(v[missed] <= parallels.begin(b), parallels.neighbour(b, -1), -1)
        for i, r, s in zip(missed, ahead, behind, strict=True):
            if r >= 0:
                ends[i].append(int(r))
            if s >= 0:
                begins[i].insert(0, int(s))
        open_ = missed[(ahead >= 0) | (behind >= 0)]
    return u, ends, v, begins, node, met


def _succession(parallels: Parallels, p: Ints, q: Ints) -> tuple[Bools, list[list[int]]]:
    """Whether q follows p along the outlines, and the short parallels GEOS passed over between."""
    share, least = _PASSED_OVER
    short = share * abs(parallels.distance) + least
    begin, _ = parallels.at(np.arange(0, 2 * len(parallels.low), 2), parallels.low)
    finish, _ = parallels.at(np.arange(0, 2 * len(parallels.low), 2), parallels.high)
    part_short = (np.hypot(*(finish - begin).T) < short) & ~parallels.dead
    arc_short = np.abs(parallels.turn * parallels.distance) < short
    follows = np.zeros(len(p), bool)
    passed: list[list[int]] = [[] for _ in p]
    at, open_ = p.copy(), np.ones(len(p), bool)
    for _ in range(_HOPS):
        at = parallels.next_of(at)
        arrived = open_ & (at == q)
        follows |= arrived
        open_ &= ~arrived
        part, joint = at // 2, at % 2 == 1
        absent = joint & parallels.smooth[part]
        passable = np.where(joint, parallels.arc[part] & arc_short[part], part_short[part])
        for i in np.flatnonzero(open_ & passable):
            passed[i].append(int(at[i]))
        open_ &= passable | absent
        if not open_.any():
            break
    return follows, [s if f else [] for s, f in zip(passed, follows, strict=True)]


def _meeting(parallels: Parallels, p: Ints, q: Ints, near: Floats) -> tuple[Floats, Floats, Floats, Bools]:
    """Where parallels p and q cross near a point: both parameters, the node, and whether they do."""

    def start(parallel: Ints) -> Floats:
        part = parallel // 2
        middle = (parallels.low[part] + parallels.high[part]) / 2.0
        grid = parallels.low[part][:, None] + (parallels.high - parallels.low)[part][:, None] * np.linspace(
            0.0, 1.0, 9
        )
        cubics = np.repeat(parallels.cubics[part], 9, axis=0)
        gap = bezier.evaluate(cubics, grid.ravel()).reshape(-1, 9, 2) - near[:, None]
        rough = grid[np.arange(len(part)), (gap**2).sum(axis=2).argmin(axis=1)]
        rough = np.where(np.isfinite(rough), rough, middle)
        t = parallels.foot(parallel, near, rough)
        return np.where(parallel % 2 == 1, parallels.swing(part, near), t)

    # Next to a joint that turns a little towards the offset side, both ends are the better guess.
    adjoining = parallels.next_of(parallels.next_of(p)) == q
    u = np.where(adjoining, parallels.finish(p), start(p))
    v = np.where(adjoining, parallels.begin(q), start(q))
    limits = [(parallels.begin(r), parallels.finish(r)) for r in (p, q)]
    for _ in range(12):
        (a, da), (b, db) = parallels.at(p, u), parallels.at(q, v)
        gap = a - b
        determinant = bezier.cross(da, db)
        safe = np.where(np.abs(determinant) < 1e-14, np.inf, determinant)
        u = np.clip(u - bezier.cross(gap, db) / safe, *limits[0])
        v = np.clip(v - bezier.cross(gap, da) / safe, *limits[1])
    a, b = parallels.at(p, u)[0], parallels.at(q, v)[0]
    node = (a + b) / 2.0
    met = np.hypot(*(a - b).T) < 2.0 * JOINT
    met &= np.hypot(*(node - near).T) < 0.05 + 0.05 * abs(parallels.distance)
    return u, v, node, met


def _rebuilt(
    parallels: Parallels,
    finder: _Finder,
    runs: _Runs,
    lost: Bools,
    xy: Floats,
    rings: Ints,
    polygons: Ints,
) -> Region:
    """The region of the runs; rings that were lost go through exact points by straight steps."""
    keep = ~lost[runs.ring]
    pieces, ring, curved = _fitted(parallels, *(getattr(runs, f)[keep] for f in _Runs.__annotations__))
    for r in np.flatnonzero(lost):
        stretch = _exact(finder, xy[rings[r] : rings[r + 1]])
        pieces = np.concatenate([pieces, bezier.line_controls(stretch, np.roll(stretch, -1, axis=0))])
        ring = np.concatenate([ring, np.full(len(stretch), r)])
        curved = np.concatenate([curved, np.zeros(len(stretch), bool)])
    order = np.argsort(ring, kind="stable")
    sizes = np.bincount(ring, minlength=len(rings) - 1)
    loops = np.concatenate([[0], np.cumsum(sizes)]).astype(np.intp)
    return Region.from_loops(pieces[order], curved[order], loops, polygons)


def _exact(finder: _Finder, ring: Floats) -> Floats:
    """A ring's vertices moved to exactly the offset distance from the source."""
    closed = np.vstack([ring, ring[:1]])
    dense = shapely.get_coordinates(shapely.segmentize(shapely.linestrings(closed), 0.2))[:-1]
    _, _, foot = finder.nearest(dense)
    arm = dense - foot
    size = np.maximum(np.hypot(*arm.T), 1e-12)[:, None]
    return np.asarray(foot + arm / size * abs(finder.parallels.distance))


def _fitted(
    parallels: Parallels, ring: Ints, parallel: Ints, low: Floats, high: Floats, node: Floats
) -> tuple[Floats, Ints, Bools]:
    """Cubics (m, 4, 2) for runs, the ring and curvedness of each."""
    if len(ring) == 0:
        return np.zeros((0, 4, 2)), np.zeros(0, np.intp), np.zeros(0, bool)
    straight = (parallel % 2 == 0) & parallels.straight[parallel // 2]

    def sample(run: Ints, u: Floats) -> tuple[Floats, Floats]:
        who = np.repeat(parallel[run], u.shape[1])
        point, along = parallels.at(who, u.ravel())
        # At a place as tight as the distance the parallel stands still; its source gives the way.
        part_way = directions(parallels.cubics[who // 2], u.ravel())
        size = np.hypot(*along.T)[:, None]
        way = np.where((who % 2 == 1)[:, None], along / np.maximum(size, 1e-300), part_way)
        return point.reshape(*u.shape, 2), way.reshape(*u.shape, 2)

    bent = np.flatnonzero(~straight)
    cubics, stretch = fit_stretches(lambda s, u: sample(bent[s], u), low[bent], high[bent], TOLERANCE)
    lines = np.flatnonzero(straight)
    line_start, line_end = (
        parallels.at(parallel[lines], low[lines])[0],
        parallels.at(parallel[lines], high[lines])[0],
    )
    pieces = np.concatenate([cubics, bezier.line_controls(line_start, line_end)])
    owner = np.concatenate([bent[stretch], lines])
    curved = np.concatenate([np.ones(len(cubics), bool), np.zeros(len(lines), bool)])
    order = np.argsort(owner, kind="stable")
    pieces, owner, curved = pieces[order], owner[order], curved[order]
    # Ends of neighbours are one node: where runs cross it is known, elsewhere the middle of both.
    counts = np.bincount(ring[owner])
    ends = np.cumsum(counts)
    previous = np.arange(-1, len(owner) - 1)
    previous[(ends - counts)[counts > 0]] = ends[counts > 0] - 1
    first_of_run = owner != owner[previous]
    given = first_of_run & np.isfinite(node[owner, 0])
    joint = (pieces[:, 0] + pieces[previous, 3]) / 2.0
    joint = np.where(given[:, None], node[owner], joint)
    pieces[:, 1] += joint - pieces[:, 0]
    pieces[previous, 2] += joint - pieces[previous, 3]
    pieces[:, 0] = joint
    pieces[previous, 3] = joint
    whole = np.abs(pieces[:, 3] - pieces[:, 0]).max(axis=1) > 1e-9
    pieces[~curved] = bezier.line_controls(pieces[~curved, 0], pieces[~curved, 3])
    return pieces[whole], ring[owner[whole]], curved[whole]
