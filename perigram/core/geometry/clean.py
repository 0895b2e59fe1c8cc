"""Clean-up that says what it took away."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats
from perigram.core.geometry.buffer import buffered
from perigram.core.geometry.measure import Box, loop_areas, piece_areas
from perigram.core.geometry.region import TOLERANCE, Region


@dataclass(frozen=True)
class Removed:
    """Something clean-up took away (a bit, a strand) or filled (a hole, a slit): box in mm, area in mm^2."""

    what: Literal["bit", "hole", "strand", "slit"]
    place: Box
    area: float


def narrow_pieces(region: Region, width: float) -> Bools:
    """Erosion that leaves nothing: which pieces (p,) no disc of `width` mm fits in."""
    if region.is_empty:
        return np.zeros(0, bool)
    return _narrow(region.flat.polygon_array(), width)


def _narrow(bodies: np.ndarray, width: float) -> Bools:
    """Which GEOS polygons are nowhere as wide as `width` mm."""
    x0, y0, x1, y1 = shapely.bounds(bodies).T
    narrow = np.minimum(x1 - x0, y1 - y0) < width
    # All of a polygon lies within its inradius r of its outline, so its area is at most the outline's length
    # times r and, round holes, a little more.
    holes = shapely.get_num_interior_rings(bodies)
    most = shapely.length(bodies) * width / 2.0 + np.pi * holes * width * width / 4.0
    open_ = np.flatnonzero(~narrow & (shapely.area(bodies) <= most))
    # Nor is one narrow that a disc about its centroid fits in.
    middle = shapely.centroid(bodies[open_])
    clear = shapely.distance(shapely.boundary(bodies[open_]), middle) >= width / 2.0
    for one in open_[~(clear & shapely.contains(bodies[open_], middle))]:
        narrow[one] = shapely.is_empty(buffered(bodies[one], -width / 2.0))
    return narrow


def narrow_holes(region: Region, width: float) -> Bools:
    """Erosion that leaves nothing: which loops (m,) are holes no disc of `width` mm fits in."""
    hole = np.ones(region.loop_count, bool)
    hole[region.polygon_offsets[:-1]] = False
    narrow = np.zeros(region.loop_count, bool)
    narrow[hole] = _narrow(_as_polygons(region, hole), width)
    return narrow


def _as_polygons(region: Region, chosen: Bools) -> np.ndarray:
    """Chosen loops (m,), each as a GEOS polygon of its own; empty where it flattens to two places."""
    flat = region.flat
    ring, _ = bezier.expand(np.diff(flat.ring_offsets))
    there = chosen & (np.diff(flat.ring_offsets) > 2)
    bodies = np.full(region.loop_count, shapely.Polygon())
    rings = shapely.linearrings(flat.xy[there[ring]], indices=(np.cumsum(there) - 1)[ring[there[ring]]])
    bodies[there] = shapely.polygons(rings)
    return np.asarray(bodies[chosen])


def drop_slivers(region: Region, width: float = TOLERANCE) -> Region:
    """The region without loops nowhere as wide as `width` mm: chords cannot tell them from rounding.

    Where two outlines nearly coincide, what one leaves of the other is slivers a few thousandths wide;
    a cutter would run along both sides of them.
    """
    if region.is_empty:
        return region
    flat = region.flat
    ring, _ = bezier.expand(np.diff(flat.ring_offsets))
    around = np.bincount(ring, bezier.length(flat.end - flat.xy), minlength=region.loop_count)
    # What flattens to a place or two has nothing round it.
    wide = (2.0 * np.abs(loop_areas(region)) > width * around) & (np.diff(flat.ring_offsets) > 2)
    slim = ~wide
    if slim.any():
        # Thin on the whole may still be a long tail and a bulb.
        left = shapely.buffer(_as_polygons(region, slim), -width / 2.0, quad_segs=2)
        wide[slim] = ~shapely.is_empty(left)
    polygon, _ = bezier.expand(np.diff(region.polygon_offsets))
    return region.select_loops(wide & wide[region.polygon_offsets[:-1]][polygon])


def drop_bits(region: Region, bits: float, holes: float = 0.0) -> tuple[Region, list[Removed]]:
    """The region without pieces narrower than `bits` mm and with holes narrower than `holes` mm filled.

    What stays keeps its outlines bit for bit. Doing it again changes nothing.

    Returns:
        The region, and what was taken away, smallest first.
    """
    if region.is_empty:
        return region, []
    removed: list[Removed] = []
    if bits > 0.0:
        gone = narrow_pieces(region, bits)
        boxes = shapely.bounds(region.flat.polygon_array()[gone])
        areas = piece_areas(region)[gone]
        removed += [Removed("bit", as_box(b), float(a)) for b, a in zip(boxes, areas, strict=True)]
        region = region.select_polygons(~gone)
    if holes > 0.0 and not region.is_empty:
        # What stands in a hole has dropped out of sight of this test only if it was no bit itself.
        gone = narrow_holes(region, holes) & ~_occupied(region)
        areas = -loop_areas(region)[gone]
        for loop, size in zip(np.flatnonzero(gone), areas, strict=True):
            ring = region.flat.xy[region.flat.ring_offsets[loop] : region.flat.ring_offsets[loop + 1]]
            removed.append(
                Removed("hole", as_box(np.hstack([ring.min(axis=0), ring.max(axis=0)])), float(size))
            )
        region = region.select_loops(~gone)
    return region, sorted(removed, key=lambda one: (one.area, one.place))


def _occupied(region: Region) -> Bools:
    """Which loops (m,) have another piece standing inside them; filling those would swallow it."""
    bodies = _as_polygons(region, np.ones(region.loop_count, bool))
    polygon, _ = bezier.expand(np.diff(region.polygon_offsets))
    inner, outer = shapely.STRtree(bodies).query(bodies[region.polygon_offsets[:-1]], predicate="within")
    busy = np.zeros(region.loop_count, bool)
    busy[outer[polygon[outer] != inner]] = True
    return busy


def as_box(row: Floats) -> Box:
    a, b, c, d = (float(x) for x in row)
    return a, b, c, d
