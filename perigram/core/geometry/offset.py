"""Grow and shrink: outlines at a distance, smooth where their source is smooth.

The outline of an offset is made of parts of the parallels of the source's outlines. So the parallels
are laid over each other, and of the faces they divide the plane into those are taken that lie within
the distance of the source. Curves come back by provenance, as in any overlay.
"""

from __future__ import annotations

from typing import Literal

import numpy as np
import shapely

from perigram.core.errors import GeometryError
from perigram.core.geometry import bezier
from perigram.core.geometry.arrange import faces_of, outlined
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.buffer import buffered, tangles
from perigram.core.geometry.clean import drop_bits
from perigram.core.geometry.edges import Edges
from perigram.core.geometry.flat import Flat, prepared
from perigram.core.geometry.measure import area
from perigram.core.geometry.parallel import MITRED, Corners, Deep, Mitres, RawParallel, raw_parallel
from perigram.core.geometry.region import FINE, MOST_VERTICES, ROUGH, Region
from perigram.core.geometry.region import TOLERANCE as REGION_TOLERANCE
from perigram.core.geometry.regularise import paths, sound
from perigram.core.geometry.restore import region_of, restore

#: Fitted outlines follow the true parallel curve within this many mm.
TOLERANCE = 0.004
#: What is promised of them once they are cut at crossings, in mm.
PROMISED = 0.01
#: Farthest an outline can be moved, in mm.
FARTHEST = 50.0
#: Mitres reach this many distances from their corner at most.
MITRE_LIMIT = 4.0
#: Faces that stay within this many mm of the distance are what rounding left between two parallels.
_BLUR = 0.006
#: An offset whose area is off GEOS's by more than this share lacks something or has too much.
_DOUBTFUL = 0.01
#: Where cubics are looked at for crossings near their ends.
_NEARING = np.linspace(0.0, 1.0, 25) ** 2
#: Tails shorter than this many mm may be closed without a crossing.
_TAIL = 0.02
#: How near to the distance, in mm, a face's point has to be looked at more closely.
_UNSURE = 0.05
#: Faces nowhere twice as wide as this many mm lie between two parallels that nearly coincide.
_SLIVER = 0.012
#: GEOS's buffer in steps is exact to about this share of the distance.
_SIMPLIFIED = 0.02
#: Corners smaller than this share of the distance have no mitres of their own.
_MINOR = 0.005
#: Tips may be off those of mitres of chords by this share of the distance.
_OFF = 0.15
#: Where more parallels than this cross, told from so many edges, an offset by an eighth of the distance first
#: leaves little of them: of a map moved by 21 mm, 1.2 million that took 60 s and 3 GB.
_TANGLED, _LOOKED_AT, _FIRST = 300_000, 2_000, 0.125
#: Where outlines keep more than this share of their length little of parallels is deep, and telling which
#: takes longer than laying all over each other: 10 to 20 % of small offsets.
_HARDLY_SHORTER = 0.85
#: Loops of less area than this many mm^2 are what is left where parallels just miss each other.
_SPECK = 1e-4


def grow(
    region: Region,
    distance: float,
    corners: Corners = "round",
    limit: float = MITRE_LIMIT,
    remains: float = 0.0,
) -> Region:
    """Offset: the region grown by a distance in mm, or shrunk where it is negative.

    With round corners that is everything within `distance` of the region; for a negative one,
    everything of the region farther than that from its edge. Mitred, outer corners stay sharp unless
    their tip would be more than `limit` distances from the corner: those are rounded. What is left
    of holes (of pieces, when shrinking) and is nowhere as wide as `remains` mm is dropped.

    Raises:
        GeometryError: for a distance beyond `FARTHEST`, or not a number.
    """
    if not np.isfinite(distance) or abs(distance) > FARTHEST:
        raise GeometryError(f"An offset can be up to {FARTHEST:g} mm either way.")
    if region.is_empty or abs(distance) < 1e-6:
        return region
    made = _buffered if region.rough else _by_parallels
    grown = made(region, distance, corners, limit)
    if remains > 0.0:
        grown, _ = drop_bits(grown, *((0.0, remains) if distance > 0 else (remains, 0.0)))
    return grown


