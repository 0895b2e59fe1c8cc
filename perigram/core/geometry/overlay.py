"""Weld, cut away, overlap and exclude."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from perigram.core.errors import GeometryError
from perigram.core.geometry import bezier
from perigram.core.geometry.arrange import faces_of, outlined, places_in, turns, windings
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.edges import Edges
from perigram.core.geometry.flat import Flat, prepared
from perigram.core.geometry.folds import filled, unfolded
from perigram.core.geometry.labels import rightly_labelled
from perigram.core.geometry.region import TOLERANCE, Region
from perigram.core.geometry.restore import region_of, restore
from perigram.core.geometry.shared import noded_alike
from perigram.core.geometry.union import ROUNDING, ROUNDING_SHARE, truly_united

#: Overlays with more crossings than this are refused; so many take about half a minute.
MOST_CROSSINGS = 4_000_000

#: More parts than this are handled together rather than one by one.
_MANY = 50
#: Edges that crossings are estimated from, of the longest and of the others.
_LOOKED_AT = 6


@dataclass(frozen=True)
class _Operation:
    """What of two regions an overlay keeps.

    Attributes:
        quick: GEOS's own way, for valid polygons.
        keeps: which faces, from whether each lies in the one and in the other.
        area: the area it comes to, from those of the two and of what they share.
    """

    quick: Callable[[Any, Any], Any]
    keeps: Callable[[Bools, Bools], Bools]
    area: Callable[[float, float, float], float]


_CUT_AWAY = _Operation(shapely.difference, lambda a, b: a & ~b, lambda a, b, both: a - both)
_OVERLAP = _Operation(shapely.intersection, lambda a, b: a & b, lambda a, b, both: both)
_EXCLUDE = _Operation(shapely.symmetric_difference, lambda a, b: a ^ b, lambda a, b, both: a + b - 2.0 * both)

#: Which of some GEOS polygons are wanted.
Wanted = Callable[[np.ndarray], Bools]


def cut_away(region: Region, tool: Region) -> Region:
    """Difference: what of `region` lies outside `tool`."""
    if region.is_empty or tool.is_empty:
        return region
    near, far = _reached(region, tool)
    return Region.joined([far, *_laid_over(near, tool, [_CUT_AWAY])])


def pieces_outside(region: Region, tool: Region, wanted: Wanted) -> Region:
    """Those pieces of the difference that are wanted, as flattened; curves are given back to them alone.

    Where most of it is slivers that are not, that is a sixth less to do.
    """
    if region.is_empty:
        return region
    near, far = _reached(region, tool)
    far = far.select_polygons(wanted(far.flat.polygon_array()))
    return Region.joined([far, *_laid_over(near, tool, [_CUT_AWAY], wanted)])


def overlap(a: Region, b: Region) -> Region:
    """Intersection: what lies in both."""
    if a.is_empty or b.is_empty:
        return Region.empty()
    return _laid_over(_reached(a, b)[0], _reached(b, a)[0], [_OVERLAP])[0]


def divide(region: Region, tool: Region) -> tuple[Region, Region]:
    """Difference and intersection: what of `region` lies outside `tool`, and what inside.

    Welded, the two give `region` exactly.
    """
    if region.is_empty or tool.is_empty:
        return region, Region.empty()
    near, far = _reached(region, tool)
    outside, inside = _laid_over(near, tool, [_CUT_AWAY, _OVERLAP])
    return Region.joined([far, outside]), inside


def exclude(a: Region, b: Region) -> Region:
    """Symmetric difference: what lies in one of the two but not in both."""
    if a.is_empty or b.is_empty:
        return b if a.is_empty else a
    return _laid_over(a, b, [_EXCLUDE])[0]


def _laid_over(
    a: Region, b: Region, operations: Sequence[_Operation], wanted: Wanted | None = None
) -> list[Region]:
    """What overlays of two regions keep, agreeing to the bit on where they meet.

    Sound regions are left to GEOS and its answer checked by inclusion and exclusion: |A| + |B| is what both
    cover and what they share. Where they are not sound as flattened, or the areas do not add up, all
    edges are laid over each other with care.
    """
    if a.is_empty:
        return [a for _ in operations]
    a, b = noded_alike([a, b])
    refuse_tangles(a.flat, b.flat)
    rough = a.rough or b.rough
    outcomes = _roughly(a, b, operations) if rough else _quickly(a, b, operations)
    if outcomes is None:
        flats = [a.flat, b.flat]
        faces = faces_of(flats)
        points = places_in(faces)
        in_a, in_b = (turns(flat, points) > 0 for flat in flats)
        outcomes = [outlined(faces[one.keeps(in_a, in_b)], flats) for one in operations]
    if wanted:
        outcomes = [_only(outcome, wanted) for outcome in outcomes]
    if rough:
        return [region_of(outcome, rough=True) for outcome in outcomes]
    return restore(Edges.of([a, b], [a.flat, b.flat]), outcomes)


def _only(outcome: Any, wanted: Wanted) -> Any:
    pieces = shapely.get_parts(outcome)
    pieces = pieces[(shapely.get_type_id(pieces) == shapely.GeometryType.POLYGON) & ~shapely.is_empty(pieces)]
    return shapely.multipolygons(pieces[wanted(pieces)])


def _roughly(a: Region, b: Region, operations: Sequence[_Operation]) -> list[Any] | None:
    """GEOS's outcomes as they are, or None where it had better not be asked."""
    bodies = filled(a.multipolygon, a.is_valid), filled(b.multipolygon, b.is_valid)
    if None in bodies:
        return None
    try:
        return [one.quick(*bodies) for one in operations]
    except shapely.GEOSException:
        return None


