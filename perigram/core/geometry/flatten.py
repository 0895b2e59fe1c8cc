"""Curves into vertices that remember where they come from."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
import shapely

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats, Ints

if TYPE_CHECKING:
    from perigram.core.geometry.region import Region


@dataclass(frozen=True, eq=False)
class Flat:
    """A region as closed rings of vertices, each edge knowing its curve and parameters.

    Attributes:
        xy: (v, 2) vertices, the closing one of each ring not repeated.
        segment: (v,) the region's segment that the edge starting here lies on.
        t: (v, 2) parameters of that edge's ends on the segment's curve.
        following: (v,) the vertex at the edge's other end.
        rings: offsets of rings (the region's loops) in the vertices.
        polygons: offsets of polygons in the rings.
    """

    xy: Floats
    segment: Ints
    t: Floats
    following: Ints
    rings: Ints
    polygons: Ints

    def closed(self) -> tuple[Floats, Ints]:
        """Vertices with each ring's first repeated at its end, and the offsets to match."""
        return close_rings(self.xy, self.rings)

    def polygon_array(self) -> np.ndarray:
        """One GEOS polygon for each polygon of the region."""
        coordinates, rings = self.closed()
        polygons = shapely.from_ragged_array(
            shapely.GeometryType.POLYGON, coordinates, (rings, self.polygons)
        )
        return np.asarray(polygons)

    def multipolygon(self) -> shapely.MultiPolygon:
        coordinates, rings = self.closed()
        offsets = (rings, self.polygons, np.array([0, len(self.polygons) - 1]))
        return shapely.from_ragged_array(shapely.GeometryType.MULTIPOLYGON, coordinates, offsets)[0]


def close_rings(xy: Floats, rings: Ints) -> tuple[Floats, Ints]:
    """Repeat every ring's first vertex at its end."""
    closed = np.insert(xy, rings[1:], xy[rings[:-1]], axis=0)
    return closed, rings + np.arange(len(rings))


def flatten(region: Region, tolerance: float) -> Flat:
    """Replace curves by chords no farther than `tolerance` mm from them.

    A curve is stepped on a grid that depends on the whole curve alone, so any two segments on the
    same curve share the vertices of the stretch they share.
    """
    steps = bezier.steps_for(region.curves, tolerance)
    steps[~region.curved] = 1
    n = steps[region.curve]
    low, high = region.span.min(axis=1), region.span.max(axis=1)
    # Grid points strictly inside the span; a billionth of a step apart counts as the same point.
    first = np.floor(low * n + 1e-9).astype(np.intp) + 1
    last = np.ceil(high * n - 1e-9).astype(np.intp) - 1
    inner = np.maximum(0, last - first + 1)
    segment, place = bezier.expand(inner + 1)
    backwards = region.span[:, 0] > region.span[:, 1]
    grid = np.where(backwards[segment], last[segment] - place + 1, first[segment] + place - 1)
    t_start = grid / n[segment]
    is_node = place == 0
    t_start[is_node] = region.span[:, 0]
    t_end = np.empty_like(t_start)
    t_end[:-1] = t_start[1:]
    last_of_segment = np.cumsum(inner + 1) - 1
    t_end[last_of_segment] = region.span[:, 1]

    xy = np.empty((len(segment), 2))
    xy[is_node] = region.start
    between = ~is_node
    # Adding zero turns -0.0 into 0.0, so that equal coordinates have equal bits.
    xy[between] = bezier.evaluate(region.curves[region.curve[segment[between]]], t_start[between])
    xy += 0.0
    starts = np.concatenate([[0], np.cumsum(inner + 1)])
    rings = starts[region.loops]
    following = np.arange(1, len(xy) + 1)
    following[rings[1:] - 1] = rings[:-1]
    return Flat(xy, segment, np.stack([t_start, t_end], axis=1), following, rings, region.polygons)


def edge_runs(
    xy: Floats, rings: Ints, edges: Bools, forks: Bools | None = None, closed: bool = False
) -> np.ndarray:
    """The marked edges of rings as GEOS lines, consecutive ones as one line.

    Args:
        xy: (v, 2) vertices of the rings.
        rings: offsets of rings in the vertices.
        edges: (v,) which edges count; that of a vertex leads to the next.
        forks: (v,) vertices that lines end at.
        closed: whether each ring's first vertex is repeated at its end already.
    """
    if not closed:
        xy, rings, edges = *close_rings(xy, rings), np.insert(edges, rings[1:], False)
    edge = np.flatnonzero(edges)
    breaks = np.diff(edge, prepend=-2) != 1
    if forks is not None:
        breaks |= forks[edge]
    first = np.flatnonzero(breaks)
    line, place = bezier.expand(np.diff(np.append(first, len(edge))) + 1)
    return np.asarray(shapely.linestrings(xy[edge[first][line] + place], indices=line))


def boxes_of(low: Floats, high: Floats) -> np.ndarray:
    """Boxes to be searched in a tree, as the lines across them: made in half the time."""
    ends = np.stack([low, high], axis=1).reshape(-1, 2)
    made = shapely.from_ragged_array(shapely.GeometryType.LINESTRING, ends, (np.arange(0, len(ends) + 1, 2),))
    return np.asarray(made)
