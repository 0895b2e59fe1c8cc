"""Ready shapes against their equations."""

from __future__ import annotations

import numpy as np
import pytest

from perigram.core.art import shapes
from perigram.core.geometry import bezier
from perigram.core.geometry.measure import area, bounds
from perigram.core.geometry.offset import grow
from perigram.core.geometry.region import Region

from .material import box

#: What every outline promises, in mm.
PROMISED = 0.005


def along(region: Region) -> np.ndarray:
    t = np.tile(np.linspace(0.0, 1.0, 101), region.node_count)
    return bezier.evaluate(np.repeat(region.segments, 101, axis=0), t)


@pytest.mark.parametrize("width", [0.5, 3.0, 20.0, 80.0, 700.0, 3000.0])
@pytest.mark.parametrize("share", [1.0, 0.4, 0.01])
def test_an_oval_follows_its_ellipse_at_every_size(width: float, share: float) -> None:
    a, b = width / 2, max(0.25, width * share / 2)
    oval = shapes.oval(2 * a, 2 * b)
    x, y = along(oval).T
    # To first order, an implicit curve is its value over its gradient away.
    value = (x / a) ** 2 + (y / b) ** 2 - 1.0
    assert (np.abs(value) / (2.0 * np.hypot(x / a**2, y / b**2))).max() < PROMISED
    assert area(oval) == pytest.approx(np.pi * a * b, abs=0.5 * PROMISED * 4 * (a + b))
    assert bounds(oval) == pytest.approx((-a, -b, a, b), abs=1e-9)


@pytest.mark.parametrize("radius", [0.5, 9.9, 10.0, 50.0])
def test_round_corners_of_shapes_and_of_offsets_are_arcs(radius: float) -> None:
    drawn = shapes.rounded_box(300.0, 200.0, radius)
    grown = grow(box(-150 + radius, -100 + radius, 300 - 2 * radius, 200 - 2 * radius), radius)
    for region in (drawn, grown):
        points = np.abs(along(region)) - [150.0 - radius, 100.0 - radius]
        corner = points[(points > 1e-6).all(axis=1)]
        assert len(corner) > 100
        assert np.abs(np.hypot(*corner.T) - radius).max() < PROMISED
        assert bounds(region) == pytest.approx((-150, -100, 150, 100), abs=1e-6)
