"""Curves restored by provenance: GEOS overlays polygons, and this turns the outcome back into curves.

Each edge of an outcome is one that went in, or a part of one (`edges`). Runs of edges along one curve become
one segment; crossings are polished on their curves.
"""

from __future__ import annotations

import re
from collections.abc import Sequence

import numpy as np
import shapely
from scipy.spatial import KDTree

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.edges import SAME_POINT, Edges, origins
from perigram.core.geometry.measure import loop_areas
from perigram.core.geometry.region import FINE, TOLERANCE, Region

#: Two parameters on a curve nearer than this are the same place.
SAME_PLACE = 1e-7
#: Segments no longer than this many mm are what rounding left between two crossings in one place.
STUB = 2e-6
#: Loops of less area than this many mm^2 are rounding, not shapes.
SPECK = 1e-7
#: Crossings are polished until the two curves meet within this many mm.
CROSSING = 1e-9
#: Along every mm of outline a region may have so many mm^2 more or less than its chords.
_BETWEEN = 0.005
#: Crossings of chords lie within about this many mm of the curves' own.
_REACH = 0.005
_POLISHING_ROUNDS = 6
_NOTHING: tuple[Floats, Ints, Ints] = (np.zeros((0, 2)), np.zeros(1, np.intp), np.zeros(1, np.intp))


def restore(
    edges: Edges, outcomes: Sequence[shapely.Geometry], speck: float = SPECK, chords: float = TOLERANCE
) -> list[Region]:
    """The regions whose flattened forms, by chords within `chords` mm, GEOS computed from `edges`.

    Outcomes given together agree to the bit on where they meet, so that welding them gives back
    what they were cut from. Loops of less area than `speck` mm^2 are left out. What cannot be traced back
    comes as the lines it is. Crossings are polished, but for those of chords so fine that promises are
    checked on them.
    """
    found = _restored(edges, outcomes, speck, chords)
    return [
        region if _comes_to(region, outcome) else region_of(outcome)
        for region, outcome in zip(found, outcomes, strict=True)
    ]


def _comes_to(region: Region, outcome: shapely.Geometry) -> bool:
    """Whether a region has an outcome's area, but for what is thin and between curves and chords."""
    off = float(loop_areas(region).sum()) - float(shapely.area(outcome))
    return abs(off) <= _BETWEEN * float(shapely.length(outcome)) + 1e-3


def _restored(
    edges: Edges, outcomes: Sequence[shapely.Geometry], speck: float, chords: float
) -> list[Region]:
    regions = [_without_stubs(_traced(edges, outcome, speck)).without_flat_loops() for outcome in outcomes]
    if chords <= FINE:
        return regions
    kept = np.zeros((0, 2))
    for _ in range(_POLISHING_ROUNDS):
        polished = [_polished(region, kept) for region in regions]
        seen = [_rightly_turned(_without_stubs(region)).without_flat_loops() for region in polished]
        trouble = [_trouble(region) for region in seen]
        if not any(len(places) for places in trouble):
            return seen
        # Where polishing makes outlines touch, nodes stay where the chords cross, in every outcome.
        near = KDTree(np.concatenate(trouble))
        starts = np.concatenate([region.start for region in regions])
        moved = np.concatenate([region.start for region in polished])
        apart = np.minimum(near.query(starts)[0], near.query(moved)[0])
        there = starts[(apart < _REACH * 10) & ~np.isin(bezier.row_hash(starts), bezier.row_hash(kept))]
        if len(there) == 0:
            break
        kept = np.concatenate([kept, there])
    return regions


