"""What keeps pieces apart, and pieces joined where only a gap does."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from scipy.sparse import coo_array
from scipy.sparse.csgraph import minimum_spanning_tree

from perigram.core.geometry.finish import without_hairs
from perigram.core.geometry.measure import Box
from perigram.core.geometry.offset import grow
from perigram.core.geometry.overlay import cut_away, weld
from perigram.core.geometry.region import Region

#: Pieces nearer than this many mm to what fills a gap are joined by it.
_TOUCHING = 0.001
#: More pieces than this are not compared with each other one by one.
MOST_PIECES = 400


@dataclass(frozen=True)
class Apart:
    """The widest gap that has to be closed for all to be one: how wide it is in mm, and where."""

    gap: float
    place: Box


def apart(region: Region) -> Apart | None:
    """What keeps a region from being one piece: the widest gap of the shortest tree that links all pieces.

    None where it is one piece, or of more than `MOST_PIECES`.
    """
    count = region.piece_count
    if not 1 < count <= MOST_PIECES:
        return None
    bodies = region.flat.polygon_array()
    one, other = np.triu_indices(count, 1)
    distance = shapely.distance(bodies[one], bodies[other])
    # A tree of sparse entries leaves out what is nothing: touching pieces are told by the least there is.
    links = coo_array((np.maximum(distance, 1e-9), (one, other)), shape=(count, count))
    tree = minimum_spanning_tree(links.tocsr()).tocoo()
    widest = int(np.argmax(tree.data))
    ends = shapely.shortest_line(bodies[tree.row[widest]], bodies[tree.col[widest]])
    x0, y0, x1, y1 = (float(v) for v in shapely.bounds(ends))
    return Apart(float(tree.data[widest]), (x0, y0, x1, y1))


def close_gaps(region: Region, width: float) -> Region:
    """Closing, but only where it joins pieces: gaps of up to `width` mm between them are filled.

    What is filled is as wide as where a disc of that radius does not fit between the two.
    """
    if region.piece_count < 2 or not width > 0.0:
        return region
    closed = grow(grow(region, width), -width)
    filling = cut_away(closed, region)
    bodies, fills = region.flat.polygon_array(), filling.flat.polygon_array()
    fill, _ = shapely.STRtree(bodies).query(fills, predicate="dwithin", distance=_TOUCHING)
    joins = np.bincount(fill, minlength=len(fills)) > 1
    if not joins.any():
        return region
    return without_hairs(weld([region, filling.select_polygons(joins)]))
