"""Weld, cut away, overlap and exclude; and loops of any kind made into a region."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from perigram.core.errors import GeometryError
from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.flatten import Flat
from perigram.core.geometry.region import FINE, TOLERANCE, Region, check_coordinates
from perigram.core.geometry.restore import Edges, restore

#: Overlays with more crossings than this are refused; so many take about half a minute.
MOST_CROSSINGS = 4_000_000

#: Edges that crossings are estimated from, of the longest and of the others.
_LOOKED_AT = 6

FillRule = Literal["nonzero", "evenodd", "positive"]


def cut_away(region: Region, tool: Region) -> Region:
    """What of `region` lies outside `tool`."""
    if region.is_empty or tool.is_empty:
        return region
    near, far = _reached(region, tool)
    return Region.joined([far, _overlay(near, tool, shapely.difference)])


def overlap(a: Region, b: Region) -> Region:
    """What lies in both."""
    if a.is_empty or b.is_empty:
        return Region.empty()
    return _overlay(_reached(a, b)[0], _reached(b, a)[0], shapely.intersection)


def divide(region: Region, tool: Region) -> tuple[Region, Region]:
    """What of `region` lies outside `tool`, and what inside; welded, the two give `region` exactly."""
    if region.is_empty or tool.is_empty:
        return region, Region.empty()
    near, far = _reached(region, tool)
    if near.is_empty:
        return region, near
    refuse_tangles(near.flat, tool.flat)
    a, b = near.multipolygon, tool.multipolygon
    outcomes = [shapely.difference(a, b), shapely.intersection(a, b)]
    outside, inside = restore(Edges.of([near, tool], [near.flat, tool.flat]), outcomes)
    return Region.joined([far, outside]), inside


@dataclass(frozen=True, eq=False)
class Slice:
    """One piece of several regions laid over each other, and which of them (by index) it lies in."""

    region: Region
    parents: frozenset[int]


def slice_apart(regions: Sequence[Region]) -> list[Slice]:
    """Every piece that regions cut each other into: they cover the weld and overlap nowhere."""
    given = [(i, r) for i, r in enumerate(regions) if not r.is_empty]
    if not given:
        return []
    bodies = np.array([r.multipolygon for _, r in given])
    noded = shapely.union_all(shapely.boundary(bodies))
    faces = shapely.get_parts(shapely.polygonize(shapely.get_parts(noded)))
    within = shapely.contains(bodies[:, None], shapely.point_on_surface(faces)[None, :])
    by_parents: dict[frozenset[int], list[int]] = {}
    for face, column in enumerate(within.T):
        parents = frozenset(given[k][0] for k in np.flatnonzero(column))
        if parents:
            by_parents.setdefault(parents, []).append(face)
    # One parentage on both sides of an edge is no cut: the edge lies on two outlines that cancel.
    outcomes = [shapely.coverage_union_all(faces[members]) for members in by_parents.values()]
    edges = Edges.of([r for _, r in given], [r.flat for _, r in given])
    parts = restore(edges, outcomes)
    return [
        Slice(piece, parents)
        for parents, part in zip(by_parents, parts, strict=True)
        for piece in part.pieces()
    ]


def exclude(a: Region, b: Region) -> Region:
    """What lies in one of the two but not in both."""
    if a.is_empty or b.is_empty:
        return b if a.is_empty else a
    return _overlay(a, b, shapely.symmetric_difference)


def weld(regions: Sequence[Region]) -> Region:
    """Everything that lies in any of the regions, overlaps and shared edges dissolved."""
    parts = [r for r in regions if not r.is_empty]
    if len(parts) <= 2:
        return _welded(parts)
    return Region.joined([_welded([parts[i] for i in group]) for group in _meeting(parts)])


def _welded(parts: Sequence[Region]) -> Region:
    if len(parts) <= 1:
        return parts[0] if parts else Region.empty()
    joined = shapely.union_all(np.array([r.multipolygon for r in parts]))
    return restore(Edges.of(parts, [r.flat for r in parts]), [joined])[0]


def _meeting(parts: Sequence[Region]) -> list[list[int]]:
    """The parts in groups that meet one another, or come so near that their curves might."""
    near = 2.0 * TOLERANCE
    low = np.array([part.curves.min(axis=(0, 1)) for part in parts]) - near
    high = np.array([part.curves.max(axis=(0, 1)) for part in parts]) + near
    boxes = shapely.box(*low.T, *high.T)
    first, second = shapely.STRtree(boxes).query(boxes, predicate="intersects")
    first, second = first[first < second], second[first < second]
    flat = np.array([None] * len(parts), object)
    for i in {*first.tolist(), *second.tolist()}:
        flat[i] = parts[i].multipolygon
    meets = shapely.dwithin(flat[first], flat[second], near)
    links = coo_array((meets[meets], (first[meets], second[meets])), shape=(len(parts), len(parts)))
    count, label = connected_components(links, directed=False)
    return [np.flatnonzero(label == group).tolist() for group in range(count)]


def refuse_tangles(a: Flat, b: Flat) -> None:
    """Refuse outlines that cross so often that laying them over each other would take minutes.

    Crossings are estimated: from the longest edges, which can cross most others, and from some of the rest.

    Raises:
        GeometryError: where more than `MOST_CROSSINGS` are expected.
    """
    if len(a.xy) * len(b.xy) < MOST_CROSSINGS:
        return
    start, end = a.xy, a.xy[a.following]
    by_length = np.argsort(-np.abs(end - start).max(axis=1))
    (low_x, low_y), (high_x, high_y) = (
        np.minimum(b.xy, b.xy[b.following]).T,
        np.maximum(b.xy, b.xy[b.following]).T,
    )
    expected = 0.0
    for edges in np.array_split(by_length, [max(1, len(by_length) // 50)]):
        chosen = edges[:: max(1, len(edges) // _LOOKED_AT)]
        boxes = np.hstack([np.minimum(start, end)[chosen], np.maximum(start, end)[chosen]])
        met = [
            np.count_nonzero((low_x <= x1) & (high_x >= x0) & (low_y <= y1) & (high_y >= y0))
            for x0, y0, x1, y1 in boxes
        ]
        expected += len(edges) * sum(met) / max(1, len(met))
    if expected > MOST_CROSSINGS:
        raise GeometryError(
            f"These outlines cross about {expected / 1e6:.0f} million times; up to "
            f"{MOST_CROSSINGS / 1e6:.0f} million can be worked on. Use a simpler picture."
        )


def fill_holes(region: Region) -> Region:
    """The region with its holes filled; pieces that stood inside a hole are swallowed."""
    outer = region.without_holes()
    if outer.loop_count == region.loop_count:
        return region
    if outer.piece_count == 1:
        return outer
    polygons = outer.flat.polygon_array()
    inner, around = shapely.STRtree(polygons).query(polygons, predicate="within")
    keep = np.ones(len(polygons), bool)
    keep[inner[inner != around]] = False
    return outer.select_polygons(keep)


def _reached(region: Region, tool: Region) -> tuple[Region, Region]:
    """What of a region an overlay with another can change, and its pieces too far from that."""
    own, theirs = (shapely.box(*one.piece_boxes().T) for one in (region, tool))
    near = np.zeros(region.piece_count, bool)
    near[shapely.STRtree(theirs).query(own, predicate="intersects")[0]] = True
    return region.select_polygons(near), region.select_polygons(~near)


def _overlay(a: Region, b: Region, operation: Callable[..., shapely.Geometry]) -> Region:
    if a.is_empty:
        return a
    refuse_tangles(a.flat, b.flat)
    outcome = operation(a.multipolygon, b.multipolygon)
    return restore(Edges.of([a, b], [a.flat, b.flat]), [outcome])[0]


def sound(region: Region) -> Region:
    """The region; or, where its curves cross by less than overlays can see, one in which they do not."""
    for tolerance in (FINE, FINE / 10.0):
        if region.is_sound:
            break
        region = regularise(region.segments, ~region.straight, region.loops, "positive", tolerance)
    return region


def regularise(
    segments: Floats,
    curved: Bools,
    loops: Ints,
    rule: FillRule = "nonzero",
    tolerance: float = TOLERANCE,
) -> Region:
    """The region that closed loops of any kind enclose under a fill rule.

    Loops may cross themselves and each other, coincide, be nested or run either way; zero-length
    segments and loops that enclose nothing vanish.

    Args:
        segments: (n, 4, 2) control points; lines with their controls anywhere.
        curved: (n,) false for lines.
        loops: (m + 1,) offsets of loops; each must end where it starts, to within rounding.
        rule: what counts as inside where loops overlap; "positive" counts only what loops of
            positive area go round, so that stretches turned inside out vanish.
        tolerance: how far in mm the chords that crossings are found on may be from the curves.

    Raises:
        GeometryError: for NaN, infinity or places out of reach.
    """
    check_coordinates(segments)
    raw = paths(segments, curved, loops)
    if raw.is_empty:
        return Region.empty()
    flat = raw.flattened(tolerance)
    refuse_tangles(flat, flat)
    faces = faces_of(flat)
    if len(faces) == 0:
        return Region.empty()
    turns = _winding(flat.xy, flat.xy[flat.following], shapely.point_on_surface(faces))
    inside = {"nonzero": turns != 0, "evenodd": turns % 2 != 0, "positive": turns > 0}[rule]
    return restore(Edges.of([raw], [flat]), [shapely.coverage_union_all(faces[inside])])[0]


def faces_of(flat: Flat, edges: Bools | None = None) -> np.ndarray:
    """The faces that closed paths, or the marked edges (v,) of them, divide the plane into."""
    xy, rings = flat.closed()
    if edges is None:
        lines = shapely.from_ragged_array(shapely.GeometryType.LINESTRING, xy, (rings,))
    else:
        # Lines of consecutive edges; the last edge of a ring ends at the vertex repeated there.
        edge = np.flatnonzero(edges)
        ring = np.searchsorted(flat.rings, edge, side="right") - 1
        edge = edge + ring
        first = np.flatnonzero(np.diff(edge, prepend=-2) != 1)
        counts = np.diff(np.append(first, len(edge)))
        line, place = bezier.expand(counts + 1)
        lines = shapely.linestrings(xy[edge[first][line] + place], indices=line)
    noded = shapely.union_all(lines)
    return np.asarray(shapely.get_parts(shapely.polygonize(shapely.get_parts(noded))))


def paths(segments: Floats, curved: Bools, loops: Ints) -> Region:
    """Closed paths in a region's clothes, without its promises: only to be flattened and traced back."""
    length = np.abs(np.diff(segments, axis=1)).sum(axis=(1, 2))
    real = length > 0.0
    loop, _ = bezier.expand(np.diff(loops))
    sizes = np.bincount(loop[real], minlength=len(loops) - 1)
    real &= (sizes > 1)[loop] | curved
    sizes = np.bincount(loop[real], minlength=len(loops) - 1)
    segments = segments[real].copy()
    straight = ~curved[real]
    segments[straight] = bezier.line_controls(segments[straight, 0], segments[straight, 3])
    offsets = np.concatenate([[0], np.cumsum(sizes[sizes > 0])]).astype(np.intp)
    return Region.from_loops(segments, curved[real], offsets, np.arange(len(offsets)))


def _winding(start: Floats, end: Floats, points: np.ndarray) -> Ints:
    """Winding numbers of points about closed polylines, by signed crossings of a ray to the right.

    Source: Hormann and Agathos, The point in polygon problem for arbitrary polygons (2001).
    """
    px, py = shapely.get_x(points), shapely.get_y(points)
    turns = np.zeros(len(points), np.intp)
    block = max(1, 4_000_000 // max(1, len(start)))
    for low in range(0, len(points), block):
        x, y = px[low : low + block, None], py[low : low + block, None]
        up = (start[:, 1] <= y) & (end[:, 1] > y)
        down = (start[:, 1] > y) & (end[:, 1] <= y)
        side = (end[:, 0] - start[:, 0]) * (y - start[:, 1]) - (x - start[:, 0]) * (end[:, 1] - start[:, 1])
        turns[low : low + block] = (up & (side > 0)).sum(axis=1) - (down & (side < 0)).sum(axis=1)
    return turns
