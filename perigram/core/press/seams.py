"""Seams: where two plies meet so closely that a little drift in laying them would show what lies below."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np
import shapely

from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.region import Region

#: So many mm a ply may lie off its place (common practice: half a millimetre by hand).
DRIFT = 0.5
#: Seams shorter than this many mm are corners that touch, and nothing to look out for.
_SHORTEST = 5.0
_CHORDS = 0.05


@dataclass(frozen=True, eq=False)
class Seam:
    """Where an upper ply meets a lower one.

    Attributes:
        under, over: their places from the bottom.
        lines: polylines (k, 2) along the lower ply's outline.
        length: of all in mm.
    """

    under: int
    over: int
    lines: tuple[Floats, ...]
    length: float


def seams(plies: Sequence[Region]) -> list[Seam]:
    """Seams of plies from the bottom up that half a millimetre of drift would open.

    A seam is where the outlines of two plies run nearer to each other than the drift, unless a ply below
    both reaches further than that on both sides of it.
    """
    bodies = [region.flattened(_CHORDS).multipolygon() for region in plies]
    bodies = [body if shapely.is_valid(body) else shapely.make_valid(body) for body in bodies]
    edges = shapely.boundary(bodies)
    found = []
    for under, over in combinations(range(len(plies)), 2):
        near = shapely.buffer(edges[over], DRIFT, quad_segs=4)
        open_ = shapely.intersection(edges[under], near)
        if shapely.is_empty(open_):
            continue
        for below in bodies[:under]:
            open_ = shapely.difference(open_, shapely.buffer(below, -DRIFT, quad_segs=4))
        lines = shapely.get_parts(shapely.line_merge(open_)) if not shapely.is_empty(open_) else np.array([])
        long = lines[shapely.length(lines) >= _SHORTEST] if len(lines) else lines
        if len(long):
            strokes = tuple(np.asarray(shapely.get_coordinates(one)) for one in long)
            found.append(Seam(under, over, strokes, float(shapely.length(long).sum())))
    return found