def _without_stubs(region: Region) -> Region:
    """The region without segments of no length; which end stays does not depend on the way they run."""
    if region.is_empty:
        return region
    short = bezier.farther(region.end - region.start) <= STUB
    # A closed curve that is a loop of its own ends where it starts.
    short &= np.abs(region.span[:, 1] - region.span[:, 0]) * _lengths(region) <= 2.0 * STUB
    if not short.any():
        return region
    start = region.start.copy()
    for stub in np.flatnonzero(short):
        after = region.following[stub]
        if tuple(start[stub]) < tuple(start[after]):
            start[after] = start[stub]
    loop, _ = bezier.expand(np.diff(region.loop_offsets))
    sizes = np.bincount(loop[~short], minlength=region.loop_count)
    outer = region.polygon_offsets[:-1]
    polygon, _ = bezier.expand(np.diff(region.polygon_offsets))
    # A loop of one segment that is no closed curve encloses nothing.
    alone = np.bincount(loop[~short], region.straight[~short], minlength=region.loop_count) == sizes
    there = (sizes > 1) | ((sizes == 1) & ~alone)
    there &= there[outer][polygon]
    kept = ~short & there[loop]
    per_polygon = np.bincount(polygon[there], minlength=region.piece_count)
    return Region(
        region.curves,
        region.curved,
        region.curve[kept],
        region.span[kept],
        start[kept],
        offsets(sizes[there]),
        offsets(per_polygon[per_polygon > 0]),
    )


def _lengths(region: Region) -> Floats:
    """About how long (n,) the whole curve is that each segment runs on, in mm."""
    return bezier.length(np.diff(region.curves, axis=1)).sum(axis=1)[region.curve]


def _rightly_turned(region: Region) -> Region:
    """The region without slivers that polishing turned inside out: their walls changed sides."""
    if region.is_empty:
        return region
    outer = np.zeros(region.loop_count, bool)
    outer[region.polygon_offsets[:-1]] = True
    right = (loop_areas(region) > 0.0) == outer
    if right.all():
        return region
    polygon, _ = bezier.expand(np.diff(region.polygon_offsets))
    return region.select_loops(right & right[region.polygon_offsets[:-1]][polygon])


def _trouble(region: Region) -> Floats:
    """Places (n, 2) at which the flattened region is not valid, and the nodes of what meets there."""
    if region.is_empty or region.is_valid:
        return np.zeros((0, 2))
    polygons = np.append(region.flat.polygon_array(), region.multipolygon)
    reasons = shapely.is_valid_reason(polygons[~shapely.is_valid(polygons)])
    found = [re.search(r"\[(\S+) (\S+)\]", reason) for reason in reasons]
    places = np.array([(float(m[1]), float(m[2])) for m in found if m]).reshape(-1, 2)
    # Of two lines that cross flatly, the node that polishing moved may lie far from where they do.
    flat = region.flat
    lines = shapely.linestrings(np.stack([flat.xy, flat.end], axis=1))
    edge, _ = shapely.STRtree(shapely.points(places)).query(lines, predicate="dwithin", distance=STUB)
    segment = flat.segment[edge]
    return np.concatenate([places, region.start[segment], region.end[segment]])


def _traced(edges: Edges, outcome: shapely.Geometry, speck: float) -> Region:
    """An outcome as runs along its curves, nodes still where the chords cross."""
    xy, rings, polygons = rings_of(outcome, speck)
    if len(xy) == 0:
        return Region.empty()
    following = np.arange(1, len(xy) + 1)
    following[rings[1:] - 1] = rings[:-1]
    source, t = origins(edges, xy, following)
    return _runs(edges, xy, rings, polygons, edges.curve[source], t)


