"""Closed paths laid over each other, whatever they are like: the faces they cut the plane into.

This is the careful way of overlaying. All edges are noded together by snap rounding, which cannot
fail, and each face is judged by how often every set of paths goes round it. It takes about three times as
long as GEOS's own overlay of valid polygons, and takes anything.

Sources: Hobby, Practical segment intersection with finite precision output (1999), for snap rounding;
Hormann and Agathos, The point in polygon problem for arbitrary polygons (2001), for winding numbers.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely
from scipy.sparse import coo_array, csc_array

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.flat import Flat, edge_runs, lots, multipolygon

#: Vertices are rounded to this many mm; it is also how far an edge may be moved to untie a knot.
GRID = 1e-6
_DECIMALS = 6
#: Farther inside a face than this many mm rounding does not matter.
_CLEAR = 10.0 * GRID


def faces_of(flats: Sequence[Flat], edges: Bools | None = None) -> np.ndarray:
    """The faces that closed paths divide the plane into, as GEOS polygons that share their edges exactly.

    Args:
        flats: paths of any kind.
        edges: which edges of a single flat count; all if not given.
    """
    if edges is not None:
        (flat,) = flats
        lines = edge_runs(_rounded(flat.xy), flat.ring_offsets, edges)
    else:
        lines = np.concatenate([_rings(flat) for flat in flats])
    noded = shapely.union_all(lines, grid_size=GRID)
    return np.asarray(shapely.get_parts(shapely.polygonize(shapely.get_parts(noded))))


def places_in(faces: np.ndarray, clear: float = _CLEAR) -> np.ndarray:
    """A point inside each face, `clear` mm from its outline where it is wide enough for that.

    GEOS looks at one height, near the middle. Where a face is pinched there, as two rows of letters that
    touch are, what it finds lies as near the outline as rounding, or on it, and tells nothing of the face.
    """
    points = shapely.point_on_surface(faces)
    near = np.flatnonzero(shapely.dwithin(shapely.boundary(faces), points, clear))
    within = shapely.buffer(faces[near], -clear, quad_segs=1)
    wide = ~shapely.is_empty(within)
    points[near[wide]] = shapely.point_on_surface(within[wide])
    return np.asarray(points)


def _rounded(xy: Floats) -> Floats:
    return np.round(xy, _DECIMALS) + 0.0


def _rings(flat: Flat) -> np.ndarray:
    closed, rings = flat.closed()
    return np.asarray(shapely.from_ragged_array(shapely.GeometryType.LINESTRING, _rounded(closed), (rings,)))


def turns(flat: Flat, points: np.ndarray) -> Ints:
    """How often (k,) the paths go round each of the points, counted with the direction they run in."""
    return np.asarray(windings([flat], points).toarray()[:, 0], np.intp)


def within(flats: Sequence[Flat], points: np.ndarray) -> list[Ints]:
    """Which of the points lie inside each of several regions: for valid ones GEOS tells, else the turns."""
    bodies = np.array(
        [multipolygon(_rounded(flat.xy), flat.ring_offsets, flat.polygon_offsets) for flat in flats], object
    )
    valid = shapely.is_valid(bodies)
    body, point = shapely.STRtree(points).query(bodies[valid], predicate="contains")
    found = iter(np.split(point, np.searchsorted(body, np.arange(1, np.count_nonzero(valid)))))
    return [
        np.sort(next(found)) if sound else np.flatnonzero(turns(flat, points) > 0)
        for flat, sound in zip(flats, valid, strict=True)
    ]


def windings(flats: Sequence[Flat], points: np.ndarray) -> csc_array:
    """How often each of several sets of paths goes round each of the points, as a sparse (k, n) array.

    A ray to the right of each point is followed: edges that cross it upwards count one, downwards minus one.
    """
    shape = (len(points), len(flats))
    start = _rounded(np.concatenate([flat.xy for flat in flats]))
    end = np.concatenate([_rounded(flat.end) for flat in flats])
    owner, _ = bezier.expand(np.array([len(flat.xy) for flat in flats]))
    x, y = shapely.get_x(points), shapely.get_y(points)
    order = np.argsort(y, kind="stable")
    # An edge spans the heights from its lower end, included, to its upper one: few points lie at those.
    low = np.searchsorted(y[order], np.minimum(start[:, 1], end[:, 1]))
    count = np.searchsorted(y[order], np.maximum(start[:, 1], end[:, 1])) - low
    found = [(np.zeros(0, np.intp),) * 3]
    for edges in lots(count):
        edge, place = bezier.expand(count[edges])
        edge = edges[edge]
        which = order[low[edge] + place]
        (ax, ay), (bx, by) = start[edge].T, end[edge].T
        side = (bx - ax) * (y[which] - ay) - (x[which] - ax) * (by - ay)
        up = by > ay
        crossed = np.where(up, side > 0.0, side < 0.0)
        found.append((np.where(up, 1, -1)[crossed], which[crossed], owner[edge[crossed]]))
    signed, point, path = (np.concatenate(column) for column in zip(*found, strict=True))
    # Entries for one place add up.
    return csc_array(coo_array((signed, (point, path)), shape=shape))


def outlined(faces: np.ndarray, flats: Sequence[Flat]) -> shapely.MultiPolygon:
    """What faces of one arrangement cover, with vertices of its paths where they were before rounding."""
    covered = shapely.coverage_union_all(faces) if len(faces) > 1 else faces
    return shapely.multipolygons(_own_bits(shapely.get_parts(covered), flats))


def _own_bits(polygons: np.ndarray, flats: Sequence[Flat]) -> np.ndarray:
    """The polygons with vertices of the paths where they were before they were rounded."""
    if len(polygons) == 0:
        return polygons
    given = np.concatenate([flat.xy for flat in flats])
    keys = bezier.row_hash(_rounded(given))
    order = np.argsort(keys, kind="stable")
    xy = shapely.get_coordinates(polygons)
    place = order[np.minimum(np.searchsorted(keys[order], bezier.row_hash(xy + 0.0)), len(order) - 1)]
    same = (bezier.farther(given[place] - xy) <= GRID) & (keys[place] == bezier.row_hash(xy + 0.0))
    xy[same] = given[place[same]]
    return np.asarray(shapely.set_coordinates(polygons.copy(), xy))
