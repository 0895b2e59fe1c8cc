"""What keeps pieces apart, and pieces joined where only a gap does."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely
from scipy.sparse import coo_array
from scipy.sparse.csgraph import minimum_spanning_tree

from perigram.core.geometry.bezier import Bools
from perigram.core.geometry.buffer import buffered_each
from perigram.core.geometry.finish import without_hairs
from perigram.core.geometry.flat import apart as how_far
from perigram.core.geometry.measure import Box
from perigram.core.geometry.offset import grow
from perigram.core.geometry.overlay import overlap, pieces_outside, weld
from perigram.core.geometry.region import Region
from perigram.core.geometry.restore import region_of
from perigram.core.geometry.union import united

#: Pieces nearer than this many mm to what fills a gap are joined by it.
_TOUCHING = 0.001
#: More pieces than this are not compared with each other one by one.
MOST_PIECES = 400
#: Boxes round gaps reach so many widths beyond them.
_MARGIN = 3.0
#: Of more pairs of pieces than this for each piece all is closed at once,
_PAIRS = 4
#: and where boxes cover more than this share of all.
_MOST = 0.5


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
    # Pieces are as far apart as their outlines are.
    outlines = shapely.boundary(region.flat.polygon_array())
    shapely.prepare(outlines)
    one, other = np.triu_indices(count, 1)
    distance = how_far(outlines[one], outlines[other])
    # A tree of sparse entries leaves out what is nothing: touching pieces are told by the least there is.
    links = coo_array((np.maximum(distance, 1e-9), (one, other)), shape=(count, count))
    tree = minimum_spanning_tree(links.tocsr()).tocoo()
    widest = int(np.argmax(tree.data))
    ends = shapely.shortest_line(outlines[tree.row[widest]], outlines[tree.col[widest]])
    x0, y0, x1, y1 = (float(v) for v in shapely.bounds(ends))
    return Apart(float(tree.data[widest]), (x0, y0, x1, y1))


def close_gaps(region: Region, width: float) -> Region:
    """Closing, but only where it joins pieces: gaps of up to `width` mm between them are filled.

    What is filled is as wide as where a disc of that radius does not fit between the two.
    """
    if region.piece_count < 2 or not width > 0.0:
        return region
    bodies, frame = region.flat.polygon_array(), _between(region, width)
    if frame is None:
        joins = _joints(region, bodies, width)
    else:
        joins = _joints(overlap(region, region_of(frame, region.rough)), bodies, width)
        if shapely.dwithin(shapely.boundary(frame), joins.multipolygon, _MARGIN * width / 2.0):
            # A fill that goes on where no other piece is near: how far, only all of the region tells.
            joins = _joints(region, bodies, width)
    return region if joins.is_empty else without_hairs(weld([region, joins]))


def _joints(region: Region, bodies: np.ndarray, width: float) -> Region:
    """What closing by `width` mm fills that touches more than one of the bodies, GEOS polygons."""

    def joins(fills: np.ndarray) -> Bools:
        # What a tree is asked about is prepared, what is in it is not: bodies have far more edges than fills.
        _, fill = shapely.STRtree(fills).query(bodies, predicate="dwithin", distance=_TOUCHING)
        return np.asarray(np.bincount(fill, minlength=len(fills)) > 1)

    return pieces_outside(grow(grow(region, width), -width), region, joins)


def _between(region: Region, width: float) -> Any | None:
    """Boxes round where pieces are within `width` mm of another, wide enough that their edges do not matter;
    None where that is nearly everywhere.

    Somewhere along what joins two pieces both are as near as that, or the disc would fit in.
    """
    bodies = buffered_each(shapely.make_valid(region.flat.polygon_array()), 1.1 * width)
    one, other = shapely.STRtree(bodies).query(bodies, predicate="intersects")
    one, other = one[one < other], other[one < other]
    if len(one) > _PAIRS * len(bodies):
        return None
    near = shapely.bounds(shapely.intersection(bodies[one], bodies[other]))
    edge = _MARGIN * width
    frame = united(shapely.box(*(near + np.array([-edge, -edge, edge, edge])).T))
    # Laying it over the region takes as long as closing a good part of it.
    return (
        frame
        if shapely.area(frame) < _MOST * shapely.area(shapely.box(*shapely.total_bounds(bodies)))
        else None
    )
