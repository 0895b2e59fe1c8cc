"""Outlines that come too near each other: where, and which parts of them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.candidates import CLOSE, narrowed, near_pairs
from perigram.core.geometry.flat import Flat, boxes_of, lots
from perigram.core.geometry.flatten import partly_finer
from perigram.core.geometry.region import Region

#: Outlines nearer to each other than this many mm cannot be cut apart.
APART = 0.01
#: Walls that meet within this many times that along the outline are sides of one corner, however sharp.
_CORNER = 30.0
#: Chords that distances between outlines are measured on are off by this share of what is looked for.
_CHORDS = 0.2
#: Where that leaves it in doubt, by so many times less: by less than what is rounded to the grid is off.
_FINER = 64.0
#: Nearer than this many mm is in one place.
TOUCHING = 1e-6


@dataclass(frozen=True, eq=False)
class Near:
    """Pairs of edges that come too near each other.

    Attributes:
        first, second: (n, 2, 2) the near parts of both.
        between: (n, 2) the middle between where they are nearest.
        gap: (n,) how near they come in mm.
        along: (2n, 2) from where to where the parts are: segments of the outlines one after the other, and
            shares of them.
        loop: (2n,) the loops they are of.
        segments: (2n,) the segments they are of.
    """

    first: Floats
    second: Floats
    between: Floats
    gap: Floats
    along: Floats
    loop: Ints
    segments: Ints


def too_near(
    region: Region,
    apart: float,
    asked: Bools | None = None,
    looked_for: float | None = None,
    slack: float = 0.0,
) -> Near | None:
    """Where outlines come nearer than `apart` mm other than round a corner of theirs.

    Args:
        asked: (n,) segments of which each pair must have one; all of them if not given.
        looked_for: what chords, near parts and corners are measured by, in mm. If it is not given that is
            `apart`, and what such chords leave in doubt is told by finer ones.
        slack: by how many mm less than `apart` is `apart` still.
    """
    off = _CHORDS * (apart if looked_for is None else looked_for)
    pairs = near_segments(region, apart + off, asked)
    region, pairs, own = _loops_alone(region, pairs)
    if len(pairs[0]) == 0:
        return None
    about = np.ones(region.node_count, bool) if asked is None else asked[own.segment]
    flat = region.flattened(off)
    if looked_for is not None:
        seen = nearer(flat, region, pairs, about, apart)
        return _near([seen.select(seen.gap < apart - slack)], region, own, looked_for)
    seen = nearer(flat, region, pairs, about, apart + 2.0 * off)
    # By such chords, outlines that run along each other about that far apart are nearer or not at random.
    doubt = (np.abs(seen.gap - apart + slack) < 2.0 * off) & ~region.straight[seen.segments].all(axis=0)
    doubt &= seen.way(seen.t[:, None], seen.u[:, None]) > _CORNER / 2.0 * apart
    told, unsure = [seen.select(~doubt)], seen.select(doubt)
    if doubt.any():
        finer = np.zeros(region.node_count, bool)
        finer[unsure.segments] = True
        i, j = np.unique(np.sort(unsure.segments, axis=0), axis=1)
        closer = nearer(partly_finer(region, finer, off, off / _FINER), region, (i, j), about, apart)
        told.append(closer.select(_parts_of(closer, unsure, region)))
    return _near([one.select(one.gap < apart - slack) for one in told], region, own, apart)


@dataclass(frozen=True, eq=False)
class NearEdges:
    """Pairs i, j of flat edges, where on each they are nearest, as shares, and how near in mm."""

    flat: Flat
    i: Ints
    j: Ints
    t: Floats
    u: Floats
    gap: Floats

    @property
    def segments(self) -> Ints:
        """(2, n) the segments they are of."""
        return self.flat.segment[np.stack([self.i, self.j])]

    def select(self, which: Bools) -> NearEdges:
        i, j = self.i[which], self.j[which]
        return NearEdges(self.flat, i, j, self.t[which], self.u[which], self.gap[which])

    def way(self, on_i: Floats, on_j: Floats) -> Floats:
        """How far (n,) in mm parts of them (n, k), in shares, reach from each other along their outline;
        infinite on two outlines.
        """
        flat = self.flat
        size = bezier.length(flat.end - flat.xy)
        before = np.cumsum(size) - size
        at_i = before[self.i, None] + on_i * size[self.i, None]
        at_j = before[self.j, None] + on_j * size[self.j, None]
        ring, _ = bezier.expand(np.diff(flat.ring_offsets))
        around = np.bincount(ring, size, minlength=len(flat.ring_offsets) - 1)[ring[self.i]]
        way = np.abs(at_i[:, :, None] - at_j[:, None, :]).reshape(len(self.i), at_i.shape[1] * at_j.shape[1])
        way = np.minimum(way, around[:, None] - way).max(axis=1)
        return np.where(ring[self.i] == ring[self.j], way, np.inf)


def _near(told: list[NearEdges], region: Region, own: _Own, looked_for: float) -> Near | None:
    """Pairs of edges, but for those that are sides of one corner, and which parts of them are near."""
    found: list[list[np.ndarray]] = []
    for lot in told:
        a, b, i, j = lot.flat.xy, lot.flat.end, lot.i, lot.j
        on_i = near_part(a[i], b[i], lot.t, a[j], b[j], lot.gap, looked_for)
        on_j = near_part(a[j], b[j], lot.u, a[i], b[i], lot.gap, looked_for)
        # Where outlines cross they do however near along them that is.
        real = (lot.way(on_i, on_j) > _CORNER * looked_for) | (lot.gap < TOUCHING)
        lot, i, j, on_i, on_j = lot.select(real), i[real], j[real], on_i[real], on_j[real]
        step_i, step_j = (b - a)[i], (b - a)[j]
        found.append(
            [
                a[i, None] + on_i[..., None] * step_i[:, None],
                a[j, None] + on_j[..., None] * step_j[:, None],
                (a[i] + lot.t[:, None] * step_i + a[j] + lot.u[:, None] * step_j) / 2.0,
                lot.gap,
                *(_along(region, lot.flat, e, on) for e, on in ((i, on_i), (j, on_j))),
                *(own.loop[loops_of(lot.flat, e)] for e in (i, j)),
                *(own.segment[one] for one in lot.segments),
            ]
        )
    first, second, between, gap, *both = (np.concatenate(column) for column in zip(*found, strict=True))
    along, loop, segments = (np.concatenate(both[k : k + 2]) for k in (0, 2, 4))
    return Near(first, second, between, gap, along, loop, segments) if len(gap) else None


@dataclass(frozen=True, eq=False)
class _Own:
    """Of some loops of a region and their segments, which of its they are."""

    loop: Ints
    segment: Ints


def _loops_alone(region: Region, pairs: tuple[Ints, Ints]) -> tuple[Region, tuple[Ints, Ints], _Own]:
    """Only the loops, each as a piece, that pairs of segments are of; those pairs; and which they are.

    Most loops of many come near no other, and need not be flattened. Of few, all are kept.
    """
    loop, _ = bezier.expand(np.diff(region.loop_offsets))
    some = np.zeros(region.loop_count, bool)
    some[loop[np.concatenate(pairs)]] = True
    if 2 * np.count_nonzero(some) > len(some):
        return region, pairs, _Own(np.arange(region.loop_count), np.arange(region.node_count))
    loops, segments = np.flatnonzero(some), np.flatnonzero(some[loop])
    number = np.cumsum(some[loop]) - 1
    alone = region.with_loops(loops, np.arange(len(loops) + 1))
    return alone, (number[pairs[0]], number[pairs[1]]), _Own(loops, segments)


def near_segments(region: Region, apart: float, asked: Bools | None = None) -> tuple[Ints, Ints]:
    """Pairs i <= j of segments that may come nearer than `apart` mm to each other, or to themselves.

    Args:
        asked: (n,) segments of which each pair must have one; all of them if not given.
    """
    if apart > CLOSE or (asked is not None and 2 * np.count_nonzero(asked) < len(asked)):
        return near_pairs(region.segments, region.following, apart, asked, region.halvings)
    i, j = region.close_pairs
    if asked is not None:
        about = asked[i] | asked[j]
        i, j = i[about], j[about]
    return narrowed(region.segments, region.following, (i, j), apart, region.halvings)


def nearer(flat: Flat, region: Region, pairs: tuple[Ints, Ints], asked: Bools, apart: float) -> NearEdges:
    """Edges of pairs of segments that may be nearer than `apart` mm, or run back along each other.

    Args:
        asked: (n,) segments of which each pair must have one.
    """
    a, b = flat.xy, flat.end
    edges = _edges_between(flat, region, pairs, apart)
    boxes = boxes_of(np.minimum(a, b)[edges] - apart / 2.0, np.maximum(a, b)[edges] + apart / 2.0)
    i, j = edges[shapely.STRtree(boxes).query(boxes)]
    about = asked[flat.segment]
    real = (i < j) & (about[i] | about[j]) & (flat.following[i] != j) & (flat.following[j] != i)
    i, j = np.concatenate([[i[real], j[real]], _folds(flat, a, b)], axis=1)
    ends = (at.take(k, axis=0) for k in (i, j) for at in (a, b))
    return NearEdges(flat, i, j, *nearest(*ends))


def _parts_of(closer: NearEdges, edges: NearEdges, region: Region) -> Bools:
    """Which pairs (n,) of finer edges have their middles on both edges of one of other pairs."""
    count = len(edges.flat.xy)
    starts = _along(region, edges.flat, np.arange(count), np.zeros((count, 1)))[:, 0]
    middle = np.full((len(closer.i), 1), 0.5)
    i, j = (
        np.searchsorted(starts, _along(region, closer.flat, e, middle)[:, 0], side="right") - 1
        for e in (closer.i, closer.j)
    )
    low, high = np.minimum(edges.i, edges.j), np.maximum(edges.i, edges.j)
    return np.isin(np.minimum(i, j) * count + np.maximum(i, j), low * count + high)


def _edges_between(flat: Flat, region: Region, pairs: tuple[Ints, Ints], apart: float) -> Ints:
    """The flat edges of pairs of segments that lie where the boxes round both do."""
    a, b = flat.xy, flat.end
    first = np.searchsorted(flat.segment, np.arange(region.node_count + 1))
    count = np.diff(first)
    low = np.minimum.reduceat(np.minimum(a, b), first[:-1]) - apart
    high = np.maximum.reduceat(np.maximum(a, b), first[:-1]) + apart
    i, j = pairs
    left, right = np.maximum(low[i], low[j]), np.minimum(high[i], high[j])
    found = np.zeros(len(a), bool)
    for one in (i, j):
        for some in lots(count[one]):
            pair, place = bezier.expand(count[one[some]])
            edge = first[one[some]][pair] + place
            p, q = a[edge], b[edge]
            x, y = ((np.maximum(p, q) >= left[some][pair]) & (np.minimum(p, q) <= right[some][pair])).T
            found[edge[x & y]] = True
    return np.flatnonzero(found)


def _folds(flat: Flat, a: Floats, b: Floats) -> Ints:
    """Neighbouring edges (2, n) that run back along each other."""
    u, v = b - a, (b - a)[flat.following]
    size = bezier.length(u) * bezier.length(v)
    back = (bezier.dot(u, v) < 0.0) & (np.abs(bezier.cross(u, v)) < size / _CORNER)
    return np.stack([np.flatnonzero(back), flat.following[back]])


def _along(region: Region, flat: Flat, edge: Ints, on: Floats) -> Floats:
    """Where (n, k) shares of edges are along all outlines, by segments: the same on whatever chords."""
    segment = flat.segment[edge][:, None]
    begin, end = region.span[segment, 0], region.span[segment, 1]
    t = flat.t[edge, :1] + on * np.diff(flat.t[edge], axis=1)
    return np.asarray(segment + (t - begin) / (end - begin))


def nearest(a: Floats, b: Floats, c: Floats, d: Floats) -> tuple[Floats, Floats, Floats]:
    """Where on segments a-b and c-d they are nearest, as shares (n,), and how near in mm."""
    u, v = b - a, d - c
    cross = bezier.cross(u, v)
    safe = np.where(np.abs(cross) > 1e-300, cross, np.inf)
    t, s = bezier.cross(c - a, v) / safe, bezier.cross(c - a, u) / safe
    meet = (np.abs(t - 0.5) <= 0.5) & (np.abs(s - 0.5) <= 0.5) & np.isfinite(safe)
    # Where they do not cross, an end of one is nearest to the other.
    feet = [_foot(a, c, v), _foot(b, c, v), _foot(c, a, u), _foot(d, a, u)]
    gaps = np.array([away for _, away in feet])
    zero, one = np.zeros(len(a)), np.ones(len(a))
    best, row = gaps.argmin(axis=0), np.arange(len(a))
    on_first = np.array([zero, one, feet[2][0], feet[3][0]])[best, row]
    on_second = np.array([feet[0][0], feet[1][0], zero, one])[best, row]
    return np.where(meet, t, on_first), np.where(meet, s, on_second), np.where(meet, 0.0, gaps[best, row])


def _foot(point: Floats, start: Floats, along: Floats) -> tuple[Floats, Floats]:
    """Where on segments points are nearest to, as shares (n,), and how far away in mm."""
    square = np.maximum(bezier.dot(along, along), 1e-300)
    share = np.clip(bezier.dot(point - start, along) / square, 0.0, 1.0)
    return share, bezier.length(point - start - share[:, None] * along)


def near_part(a: Floats, b: Floats, t: Floats, c: Floats, d: Floats, gap: Floats, apart: float) -> Floats:
    """From where to where (n, 2), in shares, segments a-b are nearer than `apart` to segments c-d.

    That is around `t`, where `gap` is between them, as far as the two lines stay so near and c-d reaches.
    """
    u, v = b - a, d - c
    # As little as has a square yet: an edge of no length is a place.
    size, other = np.maximum(bezier.length(u), 1e-150), np.maximum(bezier.length(v), 1e-150)
    slant = np.abs(bezier.cross(u, v)) / (size * other)
    reach = (apart - gap) / np.maximum(slant, 1e-9) / size
    ends = np.stack([bezier.dot(c - a, u), bezier.dot(d - a, u)]) / size**2
    low, high = ends.min(axis=0) - apart / size, ends.max(axis=0) + apart / size
    start = np.maximum(t - reach, np.minimum(low, t))
    end = np.minimum(t + reach, np.maximum(high, t))
    return np.clip(np.stack([start, end], axis=1), 0.0, 1.0)


def loops_of(flat: Flat, edge: Ints) -> Ints:
    """The loop that each flat edge belongs to."""
    return np.searchsorted(flat.ring_offsets, edge, side="right") - 1
