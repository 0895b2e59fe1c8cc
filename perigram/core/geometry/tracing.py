"""Which stretches of parallels a boundary found by GEOS consists of, and where they meet.

The boundary's own vertices are only near the truth: GEOS simplifies what it buffers by a hundredth of
the distance. They tell which parallels follow each other; the places where those meet are solved for,
and a node that turns out nearer to the source than the distance betrays a stretch that was missed.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from scipy.spatial import KDTree

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.parallel import JOINT, Parallels

#: Stretches GEOS may have passed over at a corner: this share of the distance, and this many mm.
_PASSED_OVER = (0.1, 0.02)
#: How many joints may lie between two stretches that count as following each other.
_HOPS = 8
#: Nodes may be nearer to the source than the distance by this many mm.
_NEAR = 0.006
_ROUNDS = 7
#: Newton's method has found a crossing when this many mm are left between the two.
_TRUE = 5e-4
#: Ends this many mm apart may be joined in their middle and keep the promised 0.01 mm.
_PASSING = 0.018
#: Chords a parallel is taken for where crossings are looked for without Newton's method.
_CHORDS = 256


class Finder:
    """Finds the parallel that a point near the boundary lies on."""

    def __init__(self, parallels: Parallels) -> None:
        self.parallels = parallels
        live = np.flatnonzero(~parallels.dead)
        step = max(abs(parallels.distance) / 6.0, 0.25)
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
        k = min(8, len(self.t))
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
class Runs:
    """Stretches of parallels, ring by ring in the order they bound the outcome."""

    ring: Ints
    parallel: Ints
    low: Floats
    high: Floats
    node: Floats


@dataclass(frozen=True, eq=False)
class _Links:
    """Where each stretch of a boundary gives way to the next.

    Link i leads from `p[i]` to `q[i]` on `ring[i]`. Either q follows p along the outlines (`passed`
    holds short parallels between), or they cross (`met`) at `node`: then p goes on through `ends` up to
    parameter `ends_at`, and q is entered through `begins` at `begins_at`.
    """

    ring: Ints
    p: Ints
    q: Ints
    follows: Bools
    passed: list[list[int]]
    ends_at: Floats
    ends: list[list[int]]
    begins_at: Floats
    begins: list[list[int]]
    node: Floats
    met: Bools


def trace(parallels: Parallels, finder: Finder, xy: Floats, rings: Ints) -> tuple[Runs, Bools]:
    """What a boundary consists of, and which of its rings that could not be told for."""
    following = np.arange(1, len(xy) + 1)
    following[rings[1:] - 1] = rings[:-1]
    label, _, _ = finder.nearest((xy + xy[following]) / 2.0)
    ring, _ = bezier.expand(np.diff(rings))
    first = np.flatnonzero(label != label[_previous(ring)])
    links = _linked(parallels, finder, label[first], xy[first], ring[first])
    lost = np.bincount(links.ring, minlength=len(rings) - 1) < 2
    lost[links.ring[~(links.follows | links.met)]] = True
    runs = _chained(parallels, links)
    lost[runs.ring[runs.high < runs.low - 1e-9]] = True
    return runs, lost


def _linked(parallels: Parallels, finder: Finder, q: Ints, x: Floats, ring: Ints) -> _Links:
    """Links between stretches q that begin near points x, stretches GEOS missed put in between."""
    guessed = np.zeros(len(q), bool)
    refused: set[tuple[int, int]] = set()
    for rounds_left in reversed(range(_ROUNDS)):
        previous = _previous(ring)
        p = q[previous]
        follows, passed = _succession(parallels, p, q)
        meetings = _meetings(parallels, p, q, x, ~follows)
        links = _Links(ring, p, q, follows, passed, *meetings)
        if rounds_left == 0:
            break
        # A stretch put in on suspicion that does not join up on both sides was none: take it out.
        joined, after = follows | links.met, np.argsort(previous)
        wrong = np.flatnonzero(guessed & ~(joined & joined[after]))
        if len(wrong):
            refused |= set(zip(p[wrong].tolist(), q[after[wrong]].tolist(), strict=True))
            q, ring, guessed = np.delete(q, wrong), np.delete(ring, wrong), np.delete(guessed, wrong)
            x = np.delete(x, wrong, axis=0)
            continue
        at, found = _buried(parallels, finder, links)
        new = np.array([(int(p[i]), int(q[i])) not in refused for i in at], bool)
        at, found = at[new], found[new]
        if len(at) == 0:
            break
        q, x = np.insert(q, at, found), np.insert(x, at, links.node[at], axis=0)
        ring, guessed = np.insert(ring, at, ring[at]), np.insert(guessed, at, True)
    return links


def _buried(parallels: Parallels, finder: Finder, links: _Links) -> tuple[Ints, Ints]:
    """Links whose node is nearer to the source than the distance, and the parallel that is so near."""
    crossing = np.flatnonzero(links.met)
    found, _, foot = finder.nearest(links.node[crossing])
    buried = np.hypot(*(links.node[crossing] - foot).T) < abs(parallels.distance) - _NEAR
    buried &= (found != links.p[crossing]) & (found != links.q[crossing])
    return crossing[buried], found[buried]


def _chained(parallels: Parallels, links: _Links) -> Runs:
    """The stretches between links, with what is passed through on the way, in order."""
    following = np.empty(len(links.ring), np.intp)
    following[_previous(links.ring)] = np.arange(len(links.ring))
    every = np.arange(2 * len(parallels.low))
    starts, stops = parallels.begin(every), parallels.finish(every)
    rows: list[tuple[int, int, float, float, Floats]] = []
    whole = np.full(2, np.nan)
    for i, after in enumerate(following):
        met, leaves = links.met[i], links.met[after]
        chain = links.begins[i] if met else [*links.passed[i], int(links.q[i])]
        chain = chain + (links.ends[after][1:] if leaves else [])
        for k, parallel in enumerate(chain):
            enters, exits = met and k == 0, leaves and k == len(chain) - 1
            low = links.begins_at[i] if enters else starts[parallel]
            high = links.ends_at[after] if exits else stops[parallel]
            rows.append((int(links.ring[i]), parallel, low, high, links.node[i] if enters else whole))
    if not rows:
        none = np.zeros(0)
        return Runs(none.astype(np.intp), none.astype(np.intp), none, none, np.zeros((0, 2)))
    return Runs(*(np.array(column) for column in zip(*rows, strict=True)))


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


def _previous(group: Ints) -> Ints:
    """For members of groups laid end to end, the member before each in its group, going round."""
    counts = np.bincount(group)
    counts = counts[counts > 0]
    previous = np.arange(-1, len(group) - 1)
    ends = np.cumsum(counts)
    previous[ends - counts] = ends - 1
    return previous


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
    reach = 0.05 + 0.05 * abs(parallels.distance)
    gap, away = np.hypot(*(a - b).T), np.hypot(*(node - near).T)
    # GEOS's vertex is off most where the two meet at a small angle; a true crossing outdoes it.
    met = (gap < 2.0 * JOINT) & (away < np.where(gap < _TRUE, 8.0 * reach, reach))
    for i in np.flatnonzero(~met):
        crossing = _meeting_by_chords(parallels, p[i], q[i], near[i], 8.0 * reach)
        if crossing is not None:
            u[i], v[i], node[i] = crossing
            met[i] = True
    # Left are ends that pass each other by less than what is promised: they are joined in the middle.
    met |= (gap < _PASSING) & (away < reach)
    return u, v, node, met


def _meeting_by_chords(
    parallels: Parallels, p: int, q: int, near: Floats, reach: float
) -> tuple[float, float, Floats] | None:
    """The crossing of two parallels nearest to a point, on chords fine enough to stand for them.

    For where Newton's method has no hold: near cusps, and where the two run almost alike.
    """
    both = []
    for parallel in (p, q):
        who = np.full(_CHORDS + 1, parallel)
        low, high = parallels.begin(who[:1])[0], parallels.finish(who[:1])[0]
        # Denser towards both ends, where cusps are.
        t = low + (high - low) * (1.0 - np.cos(np.linspace(0.0, np.pi, _CHORDS + 1))) / 2.0
        both.append((t, parallels.at(who, t)[0]))
    lines = [shapely.linestrings(points) for _, points in both]
    crossings = shapely.get_coordinates(shapely.intersection(*lines))
    if len(crossings) == 0:
        return None
    away = np.hypot(*(crossings - near).T)
    if away.min() > reach:
        return None
    node = crossings[np.argmin(away)]
    at = []
    for (t, points), line in zip(both, lines, strict=True):
        chord = np.hypot(*np.diff(points, axis=0).T)
        along = np.concatenate([[0.0], np.cumsum(chord)])
        at.append(float(np.interp(shapely.line_locate_point(line, shapely.points(node)), along, t)))
    return at[0], at[1], node
