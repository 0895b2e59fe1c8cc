"""Help with weeding: what is hard to lift, and straight cuts that take large waste apart."""

from __future__ import annotations

import numpy as np
import shapely

from perigram.core.geometry import bezier, measure
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.region import Region

#: Pieces under this many mm are hard to weed around (common practice).
SMALL = 5.0
#: Lines through waste keep this many mm away from what is kept, and are at least so long.
_CLEAR = 1.0
_SHORTEST = 5.0


def small_places(region: Region, most: int = 500) -> list[measure.Box]:
    """The boxes of outlines that are hard to weed: small pieces to keep and small holes to lift out."""
    if region.is_empty:
        return []
    low, high = bezier.boxes(region.curves[region.curve])
    low = np.minimum.reduceat(low, region.loop_offsets[:-1], axis=0)
    high = np.maximum.reduceat(high, region.loop_offsets[:-1], axis=0)
    narrow = np.flatnonzero((high - low).max(axis=1) < SMALL)[:most]
    return [
        (float(x0), float(y0), float(x1), float(y1))
        for (x0, y0), (x1, y1) in zip(low[narrow], high[narrow], strict=True)
    ]


def lines_through(width: float, height: float, kept: Region, apart: float) -> Floats:
    """Level lines (n, 2, 2) through the waste of a box whose top left corner is at 0, 0.

    They part the box evenly, at most `apart` mm from each other, and break off before what is kept.
    """
    count = int(np.ceil(height / apart - 1e-9)) - 1
    if count < 1:
        return np.zeros((0, 2, 2))
    levels = height * np.arange(1, count + 1) / (count + 1)
    ends = np.stack([np.column_stack([np.full(count, x), levels]) for x in (0.0, width)], axis=1)
    around = shapely.buffer(kept.multipolygon, _CLEAR, quad_segs=4)
    parts = shapely.get_parts(shapely.difference(shapely.linestrings(ends), around))
    parts = parts[shapely.length(parts) >= _SHORTEST]
    return np.asarray(np.round(shapely.get_coordinates(parts).reshape(-1, 2, 2), 4))
