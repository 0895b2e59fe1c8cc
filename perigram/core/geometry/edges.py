"""Which edges of overlaid outlines the edges of an outcome are, or are parts of.

GEOS returns the vertices it was given bit for bit and only adds the crossings it found. So an edge of its
result either is an edge that went in, found again by its coordinates, or a part of one, found by place.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.flat import Flat, lots
from perigram.core.geometry.region import Region

#: Nodes nearer than this many mm are one node.
SAME_POINT = 1e-9
#: Crossings may have been snapped by this many mm from the edges they are on.
SNAPPED = 3e-6
#: Edges starting at one point that are told apart by it; where more meet, they are by place.
_AT_A_POINT = 2


#: What a slot of the table of edges holds beside the one edge it may be of.
_NONE, _SEVERAL = -1, -2


@dataclass(frozen=True, eq=False)
class Edges:
    """Every flattened edge of the operands, with the curves they came from."""

    curves: Floats
    curved: Bools
    start: Floats
    end: Floats
    curve: Ints
    t: Floats
    #: the edge that ends where each starts
    before: Ints

    @cached_property
    def _table(self) -> tuple[np.ndarray, Ints, np.ndarray]:
        """A table of slots, each with the edge whose start has its key there, or `_NONE` or `_SEVERAL`; and
        the edges of which there are several, in the order of their keys, and those keys.
        """
        keys = bezier.row_hash(self.start)
        # Small, as the memory is what takes time.
        table = np.full(1 << _slot_bits(len(keys)), _NONE, np.int32)
        slot, edge = _slots(keys, len(table)), np.arange(len(keys), dtype=np.int32)
        table[slot] = edge
        table[slot[table[slot] != edge]] = _SEVERAL
        several = np.flatnonzero(table[slot] == _SEVERAL)
        order = several[np.lexsort((several, keys[several]))]
        return table, order, keys[order]

    def starting_at(self, points: Floats) -> Ints:
        """Up to `_AT_A_POINT` edges (n, k) that start exactly at points; -1 where there are no more."""
        table, order, ordered = self._table
        keys = bezier.row_hash(points)
        edge = table[_slots(keys, len(table))]
        found = np.full((len(points), _AT_A_POINT), -1)
        found[:, 0] = np.where((edge >= 0) & bezier.same(self.start.take(edge, axis=0), points), edge, -1)
        several = np.flatnonzero(edge == _SEVERAL)
        place = np.searchsorted(ordered, keys[several])[:, None] + np.arange(_AT_A_POINT)
        if len(several):
            edges = order[np.minimum(place, len(order) - 1)]
            same = bezier.same(self.start.take(edges, axis=0), points[several, None])
            found[several] = np.where((place < len(order)) & same, edges, -1)
        return found

    def nearest(self, places: Floats) -> Ints:
        """The edge nearest to each of the places (n, 2)."""
        lines = shapely.linestrings(np.stack([self.start, self.end], axis=1))
        tree = shapely.STRtree(lines)
        return np.asarray(tree.query_nearest(shapely.points(places), all_matches=False)[1], np.intp)

    @staticmethod
    def of(regions: Sequence[Region], flats: Sequence[Flat]) -> Edges:
        shift = np.cumsum([0] + [len(r.curves) for r in regions[:-1]])
        curves = np.concatenate([r.curves for r in regions])
        curve = np.concatenate(
            [r.curve[f.segment] + s for r, f, s in zip(regions, flats, shift, strict=True)]
        )
        edge_shift = np.cumsum([0] + [len(f.xy) for f in flats[:-1]])
        following = np.concatenate([f.following + s for f, s in zip(flats, edge_shift, strict=True)])
        before = np.empty_like(following)
        before[following] = np.arange(len(following))
        return Edges(
            curves,
            np.concatenate([r.curved for r in regions]),
            np.concatenate([f.xy for f in flats]),
            np.concatenate([f.end for f in flats]),
            first_equal(curves)[curve],
            np.concatenate([f.t for f in flats]),
            before,
        )


def _slot_bits(count: int) -> int:
    """So many that few of some keys share a slot."""
    return (4 * count).bit_length()


def _slots(keys: np.ndarray, table: int) -> Ints:
    """The slot of each key in a table of that many, a power of two: its highest bits."""
    return (keys >> np.uint64(65 - table.bit_length())).astype(np.intp)


def first_equal(curves: Floats) -> Ints:
    """For every curve, the index of the first one with the same control points."""
    flat = curves.reshape(len(curves), 8)
    key = bezier.row_hash(flat)
    order = np.argsort(key, kind="stable")
    ordered = key[order]
    first = order[np.searchsorted(ordered, key)]
    clash = (flat.take(first, axis=0) != flat).any(axis=1)
    first[clash] = np.flatnonzero(clash)
    return first


def origins(edges: Edges, xy: Floats, following: Ints) -> tuple[Ints, Floats]:
    """For every edge of an outcome, from one of its vertices (n, 2) to the following, the edge it is, or is
    a part of, and the parameters of its ends.
    """
    source, t = np.full(len(xy), -1), np.empty((len(xy), 2))
    begin, end = xy, xy.take(following, axis=0)
    at_begin = edges.starting_at(xy)
    at_end = at_begin.take(following, axis=0)
    rest = np.arange(len(xy))
    for candidates, other_end, way in ((at_begin, end, slice(None)), (at_end, begin, slice(None, None, -1))):
        for nth in range(_AT_A_POINT):
            candidate = candidates[rest, nth]
            whole = (candidate >= 0) & bezier.same(
                edges.end.take(candidate, axis=0), other_end.take(rest, axis=0)
            )
            source[rest[whole]], t[rest[whole]] = candidate[whole], edges.t[candidate[whole], way]
            rest = rest[~whole]
    if len(rest) == 0:
        return source, t
    # What is left was cut. Most often one of its ends is a vertex, and so an end of the edge it is on.
    touching = np.concatenate([at_begin[rest], at_end[rest]], axis=1)
    touching = np.concatenate([touching, np.where(touching < 0, -1, edges.before[touching])], axis=1)
    piece, column = np.nonzero(touching >= 0)
    chosen, at, miss = _best_fit(edges, piece, touching[piece, column], begin[rest], end[rest])
    fits = np.flatnonzero((chosen >= 0) & (miss < SNAPPED))
    source[rest[fits]], t[rest[fits]] = chosen[fits], at[fits]
    rest = rest[source[rest] < 0]
    if len(rest):
        source[rest], t[rest] = _by_place(edges, begin[rest], end[rest])
    return source, t


def _best_fit(
    edges: Edges, piece: Ints, edge: Ints, begin: Floats, end: Floats
) -> tuple[Ints, Floats, Floats]:
    """Of the candidate edges for each piece, the one both its ends lie on best.

    Args:
        piece, edge: (m,) pairs to choose from.
        begin, end: (n, 2) the pieces' ends.

    Returns:
        (n,) the edge or -1, (n, 2) the parameters of the ends on it, (n,) how far the ends are off.
    """
    along = edges.end[edge] - edges.start[edge]
    squared = np.maximum(bezier.dot(along, along), 1e-300)

    def fit(points: Floats) -> tuple[Floats, Floats]:
        offset = points[piece] - edges.start[edge]
        share = np.clip(bezier.dot(offset, along) / squared, 0.0, 1.0)
        return share, bezier.length(offset - share[:, None] * along)

    share_begin, miss_begin = fit(begin)
    share_end, miss_end = fit(end)
    miss = miss_begin + miss_end
    best = np.lexsort((edge, miss, piece))
    first = best[np.flatnonzero(np.diff(piece[best], prepend=-1))]
    chosen, off, at = np.full(len(begin), -1), np.full(len(begin), np.inf), np.zeros((len(begin), 2))
    who = piece[first]
    chosen[who], off[who] = edge[first], miss[first]
    t = edges.t[edge[first]]
    shares = np.stack([share_begin[first], share_end[first]], axis=1)
    at[who] = t[:, :1] + shares * (t[:, 1:] - t[:, :1])
    # At an end is exactly at that end's parameter.
    for column, points in enumerate((begin, end)):
        for side, corner in enumerate((edges.start, edges.end)):
            same = bezier.farther(corner[edge[first]] - points[who]) <= SAME_POINT
            at[who[same], column] = t[same, side]
    return chosen, at, off


def _by_place(edges: Edges, begin: Floats, end: Floats) -> tuple[Ints, Floats]:
    """The edges that pieces with both ends new are parts of, among those of segments near by."""
    place = (begin + end) / 2.0
    which, edge = _across(edges, place)
    missed = np.setdiff1d(np.arange(len(begin)), which)
    if len(missed):
        # GEOS snapped this vertex away from every operand, which it does only to untie hard knots.
        which = np.concatenate([which, missed])
        edge = np.concatenate([edge, edges.nearest(place[missed])])
    chosen, at, _ = _best_fit(edges, which, edge, begin, end)
    return chosen, at


def _near(edges: Edges, edge: Ints, places: Floats) -> Bools:
    """Whether places (m, 2) lie on edges (m,), as GEOS snaps them."""
    start = edges.start[edge]
    along, offset = edges.end[edge] - start, places - start
    share = bezier.dot(offset, along) / np.maximum(bezier.dot(along, along), 1e-300)
    gap = offset - np.clip(share, 0.0, 1.0)[:, None] * along
    return np.asarray(bezier.dot(gap, gap) <= SNAPPED**2)


def _across(edges: Edges, place: Floats) -> tuple[Ints, Ints]:
    """Pairs of places and edges they lie on, as GEOS snaps them.

    Places are few and edges many: most have none level with them on one axis or the other, which is told
    without a tree.
    """
    found = [np.zeros((2, 0), np.intp)]
    x = _level_with(edges, np.arange(len(edges.start)), place, 0)
    y = _level_with(edges, x.edge, place, 1)
    both = np.searchsorted(x.edge, y.edge)
    fewer = x.count[both] <= y.count
    for level, rows in ((x, both[fewer]), (y, np.flatnonzero(~fewer))):
        for some in lots(level.count[rows]):
            row, nth = bezier.expand(level.count[rows[some]])
            row = rows[some[row]]
            which, edge = level.order[level.first[row] + nth], level.edge[row]
            near = _near(edges, edge, place.take(which, axis=0))
            found.append(np.stack([which[near], edge[near]]))
    which, edge = np.concatenate(found, axis=1)
    return which, edge


@dataclass(frozen=True, eq=False)
class _Level:
    """Edges that have places level with them on an axis: places in their order along it, and for each edge
    the first of them and how many they are.
    """

    order: Ints
    edge: Ints
    first: Ints
    count: Ints


def _level_with(edges: Edges, asked: Ints, place: Floats, axis: int) -> _Level:
    """Of the edges asked for, those that places (m, 2) are level with."""
    order = np.argsort(place[:, axis], kind="stable")
    start, end = edges.start[asked, axis], edges.end[asked, axis]
    along = place[order, axis]
    first = np.searchsorted(along, np.minimum(start, end) - SNAPPED)
    last = np.searchsorted(along, np.maximum(start, end) + SNAPPED, side="right")
    some = np.flatnonzero(last > first)
    return _Level(order, asked[some], first[some], (last - first)[some])
