"""A design larger than its sheets taken apart: where its seams lie, and the box of each part."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from perigram.core.geometry import measure
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.region import Region

#: Places tried for each seam.
_TRIED = 60
#: Crossing one more outline counts as much as crossing so many mm of material.
_CROSSING = 2.0


@dataclass(frozen=True)
class Part:
    """A part of a design: its box, and which of its sides (left, top, right, bottom) are seams."""

    box: measure.Box
    seams: tuple[bool, bool, bool, bool]
    name: str


def parts_of(
    box: measure.Box, largest: tuple[float, float], regions: Sequence[Region], step: float
) -> list[Part]:
    """The parts of a design, row by row, none larger than what fits, as few as can be each way.

    Args:
        box: around the design.
        largest: how wide and how high in mm a part may be.
        regions: what lies in the design; seams go where they cross the least of it.
        step: places of seams are multiples of so many mm.
    """
    x0, y0, x1, y1 = box
    across = [x0, *_seams(x0, x1, largest[0], regions, 0, step), x1]
    down = [y0, *_seams(y0, y1, largest[1], regions, 1, step), y1]
    many = len(across) > 2, len(down) > 2
    parts = []
    for row, (top, bottom) in enumerate(zip(down[:-1], down[1:], strict=True)):
        for column, (left, right) in enumerate(zip(across[:-1], across[1:], strict=True)):
            seams = column > 0, row > 0, column < len(across) - 2, row < len(down) - 2
            said = [f"row {row + 1}"] if many[1] else []
            said += [f"column {column + 1}"] if many[0] else []
            parts.append(Part((left, top, right, bottom), seams, " ".join(said)))
    return parts


def _seams(
    low: float, high: float, most: float, regions: Sequence[Region], axis: int, step: float
) -> list[float]:
    """Where along an axis a design is parted, each part at most `most` mm."""
    count = int(np.ceil((high - low) / most - 1e-9))
    made: list[float] = []
    at = low
    for left in range(count - 1, 0, -1):
        # As far as this part reaches, and no sooner than the others can hold what is left.
        last, first = at + most, max(at + 0.25 * most, high - left * most)
        places = np.unique(np.round(np.linspace(first, last, _TRIED) / step) * step)
        places = places[(places >= first - 1e-9) & (places <= last + 1e-9)]
        if len(places) == 0:
            places = np.array([last])
        cost = _crossed(regions, places, axis)
        # Of places that cross as little, the one that parts most evenly.
        even = np.abs(places - (at + (high - at) / (left + 1)))
        at = float(places[np.lexsort((even, np.round(cost, 3)))[0]])
        made.append(at)
    return made


def _crossed(regions: Sequence[Region], places: Floats, axis: int) -> Floats:
    """How much a line through each place crosses: mm of material, and outlines."""
    cost = np.zeros(len(places))
    for region in regions:
        box = measure.bounds(region)
        if box is None:
            continue
        ends = np.empty((len(places), 2, 2))
        ends[:, :, axis] = places[:, None]
        ends[:, :, 1 - axis] = (box[1 - axis] - 1.0, box[3 - axis] + 1.0)
        crossed = shapely.intersection(shapely.linestrings(ends), region.multipolygon)
        cost += shapely.length(crossed) + _CROSSING * shapely.get_num_geometries(crossed) * (
            ~shapely.is_empty(crossed)
        )
    return cost
