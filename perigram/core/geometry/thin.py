"""Thin places: strands of a region and gaps in it, with their true local width."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components
from scipy.spatial import KDTree

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.bits import FACING, NEAR, Bits, crowded, pairs_at_most
from perigram.core.geometry.fit import unit
from perigram.core.geometry.flat import prepared
from perigram.core.geometry.measure import Box
from perigram.core.geometry.region import Region

#: Corners that turn by more than this many radians are looked out of in several directions.
_CORNER = np.radians(8.0)
#: A thin place goes on at least this share of its width to either side; less is a nick in an edge.
_GOES_ON = 0.6
#: And so many mm at least: what is shorter is the tip of a corner.
_LEAST_ON = 0.05
#: Looks reach this many widths far, as what they find is narrowed afterwards.
_SLACK = 1.15
#: Looks out of corners at a time, by an estimate that is several times too high in a crowd.
_LOOKS = 4_000_000
#: Places with more pairs near each other than this are grouped by a grid: all pairs would take gigabytes.
_CROWD = 15_000_000
#: Of more places than this only some are moved to where they are narrowest along the curves.
_MOST_PLACES = 20_000


@dataclass(frozen=True)
class Thin:
    """A thin place: its least width in mm, the two places on the outlines it lies between, its box."""

    width: float
    ends: tuple[tuple[float, float], tuple[float, float]]
    place: Box


def strands(region: Region, below: float) -> list[Thin]:
    """Where the region is thinner than `below` mm between two walls, thinnest first.

    A wall faces another when they run nearly parallel, as at a neck or along a thin stroke; a corner,
    however sharp, is no strand unless it tapers by less than 15 degrees.
    """
    return strands_looked_for(region, below)[0]


def strands_looked_for(region: Region, below: float) -> tuple[list[Thin], float]:
    """Strands as above, and the width in mm they were looked for below: less where outlines are crowded.

    A map cut as small as a stamp is thin all over; looking at every wall across from every other would take
    minutes and say no more.
    """
    return _thin(region, below, inside=True)


def gaps(region: Region, below: float) -> list[Thin]:
    """Where outlines of the region leave a gap narrower than `below` mm between them, narrowest first."""
    return _thin(region, below, inside=False)[0]


def _thin(region: Region, below: float, inside: bool) -> tuple[list[Thin], float]:
    if region.is_empty or not below > 0.0:
        return [], below
    flat = region.flat
    start, end = flat.xy, flat.end
    along = unit(end - start)
    facing = np.stack([-along[:, 1], along[:, 0]], axis=1) * (1.0 if inside else -1.0)
    bits, below = crowded(start, end, facing, below)
    if len(bits.start) == 0:
        return [], below
    corners = _corners(flat.following, along, inside)
    looks = [
        _across(*_from_walls(bits, below), bits, below),
        *(
            _across(*_from_corners(some, bits, start, facing, corners, flat.following, below), bits, below)
            for some in _blocks(corners, bits, below)
        ),
        _between_corners(start, facing, corners, flat.following, below),
    ]
    a, b, edge_a, edge_b = (np.concatenate(column) for column in zip(*looks, strict=True))
    body = prepared(region.multipolygon)
    real = _goes_on(body, a, b, inside)
    a, b, edge_a, edge_b = a[real], b[real], edge_a[real], edge_b[real]
    if len(a) == 0:
        return [], below
    # Bits are as long as what is looked for, so places along one strand lie about that far apart.
    group = _grouped((a + b) / 2.0, 1.05 * below)
    tried = _narrowest_of(edge_a, edge_b, bezier.length(b - a))
    near_end, far_end = a[tried], b[tried]
    p, q = _narrowed(region, near_end, far_end, flat.segment[edge_a[tried]], flat.segment[edge_b[tried]])
    # A search that ran off along the curves, or out of the region, did not find this place's width.
    better = bezier.length(q - p) <= bezier.length(far_end - near_end)
    better &= bezier.length((p + q - near_end - far_end) / 2.0) <= below
    for share in (0.1, 0.5, 0.9):
        better &= np.asarray(shapely.contains_xy(body, p + share * (q - p))) == inside
    a[tried[better]], b[tried[better]] = p[better], q[better]
    found = []
    wide = bezier.length(b - a)
    for members in np.split(np.argsort(group, kind="stable"), np.cumsum(np.bincount(group))[:-1]):
        best = members[np.argmin(wide[members])]
        if wide[best] >= below:
            continue
        ends = np.concatenate([a[members], b[members]])
        (x0, y0), (x1, y1) = ends.min(axis=0), ends.max(axis=0)
        p, q = a[best], b[best]
        found.append(
            Thin(
                float(wide[best]),
                ((float(p[0]), float(p[1])), (float(q[0]), float(q[1]))),
                (float(x0), float(y0), float(x1), float(y1)),
            )
        )
    return sorted(found, key=lambda thin: (thin.width, thin.place)), below


def _grouped(points: Floats, apart: float) -> Ints:
    """The group (n,) of each point: those within `apart` mm of one another are in one.

    Of a crowd, cells of a grid are taken for points: then some up to about twice as far apart are as well.
    """
    if pairs_at_most(points, apart) <= _CROWD:
        return _linked(points, apart)
    cells, cell = np.unique(np.floor(2.0 * points / apart), axis=0, return_inverse=True)
    # Points that near lie in cells at most two from each other either way.
    return np.asarray(_linked(cells, np.sqrt(8.0) + 1e-9)[cell.ravel()])


def _linked(points: Floats, apart: float) -> Ints:
    near = KDTree(points).query_pairs(apart, output_type="ndarray")
    links = coo_array((np.ones(len(near)), near.T), shape=(len(points), len(points)))
    return np.asarray(connected_components(links, directed=False)[1], np.intp)


def _corners(following: Ints, along: Floats, inside: bool) -> Floats:
    """The angle (v,) in radians that is looked out of at each vertex; 0 where it is no such corner."""
    before = np.empty_like(following)
    before[following] = np.arange(len(following))
    turn = np.arctan2(bezier.cross(along[before], along), bezier.dot(along[before], along))
    opening = -turn if inside else turn
    return np.where(opening > _CORNER, opening, 0.0)


#: Looks: where from and in what direction (m, 2), the flat edge looked from, and the bit that may be hit.
_Looks = tuple[Floats, Floats, Ints, Ints, Ints]


def _from_walls(bits: Bits, below: float) -> _Looks:
    """Straight across from the middle of every bit that has another facing it near by."""
    pairs = bits.tree.query_pairs(NEAR * below, output_type="ndarray")
    one, other = pairs.T
    along = bezier.dot(bits.facing.take(one, axis=0), bits.facing.take(other, axis=0))
    back = along <= -np.cos(1.3 * FACING)
    likely = np.zeros(len(bits.start), bool)
    likely[one[back]] = likely[other[back]] = True
    one, other = np.concatenate([one, other]), np.concatenate([other, one])
    one, other = one[likely[one]], other[likely[one]]
    return bits.middle.take(one, axis=0), bits.facing.take(one, axis=0), bits.edge[one], one, other


def _blocks(corners: Floats, bits: Bits, below: float) -> list[Ints]:
    """Corners in lots, as all that is looked at from many of them would fill the memory."""
    corner = np.flatnonzero(corners > 0.0)
    near = pairs_at_most(bits.middle, NEAR * below) / len(bits.start)
    looks = near * float(_spokes(corners[corner]).sum())
    return np.array_split(corner, 1 + int(looks / _LOOKS))


def _spokes(angle: Floats) -> Ints:
    """In how many directions is looked out of corners of an angle (k,) in radians."""
    return np.ceil(angle / (FACING / 2.0)).astype(np.intp) + 1


def _from_corners(
    corner: Ints,
    bits: Bits,
    start: Floats,
    facing: Floats,
    corners: Floats,
    following: Ints,
    below: float,
) -> _Looks:
    """In several directions out of some corners, from the facing of one side round to the other's."""
    near = KDTree(start[corner].reshape(-1, 2)).sparse_distance_matrix(
        bits.tree, NEAR * below, output_type="ndarray"
    )
    before = np.empty_like(following)
    before[following] = np.arange(len(following))
    sense = np.sign(bezier.cross(facing[before[corner]], facing[corner]))
    heading = np.arctan2(facing[before[corner], 1], facing[before[corner], 0])
    spokes = _spokes(corners[corner])
    which, spoke = bezier.expand(spokes)
    angle = heading[which] + sense[which] * corners[corner[which]] * spoke / (spokes[which] - 1)
    way = np.stack([np.cos(angle), np.sin(angle)], axis=1)
    # Each spoke of a corner may meet each of the bits near it.
    pair, spoke = bezier.expand(spokes[near["i"]])
    at = near["i"][pair]
    ray = (np.cumsum(spokes) - spokes)[at] + spoke
    return start.take(corner[at], axis=0), way.take(ray, axis=0), corner[at], ray, near["j"][pair]


