"""Outlines as vertices that remember which curves they come from."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
import shapely

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats, Ints

#: Pairs that are looked at together.
_AT_ONCE = 2_000_000


@dataclass(frozen=True, eq=False)
class Flat:
    """A region as closed rings of vertices, each edge knowing its curve and parameters.

    Attributes:
        xy: (v, 2) vertices, the closing one of each ring not repeated.
        segment: (v,) the region's segment that the edge starting here lies on.
        t: (v, 2) parameters of that edge's ends on the segment's curve.
        following: (v,) the vertex at the edge's other end.
        ring_offsets: offsets of rings (the region's loops) in the vertices.
        polygon_offsets: offsets of polygons in the rings.
    """

    xy: Floats
    segment: Ints
    t: Floats
    following: Ints
    ring_offsets: Ints
    polygon_offsets: Ints

    @cached_property
    def end(self) -> Floats:
        """(v, 2) where each edge ends."""
        return self.xy.take(self.following, axis=0)

    def closed(self) -> tuple[Floats, Ints]:
        """Vertices with each ring's first repeated at its end, and the offsets to match."""
        return close_rings(self.xy, self.ring_offsets)

    def polygon_array(self) -> np.ndarray:
        """One GEOS polygon for each polygon of the region."""
        coordinates, rings = self.closed()
        polygons = shapely.from_ragged_array(
            shapely.GeometryType.POLYGON, coordinates, (rings, self.polygon_offsets)
        )
        return np.asarray(polygons)

    def multipolygon(self) -> shapely.MultiPolygon:
        return multipolygon(self.xy, self.ring_offsets, self.polygon_offsets)


def multipolygon(xy: Floats, ring_offsets: Ints, polygon_offsets: Ints) -> shapely.MultiPolygon:
    """Rings of vertices (v, 2), none repeated, as one GEOS geometry."""
    coordinates, rings = close_rings(xy, ring_offsets)
    offsets = (rings, polygon_offsets, np.array([0, len(polygon_offsets) - 1]))
    return shapely.from_ragged_array(shapely.GeometryType.MULTIPOLYGON, coordinates, offsets)[0]


def close_rings(xy: Floats, ring_offsets: Ints) -> tuple[Floats, Ints]:
    """Repeat every ring's first vertex at its end."""
    offsets = ring_offsets + np.arange(len(ring_offsets))
    vertex = np.arange(offsets[-1]) - np.repeat(np.arange(len(ring_offsets) - 1), np.diff(offsets))
    vertex[offsets[1:] - 1] = ring_offsets[:-1]
    return xy.take(vertex, axis=0), offsets


def edge_runs(xy: Floats, ring_offsets: Ints, edges: Bools) -> np.ndarray:
    """The marked edges of rings as GEOS lines, consecutive ones as one line.

    Args:
        xy: (v, 2) vertices of the rings.
        ring_offsets: offsets of rings in the vertices.
        edges: (v,) which edges count; that of a vertex leads to the next.
    """
    edges = np.insert(edges, ring_offsets[1:], False)
    xy, ring_offsets = close_rings(xy, ring_offsets)
    edge = np.flatnonzero(edges)
    first = np.flatnonzero(np.diff(edge, prepend=-2) != 1)
    line, place = bezier.expand(np.diff(np.append(first, len(edge))) + 1)
    return np.asarray(shapely.linestrings(xy[edge[first][line] + place], indices=line))


def prepared(geometry: Any) -> Any:
    """A copy of a GEOS geometry, prepared to be asked often.

    What a region keeps may be asked by several threads, and GEOS makes its index at the first question
    without a lock: eight threads that asked one at once ended the process within a minute.
    """
    own = shapely.force_2d(geometry)
    shapely.prepare(own)
    return own


def boxes_of(low: Floats, high: Floats) -> np.ndarray:
    """Boxes to be searched in a tree, as the lines across them: made in half the time."""
    return np.asarray(shapely.linestrings(np.stack([low, high], axis=1)))


def apart(outlines: Any, others: Any) -> Any:
    """How far GEOS lines are from other geometries in mm; sixty times as quick where they are prepared.

    GEOS looks for the shortest line between the two through an index of prepared edges, for the distance
    alone it does not.
    """
    return shapely.length(shapely.shortest_line(outlines, others))


def lots(count: Ints) -> list[Ints]:
    """Which have any pairs, by how many (n,) each has, in lots of about `_AT_ONCE` pairs."""
    some = np.flatnonzero(count)
    if len(some) == 0:
        return []
    lot = np.cumsum(count[some]) // _AT_ONCE
    return np.split(some, np.flatnonzero(np.diff(lot)) + 1)
