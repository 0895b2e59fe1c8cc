"""A path along the outline of a region, to bend words along."""

from __future__ import annotations

import numpy as np

from perigram.core.errors import GeometryError
from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.measure import bounds, piece_areas
from perigram.core.geometry.offset import FARTHEST, grow
from perigram.core.geometry.overlay import fill_holes
from perigram.core.geometry.region import Region
from perigram.core.warp.path import Path

#: Places that a direction from the middle is looked for among, all along the outline.
_PLACES = 1440


def around(region: Region, away: float, soft: float, inside: bool) -> Path:
    """The outer outline of a region's largest piece, once round: clockwise, or the other way inside.

    Words that stand on it, to its left as it runs, stand outside the region, or within it.

    Args:
        away: how far from the region's own outline it runs, in mm.
        soft: the least radius in mm it turns by, either way (closing and opening by a disc of that radius).

    Raises:
        GeometryError: where nothing is left of the region so far inside.
    """
    way = -1.0 if inside else 1.0
    solid = fill_holes(region)
    for step in (away + soft, -2.0 * soft, soft):
        solid = _moved(solid, way * step)
    if solid.is_empty:
        raise GeometryError("There is no room along the inside of that outline. Take the words closer to it.")
    largest = int(np.argmax(piece_areas(solid)))
    loop = solid.polygon_offsets[largest]
    outline = solid.segments[solid.loop_offsets[loop] : solid.loop_offsets[loop + 1]]
    return Path(outline[::-1, ::-1] if inside else outline)


def _moved(region: Region, distance: float) -> Region:
    """Offset by any distance, in steps no longer than one can be."""
    steps = max(1, int(np.ceil(abs(distance) / FARTHEST)))
    for _ in range(steps):
        region = grow(region, distance / steps)
    return region


def place_at(path: Path, region: Region, angle: float) -> float:
    """How far along a closed path lies what is seen in a direction from the middle of a region's box.

    Args:
        angle: in radians, clockwise from the top.
    """
    box = bounds(region)
    assert box is not None
    s = np.arange(_PLACES + 1) * path.length / _PLACES
    x, y = (path.at(s)[0] - ((box[0] + box[2]) / 2.0, (box[1] + box[3]) / 2.0)).T
    off = np.angle(np.exp(1j * (np.arctan2(x, -y) - angle)))
    # Seen in that direction is what lies between a place to its left and one to its right.
    seen = np.flatnonzero((off[:-1] * off[1:] <= 0.0) & (np.abs(off[:-1] - off[1:]) < np.pi / 2.0))
    if len(seen) == 0:
        return float(s[np.argmin(np.abs(off))])
    # Of several one behind the other the farthest out is meant.
    at = seen[np.argmax(np.hypot(x[seen], y[seen]))]
    share = off[at] / (off[at] - off[at + 1]) if off[at] != off[at + 1] else 0.0
    return float(s[at] + share * (s[at + 1] - s[at]))


def twice_round(path: Path) -> Path:
    """A closed path gone round two times, so that no place on it is near an end."""
    return Path(np.concatenate([path.cubics, path.cubics]))


def sharpest_corner(path: Path) -> float:
    """By how many radians a closed path turns at most where two of its cubics meet."""
    arrive = bezier.derivative(path.cubics, np.full(len(path.cubics), 1.0))
    leave: Floats = np.roll(bezier.derivative(path.cubics, np.zeros(len(path.cubics))), -1, axis=0)
    turn = np.arctan2(bezier.cross(arrive, leave), bezier.dot(arrive, leave))
    return float(np.abs(turn).max())
