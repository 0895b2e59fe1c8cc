"""Small pieces laid into the holes of larger ones, before what is left is laid side by side."""

from __future__ import annotations

import time
from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.region import Region
from perigram.core.sheet.sheet import Item, Placed, placing, sides

#: A hole is tried at so many places across and down.
_PLACES = 13


@dataclass(frozen=True, eq=False)
class Bundle:
    """An item with what lies in its holes, laid as one.

    Attributes:
        host: the item's number.
        inside: where others lie in it, from its own top left corner.
        item: all of it together, in the host's box.
    """

    host: int
    inside: tuple[Placed, ...]
    item: Item


def bundled(
    items: Sequence[Item],
    wanted: Sequence[int],
    apart: float,
    turned: bool,
    step: float,
    deadline: float,
) -> tuple[list[Bundle], list[int]]:
    """Items as bundles, and which of those are wanted: the largest first, filled with the largest that go in.

    Args:
        wanted: numbers of items, one for each copy.
        turned: whether things may be turned by quarters.
        step: places are multiples of so many mm.
        deadline: of the monotonic clock; from then on holes stay empty.
    """
    left = Counter(wanted)
    size = {k: float(shapely.area(items[k].work.multipolygon)) for k in left}
    order = sorted(left, key=lambda k: (-size[k], k))
    hulls = {k: _hull(items[k]) for k in left}
    made: dict[tuple[int, tuple[Placed, ...]], int] = {}
    bundles: list[Bundle] = []
    chosen: list[int] = []
    for host in order:
        while left[host] > 0:
            left[host] -= 1
            inside: list[Placed] = []
            for hole in _holes(items[host], apart + step):
                smaller = [k for k in order if left[k] > 0 and size[k] < shapely.area(hole)]
                if time.monotonic() < deadline:
                    inside += _filled(hole, smaller, left, items, hulls, apart, turned, step)
            key = host, tuple(inside)
            if key not in made:
                made[key] = len(bundles)
                bundles.append(Bundle(host, tuple(inside), _together(items, host, inside)))
            chosen.append(made[key])
    return bundles, chosen


def unbundled(one: Placed, bundle: Bundle, items: Sequence[Item]) -> list[Placed]:
    """Where a bundle's items lie once it lies somewhere."""
    host = items[bundle.host]
    laid = [Placed(bundle.host, one.x, one.y, one.quarters)]
    matrix = placing(Placed(bundle.host, one.x, one.y, one.quarters), host)
    for part in bundle.inside:
        corners = np.array([[part.x, part.y], np.add((part.x, part.y), sides(part, items[part.item]))])
        x, y = (corners @ matrix[:, :2].T + matrix[:, 2]).min(axis=0).tolist()
        laid.append(Placed(part.item, round(x, 4), round(y, 4), (part.quarters + one.quarters) % 4))
    return laid


def _together(items: Sequence[Item], host: int, inside: Sequence[Placed]) -> Item:
    if not inside:
        return items[host]
    whole = items[host]
    parts = [(items[one.item], placing(one, items[one.item])) for one in inside]

    def joined(of: Callable[[Item], Region]) -> Region:
        return Region.joined([of(whole), *(of(part).transformed(matrix) for part, matrix in parts)])

    marks, border = joined(lambda one: one.marks), joined(lambda one: one.border)
    return Item(joined(lambda one: one.work), marks, border, whole.width, whole.height)


def _hull(item: Item) -> Floats:
    """(k, 2) the convex hull of all that is cut of an item."""
    cut = Region.joined([item.work, item.marks, item.border])
    return np.asarray(shapely.get_coordinates(shapely.convex_hull(cut.flat.multipolygon()))[:-1])


def _holes(item: Item, off: float) -> list[shapely.Polygon]:
    """What of an item's holes lies so far off its outlines, the largest first."""
    if not item.border.is_empty:
        # Within its border nothing else is laid.
        return []
    rings = [ring for one in item.work.multipolygon.geoms for ring in one.interiors]
    free = shapely.get_parts(shapely.buffer(shapely.polygons(rings), -off)) if rings else []
    return sorted((one for one in free if not one.is_empty), key=lambda one: -one.area)


def _filled(
    hole: shapely.Polygon,
    smaller: Sequence[int],
    left: Counter[int],
    items: Sequence[Item],
    hulls: dict[int, Floats],
    apart: float,
    turned: bool,
    step: float,
) -> list[Placed]:
    """What goes into a hole, each taken off what is left."""
    found: list[Placed] = []
    for k in smaller:
        while left[k] > 0 and not hole.is_empty:
            placed = _place_in(hole, k, items[k], hulls[k], turned, step)
            if placed is None:
                break
            left[k] -= 1
            found.append(placed)
            matrix = placing(placed, items[k])
            taken = shapely.Polygon(hulls[k] @ matrix[:, :2].T + matrix[:, 2])
            hole = shapely.difference(hole, shapely.buffer(taken, apart + step))
    return found


def _place_in(
    hole: shapely.Geometry, k: int, item: Item, hull: Floats, turned: bool, step: float
) -> Placed | None:
    """The topmost place in a hole that takes an item's hull, then the leftmost; None where none was found."""
    x0, y0, x1, y1 = shapely.bounds(hole).tolist()
    shapely.prepare(hole)
    for quarters in (0, 1, 2, 3) if turned else (0,):
        wide, high = sides(Placed(k, 0.0, 0.0, quarters), item)
        if wide > x1 - x0 or high > y1 - y0:
            continue
        matrix = placing(Placed(k, 0.0, 0.0, quarters), item)
        across = np.round(np.linspace(x0, x1 - wide, _PLACES) / step) * step
        down = np.round(np.linspace(y0, y1 - high, _PLACES) / step) * step
        places = np.stack(np.meshgrid(down, across, indexing="ij"), axis=-1).reshape(-1, 2)[:, ::-1]
        bodies = shapely.polygons((hull @ matrix[:, :2].T + matrix[:, 2]) + places[:, None])
        inside = np.flatnonzero(shapely.contains_properly(hole, bodies))
        if len(inside):
            x, y = places[inside[0]].tolist()
            return Placed(k, round(x, 4), round(y, 4), quarters)
    return None