def _quickly(a: Region, b: Region, operations: Sequence[_Operation]) -> list[Any] | None:
    """GEOS's outcomes, or None where it had better not be asked or did not answer truly."""
    bodies = filled(a.multipolygon, a.is_valid), filled(b.multipolygon, b.is_valid)
    if None in bodies:
        return None
    try:
        both = shapely.intersection(*bodies)
        outcomes = [unfolded(both if one is _OVERLAP else one.quick(*bodies)) for one in operations]
    except shapely.GEOSException:
        return None
    if None in outcomes:
        return None
    own = float(shapely.area(bodies[0])), float(shapely.area(bodies[1]))
    shared = float(shapely.area(both))
    slack = ROUNDING + ROUNDING_SHARE * max(own)
    # Most checks hold of what GEOS found to be shared, whatever that is; that it is no more than either is
    # the one that does not follow from them.
    true = shared <= min(own) + slack and all(
        abs(float(shapely.area(outcome)) - one.area(*own, shared)) <= slack
        for one, outcome in zip(operations, outcomes, strict=True)
        if one is not _OVERLAP
    )
    if operations == [_OVERLAP]:
        rest = float(shapely.area(shapely.difference(*bodies)))
        true = true and abs(rest + shared - own[0]) <= slack
    labels = [
        (both, _OVERLAP.keeps),
        *((made, one.keeps) for one, made in zip(operations, outcomes, strict=True)),
    ]
    return outcomes if true and rightly_labelled(*bodies, labels) else None


@dataclass(frozen=True, eq=False)
class Slice:
    """One piece of several regions laid over each other, and which of them (by index) it lies in."""

    region: Region
    parents: frozenset[int]


def slice_apart(regions: Sequence[Region]) -> list[Slice]:
    """Planar subdivision: every piece regions cut each other into, covering the weld, none overlapping."""
    given = [i for i, r in enumerate(regions) if not r.is_empty]
    if not given:
        return []
    parts = noded_alike([regions[i] for i in given])
    flats = [part.flat for part in parts]
    faces = faces_of(flats)
    points = places_in(faces)
    within = (windings(flats, points) > 0).toarray().T
    by_parents: dict[frozenset[int], list[int]] = {}
    for face, column in enumerate(within.T):
        parents = frozenset(given[k] for k in np.flatnonzero(column))
        if parents:
            by_parents.setdefault(parents, []).append(face)
    # One parentage on both sides of an edge is no cut: the edge lies on two outlines that cancel.
    outcomes = [outlined(faces[members], flats) for members in by_parents.values()]
    if any(r.rough for r in regions):
        made = [region_of(outcome, rough=True) for outcome in outcomes]
    else:
        made = restore(Edges.of(parts, flats), outcomes)
    return [
        Slice(piece, parents)
        for parents, part in zip(by_parents, made, strict=True)
        for piece in part.pieces()
    ]


def weld(regions: Sequence[Region]) -> Region:
    """Union: everything that lies in any of the regions, overlaps and shared edges dissolved."""
    parts = [r for r in regions if not r.is_empty]
    if len(parts) <= 2:
        return _welded(parts)
    groups = _meeting(parts)
    alone = [parts[group[0]] for group in groups if len(group) == 1]
    several = [[parts[i] for i in group] for group in groups if len(group) > 1]
    if len(several) > _MANY:
        # One overlay of all takes far less than one for each.
        several = [[part for group in several for part in group]]
    return Region.joined([*alone, *map(_welded, several)])


