"""Pictures far denser than shows at their size: fewer nodes, the same outlines, by GEOS on finer chords."""

from __future__ import annotations

from functools import cache

import numpy as np
import pytest
import shapely

from perigram.core.art.svg import read_svg
from perigram.core.geometry import Region
from perigram.core.geometry.measure import bounds
from perigram.core.geometry.simplify import WITHIN, simplified

from .judge import CHORD, breaches, chords, crossings, solid
from .sets import drawings

#: Width in mm of each, and the share of its nodes that may stay at most.
DENSE = {
    ("map", "world", 4.0): 0.15,
    ("map", "world", 25.0): 0.5,
    ("flags", "rs", 16.0): 0.4,
    ("flags", "bo", 9.0): 0.35,
}


@cache
def _read(name: str, picture: str) -> Region:
    return read_svg(drawings(name)[picture]).region()


def _as_wide(name: str, picture: str, wide: float) -> Region:
    region = _read(name, picture)
    x0, _, x1, _ = bounds(region) or (0.0, 0.0, 1.0, 1.0)
    return region.scaled(wide / (x1 - x0), wide / (x1 - x0))


def _rings(region: Region, chord: float = CHORD) -> list[np.ndarray]:
    points, starts = chords(region.segments, chord)
    return [ring for ring in np.split(points, starts[region.loop_offsets[1:-1]]) if len(ring) > 2]


@pytest.mark.parametrize("picture", DENSE)
def test_dense_outlines_stay_where_they_were(picture: tuple[str, str, float]) -> None:
    drawn = _as_wide(*picture)
    fewer = simplified(drawn)
    assert fewer.node_count <= DENSE[picture] * drawn.node_count
    assert not crossings(_rings(fewer))
    assert not [one for one in breaches(_rings(fewer)) if "hair" not in one and "slit" not in one]
    before, after = (solid(_rings(one, CHORD / 5.0)) for one in (drawn, fewer))
    near = shapely.buffer(shapely.boundary(before), WITHIN + 2.0 * CHORD / 5.0 + 0.2 * WITHIN)
    strays = shapely.difference(shapely.symmetric_difference(before, after), near)
    assert shapely.area(strays) < 1e-9


def test_what_is_not_dense_stays_as_it_is() -> None:
    for picture in (("map", "world", 900.0), ("twemoji", "1f600", 0.5), ("flags", "bo", 400.0)):
        drawn = _as_wide(*picture)
        assert simplified(drawn) is drawn