def _by_parallels(region: Region, distance: float, corners: Corners, limit: float) -> Region:
    """The offset by its own parallels."""
    deep, least, most = _depths(region, distance)
    mitres, ends = None, None
    if corners == "mitred":
        mitres, ends = _mitres(region, distance, limit), np.full(region.node_count, MITRED)
    raw = raw_parallel(region, distance, TOLERANCE, deep, mitres, ends)
    around = paths(raw.segments, raw.curved, raw.loop_offsets)
    flat = around.flattened(REGION_TOLERANCE)
    shallow = ~deep(flat.xy, np.stack([np.arange(len(flat.xy)), flat.following], axis=1))
    if np.count_nonzero(shallow) > MOST_VERTICES:
        raise GeometryError(
            f"Moving these outlines by {distance:g} mm needs more than {MOST_VERTICES:,} points. "
            "Use less of the picture, or smooth it first."
        )
    if corners == "round" and abs(distance) > FARTHEST / 1000.0 and _tangled(flat, shallow):
        # Within a of what is within b is what is within a + b.
        return grow(grow(region, _FIRST * distance), (1.0 - _FIRST) * distance)
    faces = faces_of([flat], shallow)
    kept = faces[_covered(faces, region, raw, distance)]
    grown = restore(Edges.of([around], [flat]), [outlined(kept, [flat])], _SPECK)[0]
    grown = sound(without_tails(grown, raw.segments[raw.inner]))
    if not least < area(grown) < (most if corners == "round" else np.inf):
        # An outline may not have closed. What GEOS makes of it has no curves, but lacks nothing.
        plain = _buffered(region, distance, corners, limit)
        if abs(area(plain) - area(grown)) > _DOUBTFUL * area(plain):
            return plain
    return grown