def rings_of(geometry: shapely.Geometry, speck: float) -> tuple[Floats, Ints, Ints]:
    """Vertices, ring offsets and polygon offsets of the polygons in a geometry.

    Outer rings run with positive area, holes with negative. The closing vertices are left out, and
    so is what only rounding made: specks of no area and vertices on top of one another.
    """
    parts = shapely.get_parts(geometry)
    parts = parts[shapely.get_type_id(parts) == shapely.GeometryType.POLYGON]
    parts = parts[shapely.area(parts) > speck]
    if len(parts) == 0:
        return _NOTHING
    _, xy, (rings, polygons) = shapely.to_ragged_array(parts)
    rings, polygons = rings.astype(np.intp), polygons.astype(np.intp)
    xy = np.delete(xy, rings[1:] - 1, axis=0) + 0.0
    rings = rings - np.arange(len(rings))
    ring, place = bezier.expand(np.diff(rings))
    following = np.arange(1, len(xy) + 1)
    following[rings[1:] - 1] = rings[:-1]
    twice = np.bincount(ring, bezier.cross(xy, xy.take(following, axis=0) - xy), minlength=len(rings) - 1)
    outer = np.zeros(len(rings) - 1, bool)
    outer[polygons[:-1]] = True
    # GEOS itself tells which way a ring runs by its topmost vertex, and that may be the tip of a hair.
    turned = ((twice > 0.0) != outer)[ring]
    xy = xy[rings[:-1][ring] + np.where(turned, -place % np.diff(rings)[ring], place)]
    step = xy.take(following, axis=0) - xy
    keep = (bezier.farther(step) > SAME_POINT) & (np.abs(twice) > 2.0 * speck)[ring]
    return selected(xy, rings, polygons, keep)


def selected(xy: Floats, rings: Ints, polygons: Ints, keep: Bools) -> tuple[Floats, Ints, Ints]:
    """Rings of only the vertices marked in `keep` (v,), those left out that enclose nothing any more."""
    if keep.all():
        return xy, rings, polygons
    ring, _ = bezier.expand(np.diff(rings))
    there = np.bincount(ring[keep], minlength=len(rings) - 1) > 2
    keep = keep & there[ring]
    sizes = np.bincount(ring[keep], minlength=len(rings) - 1)
    loops = np.bincount(bezier.expand(np.diff(polygons))[0][there], minlength=len(polygons) - 1)
    return xy[keep], offsets(sizes[there]), offsets(loops[loops > 0])


def region_of(geometry: shapely.Geometry, rough: bool = False) -> Region:
    """The polygons of a GEOS geometry as a region of lines."""
    xy, rings, polygons = rings_of(geometry, SPECK)
    if len(xy) == 0:
        return Region.empty()
    return Region.from_rings(xy, rings, polygons, rough)


def redrawn(region: Region, segments: Floats, curved: Bools, loop: Ints) -> Region:
    """A region with its loops drawn by other segments; those that enclose nothing any more are left out.

    Args:
        segments, curved, loop: (n, 4, 2) in order, whether each is a curve, and which loop of the region it
            is of.
    """
    there = enclosing(region, curved, loop)
    polygon, _ = bezier.expand(np.diff(region.polygon_offsets))
    per_polygon = np.bincount(polygon[there], minlength=region.piece_count)
    size, kept = np.bincount(loop, minlength=region.loop_count), there[loop]
    return Region.from_loops(
        segments[kept], curved[kept], offsets(size[there]), offsets(per_polygon[per_polygon > 0])
    )


def enclosing(region: Region, curved: Bools, loop: Ints) -> Bools:
    """Which loops (m,) of a region still enclose something, once drawn by other segments, and so do those
    round them.
    """
    size = np.bincount(loop, minlength=region.loop_count)
    bent = np.bincount(loop[curved], minlength=region.loop_count) > 0
    there = (size > 2) | ((size > 0) & bent)
    polygon, _ = bezier.expand(np.diff(region.polygon_offsets))
    return there & there[region.polygon_offsets[:-1]][polygon]


def offsets(sizes: Ints) -> Ints:
    return np.concatenate([[0], np.cumsum(sizes)]).astype(np.intp)


