"""GEOS's buffer, taken polygon by polygon and in steps where one would tangle.

A buffer of many short edges by a distance much longer than they are has every edge's parallel cross a great
many others, and takes minutes; so has one of edges that lie close together. Several polygons are then taken
each by itself and united: a fraction of the time, where letters are made of thousands of strips. Of a single
one, growing and shrinking add up (a Minkowski sum with a disc of radius a, then of radius b, is one with
a + b), and each step leaves fewer edges than it found: so the first steps are as short as the edges, or as
their parallels are from each other. Of a sieve each hole is taken by itself: a ball that fits beside a hole
fits beside it whatever other holes there are.
"""

from __future__ import annotations

from typing import Any

import numpy as np
import shapely

from perigram.core.geometry.union import united

#: The first step is this many times the mean length of the edges, every other one twice the one before.
_EDGES = 4.0
#: Or as long as leaves about so many pairs of edges that come to cross, spread over the box round them.
_MEETINGS = 10_000.0
#: Of no more vertices than this a polygon is never taken in steps by itself.
_FEW = 500
#: A polygon of as many holes is a sieve.
_SIEVE = 20
#: Outlines are simplified by this share of a step before it is taken.
_SIMPLER = 0.02


def buffered(shapes: Any, distance: float) -> Any:
    """Buffer of GEOS polygons: grown by a distance in mm, or shrunk, round corners; exact to about 2 %."""
    if np.all(shapely.is_empty(shapes)):
        return shapes
    left, step = abs(distance), 0.0
    sparse = _sparse(shapes)
    first = _EDGES * float(np.sum(shapely.length(shapes))) / max(1, _edges(shapes))
    if left <= 4.0 * first and not tangles(shapes, distance):
        return shapely.buffer(shapes, distance)
    parts = shapely.get_parts(shapes)
    if len(parts) > 1:
        return united(buffered_each(parts, distance))
    if shapely.get_num_interior_rings(parts[0]) >= _SIEVE:
        whole, *holes = shapely.polygons(shapely.get_rings(parts[0]))
        less = united(buffered_each(np.array(holes), -distance))
        return shapely.difference(buffered(whole, distance), less)
    first = min(first, sparse)
    while left > 0.0:
        step = max(first, 2.0 * step)
        # What would be left for a last step of its own goes along with this one.
        step = left if left < 1.5 * step else step
        shapes = shapely.simplify(shapes, _SIMPLER * step, preserve_topology=False)
        shapes = shapely.buffer(shapes, np.copysign(step, distance), quad_segs=4)
        left -= step
    return shapes


def tangles(shapes: Any, distance: float) -> bool:
    """Whether parallels of so many edges, a distance in mm off, would cross so often that it takes long."""
    return abs(distance) > 2.0 * _sparse(shapes)


def _sparse(shapes: Any) -> float:
    """How far in mm parallels may lie off edges until some `_MEETINGS` pairs of them cross."""
    x0, y0, x1, y1 = shapely.total_bounds(shapes)
    return float(np.sqrt(_MEETINGS * (x1 - x0) * (y1 - y0))) / (2.0 * max(1, _edges(shapes)))


def _edges(shapes: Any) -> int:
    return int(np.sum(shapely.get_num_coordinates(shapes)))


def buffered_each(shapes: np.ndarray, distance: float) -> np.ndarray:
    """Buffers of GEOS geometries, each by itself as `buffered` has it."""
    made = np.empty(len(shapes), object)
    few = shapely.get_num_coordinates(shapes) <= _FEW
    made[few] = shapely.buffer(shapes[few], distance)
    made[~few] = [buffered(one, distance) for one in shapes[~few]]
    return made
