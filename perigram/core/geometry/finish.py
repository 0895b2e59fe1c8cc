"""Regions made fit to be cut: on the file's own grid, and nothing in them too near to be cut apart.

Overlays leave what is true of chords 0.005 mm from the curves. A file is read on other chords, and a cutter
follows the curves: so before anything is written, outlines that touch or run nearer to each other than a
blade can cut apart are welded, strands thinner than that are cut off, and all is looked at once more on
chords ten times finer, in the very numbers that are written.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely
from scipy.spatial import KDTree

from perigram.core.geometry import bezier, measure
from perigram.core.geometry.arrange import faces_of, outlined, turns
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.clean import drop_slivers
from perigram.core.geometry.curls import FINEST, without_curls
from perigram.core.geometry.fit import unit
from perigram.core.geometry.flat import Flat, boxes_of
from perigram.core.geometry.overlay import folds_back
from perigram.core.geometry.region import FINE, TOLERANCE, Region
from perigram.core.geometry.restore import Edges, offsets, region_of, restore
from perigram.core.geometry.tips import blunted

#: Decimals of a mm that cut files are written with.
DECIMALS = 4
#: Outlines nearer to each other than this many mm cannot be cut apart.
APART = 0.01
#: Walls that meet within this many times that along the outline are sides of one corner, however sharp.
_CORNER = 30.0
#: What is welded or cut reaches so many times that beyond what was too near, so that the rest is not.
_REACH = 1.2
_ROUNDS = 20
#: Curves whose handles measure less than this many mm together are written as lines.
_CHORD = 0.005
#: What is left where a curl was cut off is rounded too, and so looked at again so often.
_TURNS = 4
#: Chords that distances between outlines are measured on are off by this share of what is looked for.
_CHORDS = 0.2
#: Nearer than this many mm is in one place.
_TOUCHING = 1e-6


@dataclass(frozen=True, eq=False)
class Finished:
    """A region fit to be cut, and whether more than its numbers was changed for that."""

    region: Region
    mended: bool


def finished(region: Region) -> Finished:
    """The region in the numbers that are written, touching outlines welded and hairs cut off."""
    return _freed(drop_slivers(region, APART), _as_written)


def _as_written(region: Region) -> Region:
    """On the grid, with no tip too sharp for it, and nowhere crossing itself there."""
    region = on_grid(region)
    for _ in range(_TURNS):
        before = region
        for mend in (blunted, without_curls):
            mended = mend(region)
            region = region if mended is region else drop_slivers(on_grid(mended), APART)
        if region is before:
            break
    return region


def without_hairs(region: Region, apart: float = APART) -> Region:
    """Closing and opening by a hair: outlines nearer than `apart` mm welded, thinner strands cut off.

    Where there are none it comes back as it is, to the bit.
    """
    return _freed(drop_slivers(region, apart), lambda one: one, apart).region


def _freed(region: Region, written: Callable[[Region], Region], apart: float = APART) -> Finished:
    region, mended = written(region), False
    known, aside = np.zeros(0, np.uint64), list[Region]()
    for _ in range(_ROUNDS):
        keys = bezier.row_hash(region.segments.reshape(-1, 8))
        near = None if region.is_empty else _too_near(region, apart, ~np.isin(keys, known))
        if near is None and mended:
            # Once all seems well all is looked at again: what was welded may have led outlines another way.
            region, aside = Region.joined([*aside, region]), []
            keys = bezier.row_hash(region.segments.reshape(-1, 8))
            near = None if region.is_empty else _too_near(region, apart, np.ones(len(keys), bool))
        if near is None:
            break
        rest, hurt = _mended(region, near, apart)
        # Pieces that nothing was wrong with wait; of the others, segments that were not too near any other
        # need not be compared with each other again.
        aside.append(rest)
        region, mended = written(drop_slivers(hurt, apart)), True
        known = np.delete(keys, near.segments)
    return Finished(Region.joined([*aside, region]) if aside else region, mended)


def on_grid(region: Region) -> Region:
    """Quantised: every node and handle rounded to what is written; what rounding flattens is gone."""
    if region.is_empty:
        return region
    rounded = np.round(region.segments, DECIMALS) + 0.0
    loop, _ = bezier.expand(np.diff(region.loop_offsets))
    polygon, _ = bezier.expand(np.diff(region.polygon_offsets))
    # A closed curve that is a loop of its own ends where it starts.
    single = (np.diff(region.loop_offsets) == 1)[loop]
    stays = (rounded[:, 0] != rounded[:, 3]).any(axis=1) | single
    size = np.bincount(loop[stays], minlength=region.loop_count)
    # So small a curve is its chord: rounded, its handles say nothing of it but could make it cross another.
    size_of = np.hypot(*np.moveaxis(np.diff(rounded, axis=1), 2, 0)).sum(axis=1)
    straight = region.straight | ((size_of < _CHORD) & ~single)
    bent = np.bincount(loop[stays & ~straight], minlength=region.loop_count) > 0
    there = (size > 2) | ((size > 0) & bent)
    there &= there[region.polygon_offsets[:-1]][polygon]
    kept = stays & there[loop]
    rounded, straight = rounded[kept], straight[kept]
    rounded[straight] = bezier.line_controls(rounded[straight, 0], rounded[straight, 3])
    per_polygon = np.bincount(polygon[there], minlength=region.piece_count)
    return Region.from_loops(rounded, ~straight, offsets(size[there]), offsets(per_polygon[per_polygon > 0]))


def fault(region: Region) -> tuple[str, tuple[float, float]] | None:
    """Why and where a region cannot be cut as it would be written; None where it can.

    What is written is flattened anew, ten times finer than it was made; by far finer to see it cross.
    """
    if region.is_empty:
        return None
    written = on_grid(region)
    body = written.flattened(FINEST).multipolygon()
    if not shapely.is_valid(body):
        return "outlines cross or touch along an edge", _place(body)
    near = _near(written.flattened(_CHORDS * APART), 0.5 * APART, _CORNER * APART)
    if near is not None:
        x, y = near.between[0].tolist()
        return "outlines lie too near each other to be cut apart", (x, y)
    if abs(float(shapely.area(body)) - measure.area(region)) > FINE * measure.length(region) + 1e-6:
        x0, y0, x1, y1 = shapely.bounds(body)
        return "what is cut is not what is shown", (float(x0 + x1) / 2.0, float(y0 + y1) / 2.0)
    return None


def _place(body: shapely.Geometry) -> tuple[float, float]:
    reason = str(shapely.is_valid_reason(body))
    x, y = reason[reason.rindex("[") + 1 : -1].split()
    return float(x), float(y)


@dataclass(frozen=True, eq=False)
class _Near:
    """Pairs of edges that come too near each other.

    Attributes:
        first, second: (n, 2, 2) the near parts of both.
        between: (n, 2) the middle between where they are nearest.
        gap: (n,) how near they come in mm.
        loop: (2n,) the loops they are of.
        segments: (2n,) the segments they are of.
    """

    first: Floats
    second: Floats
    between: Floats
    gap: Floats
    loop: Ints
    segments: Ints


def _chords(apart: float) -> float:
    """The chords in mm that what is nearer than `apart` mm is mended on."""
    return min(TOLERANCE, FINE * apart / APART)


def _too_near(region: Region, apart: float, asked: Bools) -> _Near | None:
    """Where outlines come nearer than `apart` mm, those of the segments asked for (n,) among them."""
    near = _near(region.flattened(_CHORDS * apart), apart, _CORNER * apart, asked)
    if near is not None:
        return near
    flat = region.flattened(_chords(apart))
    body = flat.multipolygon()
    if shapely.is_valid(body):
        return None
    # What only the finest chords see is told one place a polygon.
    polygons = np.append(flat.polygon_array(), body)
    place = np.array([_place(one) for one in polygons[~shapely.is_valid(polygons)]])
    edge = KDTree(flat.xy).query(place)[1]
    there, edge = np.stack([place, place], axis=1), np.asarray(edge, np.intp)
    return _Near(there, there, place, np.zeros(len(place)), _loops(flat, edge), flat.segment[edge])


def _near(flat: Flat, apart: float, corner: float, asked: Bools | None = None) -> _Near | None:
    """Where outlines come nearer than `apart` mm other than within `corner` mm along them.

    Args:
        asked: (s,) segments of which each pair must have one; all of them if not given.
    """
    a, b = flat.xy, flat.xy[flat.following]
    low, high = np.minimum(a, b) - apart / 2.0, np.maximum(a, b) + apart / 2.0
    boxes = boxes_of(low, high)
    about = np.ones(len(a), bool) if asked is None else asked[flat.segment]
    which = np.flatnonzero(about)
    i, j = shapely.STRtree(boxes).query(boxes[which])
    i = which[i]
    # A pair of two that are asked for is found from both sides.
    real = ((i < j) | ~about[j]) & (flat.following[i] != j) & (flat.following[j] != i) & (i != j)
    i, j = np.concatenate([[i[real], j[real]], _folds(flat, a, b)], axis=1)
    if len(i) == 0:
        return None
    t, u, gap = _nearest(a[i], b[i], a[j], b[j])
    close = gap < apart
    i, j, t, u, gap = i[close], j[close], t[close], u[close], gap[close]
    on_i = _near_part(a[i], b[i], t, a[j], b[j], gap, apart)
    on_j = _near_part(a[j], b[j], u, a[i], b[i], gap, apart)
    # Where outlines cross they do however near along them that is.
    real = (_along(flat, i, j, on_i, on_j) > corner) | (gap < _TOUCHING)
    if not real.any():
        return None
    i, j, t, u, on_i, on_j = i[real], j[real], t[real], u[real], on_i[real], on_j[real]
    step_i, step_j = (b - a)[i], (b - a)[j]
    return _Near(
        a[i, None] + on_i[..., None] * step_i[:, None],
        a[j, None] + on_j[..., None] * step_j[:, None],
        (a[i] + t[:, None] * step_i + a[j] + u[:, None] * step_j) / 2.0,
        gap[real],
        _loops(flat, np.concatenate([i, j])),
        flat.segment[np.concatenate([i, j])],
    )


def _folds(flat: Flat, a: Floats, b: Floats) -> Ints:
    """Neighbouring edges (2, n) that run back along each other."""
    u, v = b - a, (b - a)[flat.following]
    size = np.hypot(*u.T) * np.hypot(*v.T)
    back = ((u * v).sum(axis=1) < 0.0) & (np.abs(bezier.cross(u, v)) < size / _CORNER)
    return np.stack([np.flatnonzero(back), flat.following[back]])


def _along(flat: Flat, i: Ints, j: Ints, on_i: Floats, on_j: Floats) -> Floats:
    """How far (n,) near parts of edges reach from each other along the outline; infinite on two outlines."""
    size = np.hypot(*(flat.xy[flat.following] - flat.xy).T)
    ring, _ = bezier.expand(np.diff(flat.ring_offsets))
    before = np.cumsum(size) - size
    around = np.bincount(ring, size, minlength=len(flat.ring_offsets) - 1)[ring[i]]
    at_i = before[i, None] + on_i * size[i, None]
    at_j = before[j, None] + on_j * size[j, None]
    way = np.abs(at_i[:, :, None] - at_j[:, None, :]).reshape(-1, 4)
    way = np.minimum(way, around[:, None] - way).max(axis=1)
    return np.where(ring[i] == ring[j], way, np.inf)


def _nearest(a: Floats, b: Floats, c: Floats, d: Floats) -> tuple[Floats, Floats, Floats]:
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
    square = np.maximum((along * along).sum(axis=1), 1e-300)
    share = np.clip(((point - start) * along).sum(axis=1) / square, 0.0, 1.0)
    return share, np.hypot(*(point - start - share[:, None] * along).T)


def _near_part(a: Floats, b: Floats, t: Floats, c: Floats, d: Floats, gap: Floats, apart: float) -> Floats:
    """From where to where (n, 2), in shares, segments a-b are nearer than `apart` to segments c-d.

    That is around `t`, where `gap` is between them, as far as the two lines stay so near and c-d reaches.
    """
    u, v = b - a, d - c
    size, other = np.maximum(np.hypot(*u.T), 1e-300), np.maximum(np.hypot(*v.T), 1e-300)
    slant = np.abs(bezier.cross(u, v)) / (size * other)
    reach = (apart - gap) / np.maximum(slant, 1e-9) / size
    ends = np.stack([((c - a) * u).sum(axis=1), ((d - a) * u).sum(axis=1)]) / size**2
    low, high = ends.min(axis=0) - apart / size, ends.max(axis=0) + apart / size
    start = np.maximum(t - reach, np.minimum(low, t))
    end = np.minimum(t + reach, np.maximum(high, t))
    return np.clip(np.stack([start, end], axis=1), 0.0, 1.0)


def _mended(region: Region, near: _Near, apart: float) -> tuple[Region, Region]:
    """The pieces that nothing is wrong with, and the others welded where the void between outlines is too
    thin, and cut where the solid is.
    """
    chords = _chords(apart)
    flat = region.flattened(chords)
    polygon, _ = bezier.expand(np.diff(region.polygon_offsets))
    hurt = np.zeros(region.piece_count, bool)
    hurt[polygon[near.loop]] = True
    body = flat.multipolygon()
    shapely.prepare(body)
    # Where they are nearest may be the very tip: whether solid or void lies between is asked amid both parts.
    amid = (near.first + near.second).mean(axis=1) / 2.0
    solid = np.asarray(shapely.contains_xy(body, amid)) & (near.gap > _TOUCHING)
    # An outline that runs back along itself has nothing amid: with void on both sides it is a hair.
    way = unit(near.first[:, 1] - near.first[:, 0])
    aside = apart * np.stack([-way[:, 1], way[:, 0]], axis=1)
    along = near.first.mean(axis=1)
    bare = ~(shapely.contains_xy(body, along + aside) | shapely.contains_xy(body, along - aside))
    solid |= bare & (near.gap <= _TOUCHING) & (np.abs(way).max(axis=1) > 0.0)
    patches = _patches(near, _REACH * apart)
    welds, cuts = (region_of(shapely.union_all(patches[which])) for which in (~solid, solid))
    # A patch may reach into a neighbouring piece: that is laid over the others as well.
    everywhere = shapely.STRtree(patches)
    boxes = shapely.box(*region.piece_boxes().T)
    hurt[everywhere.query(boxes, predicate="intersects")[0]] = True
    rest, region = region.select_polygons(~hurt), region.select_polygons(hurt)
    given = [r for r in (region, welds, cuts) if not r.is_empty]
    flats = [r.flattened(chords) for r in given]
    outcome = _quickly(*(r.flattened(chords).multipolygon() for r in (region, welds, cuts)))
    if outcome is not None:
        return rest, restore(Edges.of(given, flats), [outcome])[0]
    faces = faces_of(flats)
    points = shapely.point_on_surface(faces)

    def inside(one: Region) -> Bools:
        return turns(one.flattened(chords), points) > 0 if not one.is_empty else np.zeros(len(points), bool)

    kept = (inside(region) | inside(welds)) & ~inside(cuts)
    outcome = outlined(faces[kept], flats)
    return rest, restore(Edges.of(given, flats), [outcome])[0]


def _quickly(body: Any, welds: Any, cuts: Any) -> Any | None:
    """What GEOS makes of a sound body; None where it is not sound, or what came out cannot be right."""
    if not shapely.is_valid(body):
        return None
    try:
        outcome = shapely.difference(shapely.union(body, welds), cuts)
    except shapely.GEOSException:
        return None
    change = float(shapely.area(outcome)) - float(shapely.area(body))
    slack = 1e-6 + 1e-9 * float(shapely.area(body))
    true = -float(shapely.area(cuts)) - slack <= change <= float(shapely.area(welds)) + slack
    return outcome if true and not folds_back([outcome]) else None


def _loops(flat: Flat, edge: Ints) -> Ints:
    """The loop that each flat edge belongs to."""
    return np.searchsorted(flat.ring_offsets, edge, side="right") - 1


def _patches(near: _Near, reach: float) -> np.ndarray:
    """What covers each pair's near parts and what lies between them, as GEOS polygons."""
    points = np.concatenate([near.first, near.second], axis=1)
    hulls = shapely.convex_hull(shapely.multipoints(shapely.points(points)))
    return np.asarray(shapely.buffer(hulls, reach, quad_segs=2))
