"""GEOS's union of many polygons, two at a time, each step checked by areas and places well inside.

Its union of all at once can leave out a face without a word where outlines share edges all but exactly: of
1,800 unions of a few strips and the wedges between them 33 were wrong, by up to a third (GEOS 3.14). So can
its union of two, and then agrees with what it finds the two to share: only looking well inside tells.
"""

from __future__ import annotations

from typing import Any

import numpy as np
import shapely
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from perigram.core.geometry.bezier import Ints
from perigram.core.geometry.flat import prepared
from perigram.core.geometry.labels import rightly_joined

#: Areas that should add up may differ by this many mm^2, and by this share: rounding, and crossings moved
#: by a billionth.
ROUNDING, ROUNDING_SHARE = 1e-6, 1e-9
#: From more places than this on an index pays.
_MANY = 100
#: Unions that are wrong are taken again on a grid of so many mm.
_GRID = 1e-7


def united(bodies: np.ndarray) -> Any:
    """The union of GEOS polygons; on a grid where it is not to be had otherwise.

    Raises:
        shapely.GEOSException: where polygons are not valid.
    """
    try:
        made = truly_united(bodies)
    except shapely.GEOSException:
        made = None
    return shapely.union_all(bodies, grid_size=_GRID) if made is None else made


def truly_united(bodies: np.ndarray) -> Any | None:
    """The union of GEOS polygons, vertices where they were; None where it cannot be right.

    Raises:
        shapely.GEOSException: where GEOS finds no answer.
    """
    if len(bodies) == 0:
        return shapely.MultiPolygon()
    mixed = shapely.get_type_id(bodies) == shapely.GeometryType.GEOMETRYCOLLECTION
    if mixed.any():
        bodies = bodies.copy()
        bodies[mixed] = [shapely.multipolygons(_polygons(one)) for one in bodies[mixed]]
    first, second = shapely.STRtree(bodies).query(bodies, predicate="intersects")
    links = coo_array((np.ones(len(first)), (first, second)), shape=(len(bodies),) * 2)
    _, label = connected_components(links, directed=False)
    order = np.argsort(label, kind="stable")
    groups = np.split(order, np.flatnonzero(np.diff(label[order])) + 1)
    polygons, body = shapely.get_parts(bodies, return_index=True)
    places = np.split(shapely.point_on_surface(polygons), np.searchsorted(body, np.arange(1, len(bodies))))
    made = [_by_halves(bodies[group], [places[one] for one in group]) for group in groups]
    if None in made:
        return None
    joined = shapely.multipolygons(np.concatenate([_polygons(one) for one in made]))
    return joined if rightly_joined(bodies, joined) else None


def _by_halves(bodies: np.ndarray, places: list[np.ndarray]) -> Any | None:
    """The union of bodies, in each of which some places are known, which have to be in every union of it."""
    if len(bodies) == 1:
        return bodies[0]
    one, other = (_by_halves(bodies[half], [places[k] for k in half]) for half in _halves(bodies))
    if one is None or other is None:
        return None
    made = shapely.union(one, other)
    if shapely.get_type_id(made) == shapely.GeometryType.GEOMETRYCOLLECTION:
        made = shapely.multipolygons(_polygons(made))
    areas = shapely.area([one, other, made, shapely.intersection(one, other)])
    slack = ROUNDING + ROUNDING_SHARE * areas[2]
    if abs(areas[2] + areas[3] - areas[0] - areas[1]) > slack:
        return None
    asked = np.concatenate(places)
    return made if shapely.intersects(prepared(made) if len(asked) > _MANY else made, asked).all() else None


def _polygons(geometry: Any) -> np.ndarray:
    """The polygons of a geometry, without the lines that two which run along each other may leave."""
    parts = shapely.get_parts(geometry)
    return np.asarray(parts[shapely.get_type_id(parts) == shapely.GeometryType.POLYGON])


def _halves(bodies: np.ndarray) -> tuple[Ints, Ints]:
    """Bodies in two halves along the longer side of the box round them."""
    bounds = shapely.bounds(bodies)
    middles = bounds[:, :2] + bounds[:, 2:]
    order = np.argsort(middles[:, np.ptp(middles, axis=0).argmax()], kind="stable")
    return order[: len(order) // 2], order[len(order) // 2 :]
