"""Clean-up: what goes, what is listed, what stays as it was."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from perigram.core.geometry import Region, cut_away, divide, weld
from perigram.core.geometry.clean import drop_bits, drop_slivers
from perigram.core.geometry.finish import finished
from perigram.core.geometry.measure import area

from .material import EVERY, assert_keeps_its_promises, box, disc, fine, polygon, row


def test_a_dumbbell_stays_and_a_strip_goes() -> None:
    """A piece is a bit only if no disc of the width fits anywhere: thin bars between weights do not count."""
    dumbbell = weld([disc(0, 0, 4), box(0, -0.2, 20, 0.4), disc(20, 0, 4)])
    strip = box(40, 0, 10, 0.9)
    wide = box(60, 0, 10, 1.1)
    rest, removed = drop_bits(weld([dumbbell, strip, wide]), 1.0)
    assert rest.piece_count == 2
    assert [(r.what, r.place) for r in removed] == [("bit", pytest.approx((40, 0, 50, 0.9)))]
    assert removed[0].area == pytest.approx(9.0)


def test_wedges_go_by_the_disc_that_fits_in_them() -> None:
    """The inscribed circle of a triangle: r = 2 A / P (Euclid's Elements IV.4)."""
    wedge = polygon((0, 0), (12, 0), (0, 5))
    diameter = 2 * (2 * 30 / (12 + 5 + 13))
    assert drop_bits(wedge, diameter - 0.01)[0] is wedge
    assert drop_bits(wedge, diameter + 0.01)[0].is_empty


def test_narrow_holes_are_filled_but_never_what_stands_in_one() -> None:
    frame = cut_away(cut_away(box(0, 0, 40, 20), box(2, 2, 15, 15)), box(30, 5, 0.8, 10))
    island = disc(9, 9, 3)
    rest, removed = drop_bits(weld([frame, island]), 1.0, holes=20.0)
    assert [r.what for r in removed] == ["hole"]
    assert removed[0].place == pytest.approx((30, 5, 30.8, 15))
    assert rest.piece_count == 2
    assert area(rest) == pytest.approx(area(frame) + area(island) + 8.0)
    assert_keeps_its_promises(rest)


def test_slivers_are_dropped_and_thin_strips_are_not() -> None:
    """Two outlines 0.003 mm apart leave slivers all along; a strip of 0.02 mm is somebody's wish."""
    words = row("pacifico", "Regatta", 150)
    slivers = cut_away(words, words.translated(0.003, 0.001))
    assert slivers.loop_count > 0
    assert drop_slivers(slivers).loop_count < 0.1 * slivers.loop_count
    assert area(drop_slivers(weld([words, slivers]))) == pytest.approx(area(words), abs=0.01)
    strip = box(0, 0, 10, 0.02)
    assert drop_slivers(strip) is strip
    # A bulb at the end of a tail is none, thin as both are on the whole.
    bulb = weld([disc(0, 0, 0.1), box(0, -0.001, 20, 0.002)])
    plate = cut_away(box(-5, -5, 30, 10), bulb)
    assert drop_slivers(bulb, 0.01) is bulb
    assert drop_slivers(plate, 0.01) is plate
    assert area(finished(bulb).region) == pytest.approx(np.pi * 0.1**2, abs=0.002)
    assert area(finished(plate).region) == pytest.approx(300.0 - np.pi * 0.1**2, abs=0.002)


def test_a_loop_that_flattens_to_a_place_or_two_is_a_sliver() -> None:
    """Curves of a few thousandths of a mm, met where a hair was cut off: no polygon to any library."""
    arc = np.array([(0.0, 0.0), (0.0005, 0.0005), (0.001, 0.0005), (0.0015, 0.0)])
    drop = np.array([[(1.0, 1.0), (1.001, 1.001), (0.999, 1.001), (1.0, 1.0)]])
    plate = box(5, 5, 10, 10)
    for curves, places in ((np.array([arc, arc[::-1] * (1.0, -1.0)]), 2), (drop, 1)):
        loop = np.array([0, len(curves)])
        speck = Region.from_loops(curves, np.ones(len(curves), bool), loop, np.array([0, 1]))
        assert len(speck.flat.xy) == places
        left = drop_slivers(Region.joined([speck, plate]), 0.01)
        assert left.loop_count == 1
        assert area(left) == area(plate)


def test_nothing_in_nothing_out() -> None:
    rest, removed = drop_bits(Region.empty(), 1.0, 1.0)
    assert rest.is_empty
    assert removed == []


@given(st.sampled_from(EVERY), st.floats(0, 60), st.floats(0.2, 3.0), st.floats(0.0, 2.0), st.floats(-20, 20))
def test_cleaning_is_idempotent_and_accounts_for_every_bit(
    font: str, x: float, bits: float, holes: float, y: float
) -> None:
    words = row(font, "Rg&8", 60)
    rest, _ = divide(words, weld([disc(x, y, 9), box(x - 20, y - 0.5, 40, 1.2)]))
    cleaned, removed = drop_bits(rest, bits, holes)
    assert_keeps_its_promises(cleaned)
    again, nothing = drop_bits(cleaned, bits, holes)
    assert nothing == []
    assert again.node_count == cleaned.node_count
    change = sum(r.area if r.what == "hole" else -r.area for r in removed)
    assert area(cleaned) - area(rest) == pytest.approx(change, abs=1e-6)
    ours = {s.tobytes() for s in rest.segments}
    assert all(s.tobytes() in ours for s in cleaned.segments), "what stays keeps its outlines"
    if not cleaned.is_empty:
        widths = shapely.buffer(shapely.get_parts(fine(cleaned)), -bits / 2 * 0.99)
        assert not shapely.is_empty(widths).any()
    assert np.isfinite(area(cleaned))
