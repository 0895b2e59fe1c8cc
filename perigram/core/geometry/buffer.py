"""GEOS's buffer, taken in steps where one would tangle.

A buffer of many short edges by a distance much longer than they are has every edge's parallel cross a great
many others, and takes minutes. Growing and shrinking add up (a Minkowski sum with a disc of radius a, then of
radius b, is one with a + b), and each step leaves fewer edges than it found: so the first
steps are as short as the edges.
"""

from __future__ import annotations

from typing import Any

import numpy as np
import shapely

#: The first step is this many times the mean length of the edges, every other one twice the one before.
_EDGES = 4.0
#: Outlines are simplified by this share of a step before it is taken.
_SIMPLER = 0.02


def buffered(shapes: Any, distance: float) -> Any:
    """Buffer of GEOS polygons: grown by a distance in mm, or shrunk, round corners; exact to about 2 %."""
    left, step = abs(distance), 0.0
    edges = max(1, int(np.sum(shapely.get_num_coordinates(shapes))))
    first = _EDGES * float(np.sum(shapely.length(shapes))) / edges
    if left <= 4.0 * first:
        return shapely.buffer(shapes, distance)
    while left > 0.0:
        step = max(first, 2.0 * step)
        # What would be left for a last step of its own goes along with this one.
        step = left if left < 1.5 * step else step
        shapes = shapely.simplify(shapes, _SIMPLER * step, preserve_topology=False)
        shapes = shapely.buffer(shapes, np.copysign(step, distance), quad_segs=4)
        left -= step
    return shapes
