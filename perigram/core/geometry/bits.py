"""Outlines cut into bits, where others run so near that something thin may lie between them."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from scipy.spatial import KDTree

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Floats, Ints
from perigram.core.geometry.fit import unit
from perigram.core.geometry.near import near_part, nearest

#: Walls count as facing each other when they are parallel to within this many radians.
FACING = np.radians(15.0)
#: Bits with their middles within this many widths can hold two places one width apart.
NEAR = 1.3
#: Outlines that would be cut into more bits than this, or so many an edge, are looked at only where edges
#: come near each other: finding those then takes less than it saves (a tenth of it where edges are long).
_MOST_BITS, _MOST_AN_EDGE = 400_000, 12
#: Edges are behind another where they lie so many mm behind it.
_ASIDE = 1e-3
#: Pairs of bits that are looked at; crowded outlines with more are looked at for thinner places only.
_MOST_PAIRS = 1_500_000
#: Pairs are counted at about so many bits.
_COUNTED = 5_000


def crowded(start: Floats, end: Floats, facing: Floats, below: float) -> tuple[Bits, float]:
    """Outlines in bits of a width that leaves few enough pairs of them, and that width."""
    size = bezier.length(end - start)
    company: _Company | None = None
    while True:
        stretches = _Stretches.whole(len(start))
        if size.sum() / below > min(_MOST_BITS, _MOST_AN_EDGE * len(start)):
            company = company or _Company.of(start, end, facing, below)
            stretches = company.within(below)
        bits = _bits(start, end, facing, below, stretches)
        if len(bits.start) == 0:
            return bits, below
        most, reach = 2 * _MOST_PAIRS + len(bits.start), NEAR * below
        if pairs_at_most(bits.middle, reach) <= most or _pairs_about(bits, reach) <= most:
            return bits, below
        below /= 2.0


def pairs_at_most(points: Floats, apart: float) -> int:
    """No fewer than there are ordered pairs of points within `apart` mm, themselves included.

    Such points lie in one cell of a grid that wide or in two that touch: nine offsets of cells, and for each
    the products of two counts add up to no more than the squares of one do.
    """
    x, y = (np.floor((column - column.min()) / apart).astype(np.int64) for column in points.T)
    _, count = np.unique(x * (y.max() + 1) + y, return_counts=True)
    return 9 * int((count**2).sum())


def _pairs_about(bits: Bits, apart: float) -> int:
    """About how many ordered pairs of bits lie within `apart` mm, themselves included: counted at so many of
    them, evenly along the outlines. Counting at all takes seconds just where there are far too many.
    """
    every = max(1, len(bits.start) // _COUNTED)
    counted = bits.tree.query_ball_point(bits.middle[::every], apart, return_length=True)
    return every * int(counted.sum())


@dataclass(frozen=True, eq=False)
class Bits:
    """Flattened outlines cut into bits no longer than the width that is looked for.

    Attributes:
        start, end: (n, 2) where each begins and ends.
        facing: (n, 2) the unit normal to the side that is looked into.
        edge: (n,) the flat edge it is of.
    """

    start: Floats
    end: Floats
    facing: Floats
    edge: Ints

    @cached_property
    def middle(self) -> Floats:
        return np.asarray((self.start + self.end) / 2.0)

    @cached_property
    def tree(self) -> KDTree:
        """The middles, to be searched."""
        return KDTree(self.middle, balanced_tree=False, compact_nodes=False)


@dataclass(frozen=True, eq=False)
class _Stretches:
    """Parts of edges: which edge each is of, and from where to where on it, in shares."""

    edge: Ints
    low: Floats
    high: Floats

    @staticmethod
    def whole(count: int) -> _Stretches:
        return _Stretches(np.arange(count), np.zeros(count), np.ones(count))

    def merged(self) -> _Stretches:
        """Those that overlap on an edge as one."""
        if len(self.edge) == 0:
            return self
        order = np.lexsort((self.low, self.edge))
        edge, low, high = self.edge[order], self.low[order], self.high[order]
        # Shares are at most 1: so far apart, those of one edge never reach the next.
        until = np.maximum.accumulate(high + 2.0 * edge)
        first = np.flatnonzero(np.append(True, low[1:] + 2.0 * edge[1:] > until[:-1]))
        return _Stretches(edge[first], low[first], np.maximum.reduceat(high, first))


def _bits(start: Floats, end: Floats, facing: Floats, below: float, stretches: _Stretches) -> Bits:
    """Parts of edges cut into bits no longer than `below` mm."""
    share = stretches.high - stretches.low
    size = share * bezier.length(end - start)[stretches.edge]
    of, place = bezier.expand(np.maximum(1, np.ceil(size / below).astype(np.intp)))
    share = share[of] / np.bincount(of, minlength=len(size))[of]
    edge = stretches.edge[of]
    along = (end - start).take(edge, axis=0)
    step = along * share[:, None]
    first = start.take(edge, axis=0) + along * stretches.low[of, None] + place[:, None] * step
    return Bits(first, first + step, facing.take(edge, axis=0), edge)


@dataclass(frozen=True, eq=False)
class _Company:
    """Edges that another comes near on the side that is looked into, or that turn far into the next: where
    something thin may be.

    Large outlines are so short of them that cutting all edges into bits of a hair's width would take up to a
    thousand times the memory.

    Attributes:
        one: (n,) edges, once for each other that is near.
        ends, others: (n, 2, 2) where they and the others begin and end.
        at, gap: (n,) where on them, in shares, they are nearest, and how near in mm.
    """

    one: Ints
    ends: Floats
    others: Floats
    at: Floats
    gap: Floats

    @staticmethod
    def of(start: Floats, end: Floats, facing: Floats, below: float) -> _Company:
        edges = np.stack([start, end], axis=1)
        lines = shapely.linestrings(edges)
        one, other = shapely.STRtree(lines).query(lines, predicate="dwithin", distance=NEAR * below)
        along = unit(end - start)
        joined = bezier.same(start[one], end[other]) | bezier.same(end[one], start[other])
        # Neighbours face each other only where one runs back along the other.
        back = bezier.dot(along[one], along[other]) < -np.cos(1.3 * FACING)
        # What lies behind an edge does not face it: pieces laid close beside each other are not thin.
        ahead = [bezier.dot(tip[other] - start[one], facing[one]) > -_ASIDE for tip in (start, end)]
        real = (one != other) & (~joined | back) & (ahead[0] | ahead[1])
        one, other = one[real], other[real]
        ends, others = edges[one], edges[other]
        at, _, gap = nearest(*ends.swapaxes(0, 1), *others.swapaxes(0, 1))
        return _Company(one, ends, others, at, gap)

    def within(self, below: float) -> _Stretches:
        """What of them lies near enough to the others for a width of no more than was looked for."""
        near = np.flatnonzero(self.gap <= NEAR * below)
        (a, b), (c, d) = self.ends[near].swapaxes(0, 1), self.others[near].swapaxes(0, 1)
        part = near_part(a, b, self.at[near], c, d, self.gap[near], NEAR * below)
        # Bits reach beyond their middles, and look a little aside.
        beyond = below / np.maximum(bezier.length(b - a), 1e-150)
        low, high = np.maximum(part[:, 0] - beyond, 0.0), np.minimum(part[:, 1] + beyond, 1.0)
        return _Stretches(self.one[near], low, high).merged()