def _tangled(flat: Flat, wanted: Bools) -> bool:
    """Whether wanted edges cross so often that laying them over each other takes long; told from some."""
    edges = np.flatnonzero(wanted)
    if len(edges) < 5 * _LOOKED_AT:
        return False
    lines = shapely.linestrings(np.stack([flat.xy[edges], flat.end[edges]], axis=1))
    some = lines[:: max(1, len(lines) // _LOOKED_AT)]
    meets = shapely.STRtree(lines).query(some, predicate="intersects").shape[1] / len(some)
    # Each meets itself and its neighbours, and is met.
    return bool((meets - 3.0) / 2.0 * len(lines) > _TANGLED)


def misses(region: Region, grown: Region, distance: float) -> Floats:
    """Places (n, 2) where the outline of a round offset is off its distance by more than `PROMISED`.

    Nodes and middles of segments are looked at; the source's chords are allowed for. Of rough ones none are.
    """
    if grown.is_empty or region.is_empty or grown.rough:
        return np.zeros((0, 2))
    middle = bezier.evaluate(grown.segments, np.full(grown.node_count, 0.5))
    places = np.concatenate([grown.start, middle])
    outline, points = shapely.boundary(region.multipolygon), shapely.points(places)
    shapely.prepare(outline)
    slack = PROMISED + REGION_TOLERANCE
    off = shapely.dwithin(outline, points, max(abs(distance) - slack, 0.0))
    off |= ~shapely.dwithin(outline, points, abs(distance) + slack)
    return np.asarray(places[off])


def _buffered(region: Region, distance: float, corners: Corners, limit: float) -> Region:
    """The offset as GEOS's buffer of chords has it: of fine ones, or of a rough region's own."""
    body = region.flattened(FINE).multipolygon()
    style: Literal["mitre", "round"] = "mitre" if corners == "mitred" else "round"
    made = shapely.buffer(
        shapely.make_valid(body),
        distance,
        quad_segs=_quarter(distance) if region.rough else 64,
        join_style=style,
        mitre_limit=limit,
    )
    return region_of(made, region.rough)


def _quarter(radius: float) -> int:
    """Chords within `ROUGH` of a quarter of a circle."""
    share = min(1.0, ROUGH / abs(radius))
    return int(np.ceil(np.pi / 4.0 / np.arccos(1.0 - share)))


def _depths(region: Region, distance: float) -> tuple[Deep, float, float]:
    """What lies too deep inside an offset to be on its outline, as a buffer of GEOS's tells; and the area
    in mm^2 that the offset has at least, and, with round corners, at most.

    What is left of a tangle of parallels is the strip along its rim, so that small figures grown far cost
    what their outline costs.
    """
    strip = 0.01 + 1.5 * _SIMPLIFIED * abs(distance)
    reach = abs(distance) - 1.5 * strip
    if reach <= 0.0:
        return _nothing_deep, 0.0, np.inf
    body = region.multipolygon
    inside = buffered(body, reach if distance > 0 else -reach)
    near = float(shapely.area(inside))
    # From there to the distance it takes no more than the outline's length times the way, and a disc for each
    # piece that grows and each hole that does while the solid shrinks (Steiner's formula, as a bound).
    way = 3.0 * strip
    rings = shapely.get_num_geometries(inside) if distance > 0 else len(shapely.get_rings(inside))
    far = near + np.sign(distance) * (way * float(shapely.length(inside)) + np.pi * way**2 * rings)
    least, most = 0.99 * min(near, far) - _SPECK, 1.01 * max(near, far) + _SPECK
    if shapely.length(inside) > _HARDLY_SHORTER * shapely.length(body):
        return _nothing_deep, least, most
    if distance < 0:
        x0, y0, x1, y1 = shapely.bounds(body)
        edge = 3.0 * abs(distance)
        inside = shapely.difference(shapely.box(x0 - edge, y0 - edge, x1 + edge, y1 + edge), inside)
    shapely.prepare(inside)

    def deep(places: Floats, lines: Ints) -> Bools:
        there = np.asarray(shapely.contains_xy(inside, places), bool)
        buried: Bools = np.logical_and.reduce(there[lines], axis=1)
        if lines.shape[1] == 1:
            return buried
        # Only what seems to be is looked at more closely.
        some = np.flatnonzero(buried)
        at = places[lines[some]]
        # A step no longer than the strip is wide cannot come out of it and go in again.
        steps = bezier.length(np.diff(at, axis=1)).max(axis=1)
        long = np.flatnonzero(steps > strip)
        buried[some[long]] = shapely.contains_properly(inside, shapely.linestrings(at[long]))
        # Where places stand for a curve, it rises above the steps by an eighth of their second differences.
        if lines.shape[1] > 2:
            bends: Floats = bezier.length(np.diff(at, n=2, axis=1)).max(axis=1)
            buried[some] &= bends < strip
        return buried

    return deep, least, most


def _nothing_deep(_: Floats, lines: Ints) -> Bools:
    return np.zeros(len(lines), bool)


def _mitres(region: Region, distance: float, limit: float) -> Mitres:
    """Mitres at corners that count: those that GEOS's mitred buffer reaches as well.

    At a step or a thorn much smaller than the distance a mitre would be a fang of many times its size; GEOS
    simplifies those away first.
    """
    slack = 0.01 + _OFF * abs(distance)
    body, minor = region.multipolygon, _MINOR * abs(distance)
    plain = shapely.simplify(body, minor)
    if tangles(plain, distance):
        # Closing by less than the distance leaves what comes of growing as it is (opening, of shrinking), and
        # takes away what would tangle: buffers with mitres cannot be taken in steps.
        # Back by a little more, so that the two do not run along each other nearly everywhere.
        closed = buffered(buffered(body, distance / 2.0), -0.52 * distance)
        combine = shapely.union if distance > 0 else shapely.intersection
        plain = shapely.simplify(combine(shapely.make_valid(body), closed), minor)
    body = shapely.buffer(plain, distance, join_style="mitre", mitre_limit=limit)
    outline = shapely.boundary(body)
    shapely.prepare([body, outline])

    def allowed(tips: Floats) -> Bools:
        points = shapely.points(tips)
        near = np.asarray(shapely.dwithin(outline, points, slack))
        inside = np.asarray(shapely.contains_xy(body, tips))
        # Tips deep inside do no harm where it grows; where it shrinks, tips are bitten out of what is left.
        return near | inside if distance > 0 else near | ~inside

    return Mitres(limit, allowed)


def _covered(faces: np.ndarray, region: Region, raw: RawParallel, distance: float) -> Bools:
    """Which faces belong to the offset."""
    body = prepared(region.multipolygon)
    outline = prepared(shapely.boundary(body))
    points = shapely.point_on_surface(faces)
    # A point so near the distance may only be badly chosen: go by one well within the face. Faces that have
    # none lie between two parallels that nearly coincide, and are near enough either way.
    unsure = np.flatnonzero(
        shapely.dwithin(outline, points, abs(distance) + _UNSURE)
        & ~shapely.dwithin(outline, points, abs(distance) - _UNSURE)
    )
    within = shapely.buffer(faces[unsure], -_SLIVER, quad_segs=1)
    thin = shapely.is_empty(within)
    points[unsure[~thin]] = shapely.point_on_surface(within[~thin])
    inside = shapely.contains_xy(body, shapely.get_x(points), shapely.get_y(points))
    near = shapely.dwithin(outline, points, abs(distance) + _BLUR)
    near[unsure[thin]] = True
    if len(raw.mitres):
        tips = shapely.STRtree(shapely.polygons(raw.mitres))
        near[tips.query(points, predicate="intersects")[0]] = True
    return inside | near if distance > 0 else inside & ~near


def without_tails(region: Region, inner: Floats) -> Region:
    """The region with its outlines cut where two parallels cross too flatly for chords to see.

    There the outline goes a little too far along one, over segments that only lead on, and back a
    little along the other.
    """
    if region.is_empty or len(inner) == 0:
        return region
    leads = np.isin(bezier.row_hash(region.curves.reshape(-1, 8)), bezier.row_hash(inner.reshape(-1, 8)))[
        region.curve
    ]
    before = np.empty_like(region.following)
    before[region.following] = np.arange(len(before))
    first = np.flatnonzero(leads & ~leads[before])
    if len(first) == 0:
        return region
    p, last = before[first], first.copy()
    while (going := leads[region.following[last]]).any():
        last[going] = region.following[last[going]]
    q = region.following[last]
    u, v, met = _crossing(region.segments[p], region.segments[q])
    reach = bezier.length(region.start[q] - region.start[first])
    at = bezier.evaluate(region.segments[p], u)
    met &= (bezier.length(at - region.start[first]) < 3.0 * reach + _TAIL) & (p != q)
    # Where they do not cross they pass each other within the tolerance: their ends are one.
    near = ~met & (reach < _TAIL) & (p != q)
    at[near] = (region.start[first[near]] + region.start[q[near]]) / 2.0
    u[near], v[near] = 1.0, 0.0
    done = met | near
    first, q, p, u, v, at = (x[done] for x in (first, q, p, u, v, at))
    span, start = region.span.copy(), region.start.copy()
    begin, end = region.span[p].T
    span[p, 1] = begin + u * (end - begin)
    begin, end = region.span[q].T
    span[q, 0] = begin + v * (end - begin)
    start[q] = at
    # A segment cut from both sides beyond itself stays as it was, and all that hangs on it.
    flipped = (span[:, 1] > span[:, 0]) != (region.span[:, 1] > region.span[:, 0])
    if flipped.any():
        return region
    gone = np.zeros(len(leads), bool)
    for a, b in zip(first, q, strict=True):
        while a != b:
            gone[a] = True
            a = region.following[a]
    loop, _ = bezier.expand(np.diff(region.loop_offsets))
    sizes = np.bincount(loop[~gone], minlength=region.loop_count)
    loops = np.concatenate([[0], np.cumsum(sizes)]).astype(np.intp)
    return Region(
        region.curves,
        region.curved,
        region.curve[~gone],
        span[~gone],
        start[~gone],
        loops,
        region.polygon_offsets,
    )


def _crossing(a: Floats, b: Floats) -> tuple[Floats, Floats, Bools]:
    """Where cubics a (n, 4, 2) near their ends cross cubics b near their starts, and whether they do."""
    n, k = len(a), len(_NEARING)
    u, v = np.tile(1.0 - _NEARING, n), np.tile(_NEARING, n)
    x = bezier.evaluate(np.repeat(a, k, axis=0), u).reshape(n, k, 2)
    y = bezier.evaluate(np.repeat(b, k, axis=0), v).reshape(n, k, 2)
    dx, dy = np.diff(x, axis=1)[:, :, None], np.diff(y, axis=1)[:, None]
    apart = y[:, None, :-1] - x[:, :-1, None]
    cross = bezier.cross(dx, dy)
    cross = np.where(np.abs(cross) < 1e-300, np.inf, cross)
    share_u, share_v = bezier.cross(apart, dy) / cross, bezier.cross(apart, dx) / cross
    hit = (np.abs(share_u - 0.5) <= 0.5) & (np.abs(share_v - 0.5) <= 0.5)
    steps = np.add.outer(np.arange(k - 1), np.arange(k - 1))
    rank = np.where(hit, steps, 4 * k).reshape(n, (k - 1) ** 2)
    i, j = np.divmod(rank.argmin(axis=1), k - 1)
    row = np.arange(n)
    u = 1.0 - (_NEARING[i] + share_u[row, i, j] * np.diff(_NEARING)[i])
    v = _NEARING[j] + share_v[row, i, j] * np.diff(_NEARING)[j]
    found = hit[row, i, j]
    u, v = np.where(found, u, 1.0), np.where(found, v, 0.0)
    u, v = bezier.meet(a, b, u, v)
    gap = bezier.length(bezier.evaluate(a, u) - bezier.evaluate(b, v))
    return u, v, (gap < 1e-6) & (u > 0.0) & (v < 1.0)
