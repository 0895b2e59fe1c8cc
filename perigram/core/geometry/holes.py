"""Holes set aside while what is round them is worked on elsewhere, and put back.

A net with thousands of holes that something is wrong with in a few places takes as long to mend as those
places do, not as long as the net.
"""

from __future__ import annotations

import numpy as np
import shapely

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools
from perigram.core.geometry.region import Region
from perigram.core.geometry.restore import offsets


def set_aside(region: Region, touched: Bools) -> tuple[Region, Region]:
    """The region with holes filled that are not touched (m,), and those holes, each by itself.

    A hole that another piece stands in must count as touched: filled, it would swallow that.
    """
    free = ~touched
    free[region.polygon_offsets[:-1]] = False
    holes = np.flatnonzero(free)
    return region.select_loops(~free), region.with_loops(holes, np.arange(len(holes) + 1))


def occupied(region: Region) -> Bools:
    """Loops (m,) that another piece may stand in: its outline begins in the box round them."""
    starts = shapely.points(region.start[region.loop_offsets[region.polygon_offsets[:-1]]])
    boxes = shapely.box(*region.loop_boxes().T)
    loop, piece = shapely.STRtree(starts).query(boxes, predicate="intersects")
    own, _ = bezier.expand(np.diff(region.polygon_offsets))
    found = np.zeros(region.loop_count, bool)
    found[loop[own[loop] != piece]] = True
    return found


def put_back(region: Region, holes: Region) -> Region:
    """The region with holes in it that lie clear of its outlines, each in the innermost piece round it."""
    if region.is_empty or holes.is_empty:
        return region
    shells = region.without_holes().flat.polygon_array()
    shell, hole = shapely.STRtree(shapely.points(holes.start[holes.loop_offsets[:-1]])).query(
        shells, predicate="contains"
    )
    largest_first = np.argsort(-shapely.area(shells)[shell], kind="stable")
    of = np.full(holes.loop_count, -1)
    of[hole[largest_first]] = shell[largest_first]
    own, _ = bezier.expand(np.diff(region.polygon_offsets))
    polygon = np.concatenate([own, of])
    order = np.argsort(polygon, kind="stable")
    # What the piece round it is gone of is no hole any more.
    order = order[np.searchsorted(polygon[order], 0) :]
    polygons = offsets(np.bincount(polygon[order], minlength=region.piece_count))
    return Region.joined([region, holes]).with_loops(order, polygons)
