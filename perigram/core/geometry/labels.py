"""Whether GEOS's overlays have taken every part of two bodies for what it is: inside the other or not.

Outlines that meet another's in vertices alone, a rounding off it, are labelled by where those vertices lie: a
wedge in a notch may be taken for a part of what is round it. Union, difference and intersection then agree
with each other, areas and all, and only looking well inside of the wedge tells.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

import numpy as np
import shapely

from perigram.core.geometry.bezier import Bools
from perigram.core.geometry.flat import prepared

#: Places nearer to an outline than so many mm tell nothing.
_ON = 1e-6
#: From more places than this on an index pays.
_MANY = 150

#: Says of places in the one and in the other body which are in an outcome.
Keeps = Callable[[Bools, Bools], Bools]


def rightly_labelled(one: Any, other: Any, outcomes: Sequence[tuple[Any, Keeps]]) -> bool:
    """Whether a place in every polygon and every hole of two bodies is in outcomes where it should be."""
    places = np.concatenate([_places(one, other), _places(other, one)])
    in_one, in_other = _within(one, places), _within(other, places)
    wrong = np.zeros(len(places), bool)
    for outcome, keeps in outcomes:
        wrong |= _within(outcome, places) != keeps(in_one, in_other)
    return not _tell(places[wrong], [one, other])


def rightly_joined(bodies: np.ndarray, union: Any) -> bool:
    """Whether a place in every polygon and hole of bodies is in their union where it is in any of them."""
    places = shapely.point_on_surface(_faces(bodies))
    inside = np.zeros(len(places), bool)
    inside[shapely.STRtree(places).query(bodies, predicate="contains")[1]] = True
    return not _tell(places[_within(union, places) != inside], bodies)


def _tell(places: np.ndarray, bodies: Sequence[Any] | np.ndarray) -> bool:
    """Whether any of some points lies off all outlines."""
    on = np.zeros(len(places), bool)
    for body in bodies if len(places) else ():
        on |= shapely.distance(shapely.boundary(body), places) < _ON
    return not on.all()


def _places(body: Any, beside: Any) -> np.ndarray:
    """Points well inside each polygon and each hole of a body that may meet what is beside it."""
    faces = _faces(body)
    low, high = np.split(shapely.bounds(faces), 2, axis=1)
    x0, y0, x1, y1 = shapely.bounds(beside)
    near = (low <= [x1, y1]).all(axis=1) & (high >= [x0, y0]).all(axis=1)
    return np.asarray(shapely.point_on_surface(faces[near]))


def _faces(bodies: Any) -> np.ndarray:
    """The polygons of bodies, and their holes as polygons."""
    polygons = shapely.get_parts(bodies)
    rings, owner = shapely.get_rings(polygons, return_index=True)
    return np.concatenate([polygons, shapely.polygons(rings[np.diff(owner, prepend=-1) == 0])])


def _within(body: Any, places: np.ndarray) -> Bools:
    return np.asarray(shapely.contains(prepared(body) if len(places) > _MANY else body, places))