def _runs(
    edges: Edges, xy: Floats, ring_offsets: Ints, polygon_offsets: Ints, curve: Ints, t: Floats
) -> Region:
    """Join consecutive edges that go on along one curve in one direction into segments."""
    previous = np.arange(-1, len(xy) - 1)
    previous[ring_offsets[:-1]] = ring_offsets[1:] - 1
    rising = t[:, 1] > t[:, 0]
    goes_on = (
        (curve == curve[previous])
        & (rising == rising[previous])
        & (np.abs(t[:, 0] - t[previous, 1]) < SAME_PLACE)
    )
    breaks = ~goes_on
    ring, _ = bezier.expand(np.diff(ring_offsets))
    counts = np.bincount(ring[breaks], minlength=len(ring_offsets) - 1)
    # A closed curve that is one segment alone has no break: let it start where its ring does.
    breaks[ring_offsets[:-1][counts == 0]] = True
    counts = np.maximum(counts, 1)
    first = np.flatnonzero(breaks)
    loops = np.concatenate([[0], np.cumsum(counts)]).astype(np.intp)
    following = np.arange(1, len(first) + 1)
    following[loops[1:] - 1] = loops[:-1]
    # The run ends with the edge before the next run's first, going round the ring.
    last = previous[first[following]]
    span = np.stack([t[first, 0], t[last, 1]], axis=1)
    used, index = np.unique(curve[first], return_inverse=True)
    curves, start = edges.curves.take(used, axis=0), xy.take(first, axis=0)
    return Region(curves, edges.curved[used], index, span, start, loops, polygon_offsets)


def _polished(region: Region, kept: Floats) -> Region:
    """Move nodes where two curves cross onto both, by Newton's method from the chords' crossing.

    A crossing that does not settle close by (curves that only touch, or run almost together) stays
    where the chords cross, which is within the flattening tolerance of both curves.
    """
    before = np.empty(len(region.curve), np.intp)
    before[region.following] = np.arange(len(region.curve))
    after_curve, before_curve = region.curve, region.curve[before]
    t_after, t_before = region.span[:, 0], region.span[before, 1]
    crossing = ~((_is_end(t_after)) & (_is_end(t_before))) & (
        (after_curve != before_curve) | (np.abs(t_after - t_before) > 1e-3)
    )
    node = np.flatnonzero(crossing)
    if len(node) == 0:
        return region
    # Always solve in the order of the curves, so that both sides of a cut get the same bits.
    swap = before_curve[node] < after_curve[node]
    swap |= (before_curve[node] == after_curve[node]) & (t_before[node] < t_after[node])
    first = np.where(swap, before_curve[node], after_curve[node])
    second = np.where(swap, after_curve[node], before_curve[node])
    t = np.where(swap, t_before[node], t_after[node])
    u = np.where(swap, t_after[node], t_before[node])
    a, b = region.curves.take(first, axis=0), region.curves.take(second, axis=0)
    t0, u0 = t, u
    step_a = 1.5 / bezier.steps_for(a, _REACH)
    step_b = 1.5 / bezier.steps_for(b, _REACH)
    t, u = bezier.meet(a, b, t, u)
    at_a, at_b = bezier.evaluate(a, t), bezier.evaluate(b, u)
    good = bezier.length(at_a - at_b) <= CROSSING
    good &= (np.abs(t - t0) <= step_a) & (np.abs(u - u0) <= step_b)
    moved = bezier.length(at_a - region.start[node])
    # What lies on both already (a node of one on the other) keeps its bits.
    good &= (moved > SAME_POINT) & (moved <= _REACH * 10)
    if len(kept):
        good &= ~np.isin(bezier.row_hash(region.start[node]), bezier.row_hash(kept))
    settled = node[good]
    start, span = region.start.copy(), region.span.copy()
    start[settled] = at_a[good] + 0.0
    span[settled, 0] = np.where(swap, u, t)[good]
    span[before[settled], 1] = np.where(swap, t, u)[good]
    # A segment turned round by its ends' moving keeps its ends where they were.
    turned = np.flatnonzero((span[:, 1] > span[:, 0]) != (region.span[:, 1] > region.span[:, 0]))
    for one in (turned, region.following[turned]):
        start[one] = region.start[one]
        span[one, 0] = region.span[one, 0]
        span[before[one], 1] = region.span[before[one], 1]
    return Region(
        region.curves, region.curved, region.curve, span, start, region.loop_offsets, region.polygon_offsets
    )


def _is_end(t: Floats) -> Bools:
    return (t == 0.0) | (t == 1.0)