def _welded(parts: Sequence[Region]) -> Region:
    if len(parts) <= 1:
        return parts[0] if parts else Region.empty()
    parts = noded_alike(parts)
    outcome = _union(parts)
    flats = [r.flat for r in parts]
    if outcome is None:
        faces = faces_of(flats)
        points = places_in(faces)
        outcome = outlined(faces[(windings(flats, points) > 0).sum(axis=1) > 0], flats)
    if any(part.rough for part in parts):
        return region_of(outcome, rough=True)
    return restore(Edges.of(parts, flats), [outcome])[0]


def _union(parts: Sequence[Region]) -> Any | None:
    """GEOS's union of regions; None where one cannot be filled or the area cannot be right."""
    bodies = _bodies(parts)
    valid = shapely.is_valid(bodies) if len(parts) > _MANY else np.array([part.is_valid for part in parts])
    for one in np.flatnonzero(~valid):
        bodies[one] = filled(bodies[one], False)
    if None in bodies:
        return None
    try:
        joined = truly_united(bodies)
    except shapely.GEOSException:
        return None
    return joined if joined is None else unfolded(joined)


def _bodies(parts: Sequence[Region]) -> np.ndarray:
    """The flattened regions as GEOS geometries; of many they are made in one go."""
    if len(parts) <= _MANY:
        return np.array([part.multipolygon for part in parts])
    flat = Region.joined(parts).flattened(TOLERANCE)
    coordinates, rings = flat.closed()
    members = np.concatenate([[0], np.cumsum([part.piece_count for part in parts])])
    return np.asarray(
        shapely.from_ragged_array(
            shapely.GeometryType.MULTIPOLYGON, coordinates, (rings, flat.polygon_offsets, members)
        )
    )


def _meeting(parts: Sequence[Region]) -> list[list[int]]:
    """The parts in groups that meet one another, or come so near that their curves might."""
    near = 2.0 * TOLERANCE
    low = np.array([part.curves.min(axis=(0, 1)) for part in parts]) - near
    high = np.array([part.curves.max(axis=(0, 1)) for part in parts]) + near
    boxes = shapely.box(*low.T, *high.T)
    first, second = shapely.STRtree(boxes).query(boxes, predicate="intersects")
    first, second = first[first < second], second[first < second]
    used = np.unique(np.concatenate([first, second]))
    flat = np.array([None] * len(parts), object)
    # Unprepared, GEOS asks every edge of the one about every edge of the other.
    flat[used] = prepared(_bodies([parts[i] for i in used]))
    label: Any = np.arange(len(parts))
    linked: list[tuple[Ints, Ints]] = []
    while len(first):
        # As many pairs at a time as there are parts: of many that overlap, most are one by then.
        now, first = first[: len(parts)], first[len(parts) :]
        other, second = second[: len(parts)], second[len(parts) :]
        meets = shapely.dwithin(flat[now], flat[other], near)
        linked.append((now[meets], other[meets]))
        a, b = (np.concatenate(column) for column in zip(*linked, strict=True))
        _, label = connected_components(coo_array((np.ones(len(a)), (a, b)), shape=(len(parts),) * 2), False)
        apart = label[first] != label[second]
        first, second = first[apart], second[apart]
    by_group: dict[int, list[int]] = {}
    for part, group in enumerate(label.tolist()):
        by_group.setdefault(group, []).append(part)
    return list(by_group.values())


def refuse_tangles(a: Flat, b: Flat) -> None:
    """Refuse outlines that cross so often that laying them over each other would take minutes.

    Crossings are estimated: from the longest edges, which can cross most others, and from some of the rest.

    Raises:
        GeometryError: where more than `MOST_CROSSINGS` are expected.
    """
    if len(a.xy) * len(b.xy) < MOST_CROSSINGS:
        return
    start, end = a.xy, a.end
    if any(_level(start[:, k], end[:, k], b.xy[:, k], b.xy[b.following, k]) < MOST_CROSSINGS for k in (0, 1)):
        return
    by_length = np.argsort(-bezier.farther(end - start))
    (low_x, low_y), (high_x, high_y) = (
        np.minimum(b.xy, b.end).T,
        np.maximum(b.xy, b.end).T,
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


def _level(start: Floats, end: Floats, begin: Floats, stop: Floats) -> int:
    """How many pairs of edges have heights (or breadths) in common: at least as many as cross."""
    lows, highs = np.sort(np.minimum(begin, stop)), np.sort(np.maximum(begin, stop))
    begun = np.searchsorted(lows, np.maximum(start, end), side="right")
    return int((begun - np.searchsorted(highs, np.minimum(start, end))).sum())


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