def _across(
    origin: Floats, way: Floats, edge: Ints, ray: Ints, bit: Ints, bits: Bits, below: float
) -> tuple[Floats, Floats, Ints, Ints]:
    """What looks meet first within `below` mm, where that faces back: chords' ends and their flat edges."""
    apart, side = bits.start.take(bit, axis=0) - origin, (bits.end - bits.start).take(bit, axis=0)
    cross = bezier.cross(way, side)
    safe = np.where(np.abs(cross) < 1e-300, np.inf, cross)
    reach, share = bezier.cross(apart, side) / safe, bezier.cross(apart, way) / safe
    meets = (reach > 1e-6) & (reach <= _SLACK * below) & (share >= -1e-9) & (share <= 1.0 + 1e-9)
    meets = np.flatnonzero(meets & (bits.edge[bit] != edge))
    order = meets[np.lexsort((reach[meets], ray[meets]))]
    first = order[np.flatnonzero(np.diff(ray[order], prepend=-1))]
    back = bezier.dot(way[first], bits.facing[bit[first]]) <= -np.cos(FACING)
    first = first[back]
    tips = origin[first] + reach[first, None] * way[first]
    return origin[first], tips, edge[first], bits.edge[bit[first]]


def _between_corners(
    start: Floats, facing: Floats, corners: Floats, following: Ints, below: float
) -> tuple[Floats, Floats, Ints, Ints]:
    """Corners nearer than `below` mm that look straight at each other."""
    corner = np.flatnonzero(corners > 0.0)
    pairs = np.zeros((0, 2), np.intp)
    if len(corner) > 1:
        pairs = corner[KDTree(start[corner]).query_pairs(below, output_type="ndarray")]
    before = np.empty_like(following)
    before[following] = np.arange(len(following))
    seen = np.ones(len(pairs), bool)
    for one, other in ((0, 1), (1, 0)):
        way = unit(start[pairs[:, other]] - start[pairs[:, one]])
        middle = unit(facing[before[pairs[:, one]]] + facing[pairs[:, one]])
        seen &= bezier.dot(way, middle) >= np.cos(corners[pairs[:, one]] / 2.0)
    one, other = pairs[seen].T
    return start[one], start[other], one, other


