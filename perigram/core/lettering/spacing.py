"""Letters brought together until a wanted clear gap is left between their outlines."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely

from perigram.core.geometry.bezier import Floats, Ints
from perigram.core.geometry.flat import apart

#: Gaps come out within this many mm of what was asked.
PRECISION = 1e-4
#: Shapes that would pass each other (a comma under an apostrophe) overlap no more than this share.
DEEPEST = 0.6
_ROUNDS = 80


class Contacts:
    """How near the shapes of a row can come to one another, found from what is known already.

    A contact at one gap is as good a place to come in from as far out for every smaller gap.
    """

    def __init__(self, shapes: Sequence[shapely.Geometry]) -> None:
        self._shapes = np.array(shapes, object)
        self._gap, self._contact = np.full((2, len(shapes), len(shapes)), np.nan)

    def between(self, first: Ints, second: Ints, gaps: Floats) -> Floats:
        """(n,) how far each of `second` moves to the right to clear the one of `first` by its gap."""
        clear = np.maximum(gaps, 0.0)
        start = np.where(clear <= self._gap[first, second], self._contact[first, second], np.nan)
        found = slide(self._shapes[first], self._shapes[second], clear, (1.0, 0.0), start)
        new = np.isnan(start)
        self._gap[first[new], second[new]] = clear[new]
        self._contact[first[new], second[new]] = found[new]
        return np.asarray(found + np.minimum(gaps, 0.0))


def slide(
    fixed: np.ndarray,
    moving: np.ndarray,
    gaps: Floats,
    along: tuple[float, float],
    start: Floats | None = None,
) -> Floats:
    """How far to shift each moving shape along a direction so that it clears its fixed shape.

    The shift found is the contact met when coming in from far out along the direction: the smallest
    beyond which no position comes nearer than the gap. A gap below zero goes that much farther in.

    The distance between shapes changes by no more than the shift, so stepping in by the clearance
    left can never pass the contact (sphere tracing; Hart 1996); secant steps hurry it along.

    Args:
        fixed, moving: (n,) GEOS polygons; an empty one on either side gives a shift of NaN.
        gaps: (n,) clear gaps in mm.
        along: unit vector of the shift, (1, 0) or (0, 1).
        start: (n,) shifts beyond which no position comes nearer than the gap, NaN where none is known.

    Returns:
        (n,) shifts in mm, relative to where the shapes are.
    """
    axis = 0 if along[0] else 1
    shift = np.full(len(fixed), np.nan)
    live = np.flatnonzero(~(shapely.is_empty(fixed) | shapely.is_empty(moving)))
    if len(live) == 0:
        return shift
    # Coming from outside, outlines meet before anything else does.
    still, mover = shapely.boundary(fixed[live]), shapely.boundary(moving[live])
    shapely.prepare(still)
    wanted = np.maximum(gaps[live], 0.0)
    still_box, mover_box = shapely.bounds(still), shapely.bounds(mover)
    beside = still_box[:, axis + 2] - mover_box[:, axis]
    widths = np.minimum(*(box[:, axis + 2] - box[:, axis] for box in (still_box, mover_box)))
    deepest = beside - DEEPEST * widths
    at = beside + wanted
    if start is not None:
        at = np.where(np.isnan(start[live]), at, start[live])
    last_at, last_room = np.full((2, len(live)), np.nan)
    active = np.arange(len(live))
    for _ in range(_ROUNDS):
        here = at[active]
        room = apart(still[active], _shifted(mover[active], here, axis)) - wanted[active]
        with np.errstate(invalid="ignore", divide="ignore"):
            slope = (last_room[active] - room) / (last_at[active] - here)
        # Only close to a contact with a gap is it safe to trust the slope: overlap has no depth.
        steep = (slope > 0.2) & (slope < 1.0) & (room < 0.2) & (wanted[active] > 0.0)
        step = np.where(steep, room / np.where(steep, slope, 1.0), room)
        last_at[active], last_room[active] = here, room
        at[active] = np.maximum(here - step, deepest[active])
        active = active[(np.abs(room) > PRECISION / 2) & (at[active] > deepest[active])]
        if len(active) == 0:
            break
    shift[live] = at + np.minimum(gaps[live], 0.0)
    return shift


def _shifted(shapes: np.ndarray, by: Floats, axis: int) -> np.ndarray:
    """Each shape moved by its own amount along one axis."""
    coordinates, owner = shapely.get_coordinates(shapes, return_index=True)
    coordinates[:, axis] += by[owner]
    return np.asarray(shapely.set_coordinates(shapes.copy(), coordinates))
