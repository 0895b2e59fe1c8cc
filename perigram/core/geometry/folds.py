"""What GEOS is given and gives back, put right where outlines cross themselves or run back."""

from __future__ import annotations

from typing import Any

import numpy as np
import shapely

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.edges import SAME_POINT
from perigram.core.geometry.flat import multipolygon
from perigram.core.geometry.restore import SPECK, rings_of, selected

#: Outlines that turn back by this much less than half a turn, in radians, run back along themselves.
_HAIR = 1e-6
#: What crosses itself may lose or gain so many mm^2 when it is filled.
_FILLED = 1e-3


def filled(body: Any, valid: bool | None = None) -> Any | None:
    """A GEOS body as it is or, where it crosses itself, filled where it winds round forwards more often.

    A buffer by nothing comes to that in a twentieth of the time that noding all edges takes, unless it takes
    a ring to run the other way: where area is lost or gained, there is no answer.
    """
    if shapely.is_valid(body) if valid is None else valid:
        return body
    try:
        made = shapely.buffer(body, 0.0)
    except shapely.GEOSException:
        return None
    return made if abs(float(shapely.area(made)) - float(shapely.area(body))) <= _FILLED else None


def unfolded(outcome: Any) -> Any | None:
    """An outcome without its hairs: where edges should have cancelled, rounding may leave an outline that
    runs back along itself. There is none where it is not valid without them.
    """
    if not _folds_back(outcome):
        return outcome
    xy, rings, polygons = rings_of(outcome, SPECK)
    while len(xy):
        following = np.arange(1, len(xy) + 1)
        following[rings[1:] - 1] = rings[:-1]
        step = xy.take(following, axis=0) - xy
        keep = bezier.farther(step) > SAME_POINT
        keep[following[_back(step, step[following])]] = False
        if keep.all():
            break
        xy, rings, polygons = selected(xy, rings, polygons, keep)
    made = multipolygon(xy, rings, polygons)
    return made if shapely.is_valid(made) else None


def _back(a: Floats, b: Floats) -> Bools:
    """Which steps (n, 2) are followed by one back along themselves."""
    back = np.abs(bezier.cross(a, b)) < _HAIR * bezier.length(a) * bezier.length(b)
    return np.asarray(back & (bezier.dot(a, b) < 0.0))


def _folds_back(outcome: Any) -> bool:
    """Whether an outline runs back along itself; asked of every outcome, it looks closely at few steps."""
    xy, ring = shapely.get_coordinates(shapely.get_rings(shapely.get_parts(outcome)), return_index=True)
    if len(xy) == 0:
        return False
    # The last vertex of a ring is its first: no step leads from it on.
    going = ring[1:] == ring[:-1]
    x, y = (np.diff(column)[going] for column in xy.T)
    first = np.flatnonzero(np.diff(ring[:-1][going], prepend=-1))
    next_x, next_y = (_going_round(column, first) for column in (x, y))
    back = np.flatnonzero(x * next_x + y * next_y < 0.0)
    return bool(_back(np.stack([x, y], axis=1)[back], np.stack([next_x, next_y], axis=1)[back]).any())


def _going_round(values: Floats, first: Ints) -> Floats:
    """For each of some values in rings the one after it; `first` are the rings' first ones."""
    after = np.append(values[1:], 0.0)
    after[np.append(first[1:], len(values)) - 1] = values[first]
    return after