def _goes_on(body: shapely.Geometry, a: Floats, b: Floats, inside: bool) -> Bools:
    """Which chords lie on one side of the outlines and have more of that side on either hand."""
    middle, across = (a + b) / 2.0, b - a
    size = np.maximum(bezier.length(across), 1e-12)
    on = np.maximum(_GOES_ON, _LEAST_ON / size)[:, None]
    aside = on * np.stack([-across[:, 1], across[:, 0]], axis=1)
    real = np.ones(len(a), bool)
    for place in (middle, middle + aside, middle - aside):
        real &= np.asarray(shapely.contains_xy(body, place)) == inside
    return real


def _narrowest_of(edge_a: Ints, edge_b: Ints, wide: Floats) -> Ints:
    """All places or, of more than `_MOST_PLACES`, the narrowest between any two flat edges: along two lines
    that run together for long, all are about as wide.
    """
    if len(wide) <= _MOST_PLACES:
        return np.arange(len(wide))
    low, high = np.minimum(edge_a, edge_b), np.maximum(edge_a, edge_b)
    order = np.lexsort((wide, high, low))
    new = (np.diff(low[order], prepend=-1) != 0) | (np.diff(high[order], prepend=-1) != 0)
    return order[new]


def _narrowed(region: Region, a: Floats, b: Floats, on_a: Ints, on_b: Ints) -> tuple[Floats, Floats]:
    """Chords moved to where they are shortest between the curves they end on, by Newton's method."""
    first, second = region.segments[on_a], region.segments[on_b]
    u, v = _nearest(first, a), _nearest(second, b)
    for _ in range(8):
        apart = bezier.evaluate(first, u) - bezier.evaluate(second, v)
        du, dv = bezier.derivative(first, u), -bezier.derivative(second, v)
        uu = (du * du + apart * bezier.second_derivative(first, u)).sum(axis=1)
        vv = (dv * dv - apart * bezier.second_derivative(second, v)).sum(axis=1)
        uv = bezier.dot(du, dv)
        # A little added makes the step a descent where walls run alike and there is no single answer.
        more = 1e-3 * (np.abs(uu) + np.abs(vv)) + np.maximum(0.0, -np.minimum(uu, vv))
        uu, vv = uu + more, vv + more
        safe = np.where(np.abs(uu * vv - uv * uv) < 1e-300, np.inf, uu * vv - uv * uv)
        gu, gv = bezier.dot(apart, du), bezier.dot(apart, dv)
        u = np.clip(u - (gu * vv - gv * uv) / safe, 0.0, 1.0)
        v = np.clip(v - (gv * uu - gu * uv) / safe, 0.0, 1.0)
    return bezier.evaluate(first, u), bezier.evaluate(second, v)


def _nearest(cubics: Floats, points: Floats) -> Floats:
    """Of nine parameters on each cubic, the one nearest to a point."""
    tries = np.linspace(0.0, 1.0, 9)
    at = bezier.evaluate(np.repeat(cubics, 9, axis=0), np.tile(tries, len(cubics))).reshape(-1, 9, 2)
    return np.asarray(tries[((at - points[:, None]) ** 2).sum(axis=2).argmin(axis=1)])
