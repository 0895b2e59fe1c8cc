"""Strands and gaps of known widths, and no false alarms."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from perigram.core.geometry import cut_away, thin, weld
from perigram.core.geometry.bits import crowded
from perigram.core.geometry.pen import RegionPen
from perigram.core.geometry.region import Region
from perigram.core.geometry.restore import region_of
from perigram.core.geometry.thin import gaps, strands, strands_looked_for

from .material import EVERY, HEAVY, box, disc, fine, polygon, row


def test_a_dumbbell_has_one_strand_of_the_bars_width() -> None:
    dumbbell = weld([disc(0, 0, 4), box(0, -0.2, 20, 0.4), disc(20, 0, 4)])
    (bar,) = strands(dumbbell, 1.0)
    assert bar.width == pytest.approx(0.4, abs=1e-6)
    assert bar.place == pytest.approx((4, -0.2, 16, 0.2), abs=0.5)
    assert strands(dumbbell, 0.39) == []


def test_every_tooth_of_a_comb_and_every_gap() -> None:
    comb = weld([box(0, 0, 20, 3), *(box(2 * i, 3, 0.3 + 0.1 * i, 8) for i in range(6))])
    assert [s.width for s in strands(comb, 0.85)] == pytest.approx([0.3, 0.4, 0.5, 0.6, 0.7, 0.8])
    assert [g.width for g in gaps(comb, 1.75)] == pytest.approx([1.3, 1.4, 1.5, 1.6, 1.7])


@pytest.mark.parametrize("neck", [0.05, 0.3, 0.9])
def test_a_neck_between_two_bites_and_a_gap_between_two_discs(neck: float) -> None:
    """Closed form: two circles bite a box so that the neck is what their radii leave."""
    r = 5 - neck / 2
    bitten = cut_away(box(0, -10, 10, 20), weld([disc(0, 0, r), disc(10, 0, r)]))
    found = strands(bitten, 1.0)
    assert found[0].width == pytest.approx(neck, abs=1e-4)
    assert np.mean(found[0].ends, axis=0) == pytest.approx([5, 0], abs=1e-3)
    (gap,) = gaps(weld([disc(0, 0, 5), disc(10 + neck, 0, 5)]), 1.0)
    assert gap.width == pytest.approx(neck, abs=1e-4)


def test_a_wall_of_bricks_close_together_is_looked_at_for_the_width_that_was_asked() -> None:
    """Their sides are near each other, across what is no part of them."""
    column, row = (place.ravel() for place in np.meshgrid(np.arange(60), np.arange(60)))
    corners = np.array([[0, 0], [40, 0], [40, 20], [0, 20]], float)
    xy = corners + np.stack([40.1 * column, 20.1 * row], axis=1)[:, None]
    wall = Region.from_rings(xy.reshape(-1, 2), np.arange(3601) * 4, np.arange(3601))
    assert strands_looked_for(wall, 0.5) == ([], 0.5)
    notch = polygon((1220, 602), (1223, 602), (1223, 622.7), (1220, 622.7))
    (neck,), looked = strands_looked_for(cut_away(wall, notch), 0.5)
    assert (neck.width, looked) == (pytest.approx(0.3), 0.5)


def test_a_neck_between_two_sharp_notches() -> None:
    hourglass = polygon((0, 0), (4, 4.8), (8, 0), (8, 10), (4, 5.2), (0, 10))
    (neck,) = strands(hourglass, 1.0)
    assert neck.width == pytest.approx(0.4, abs=1e-9)
    assert sorted(neck.ends) == [(4.0, pytest.approx(4.8)), (4.0, pytest.approx(5.2))]


@pytest.mark.parametrize("degrees", [-80, -45, -10, 0, 25, 60, 85])
def test_a_neck_between_the_tip_of_a_slit_and_a_wall_anywhere_before_it(degrees: float) -> None:
    slit, wall = polygon((-6, -0.25), (0, 0), (-6, 0.25)), box(0.3, -1, 1, 2).rotated(degrees, 0.0, 0.0)
    (neck,) = strands(cut_away(box(-20, -20, 40, 40), weld([slit, wall])), 0.5)
    assert neck.width == pytest.approx(0.3, abs=1e-3)
    ends = np.sort(np.hypot(*np.array(neck.ends).T))
    assert ends == pytest.approx([0.0, 0.3], abs=1e-3)


@pytest.mark.parametrize("angle", [20, 45, 90, 120])
def test_corners_are_no_strands_whatever_their_angle(angle: float) -> None:
    half = np.radians(angle / 2)
    wedge = polygon((0, 0), (30 * np.cos(half), 30 * np.sin(half)), (30 * np.cos(half), -30 * np.sin(half)))
    assert strands(wedge, 2.0) == []
    assert gaps(cut_away(box(-5, -40, 40, 80), wedge), 2.0) == []
    assert strands(box(0, 0, 5, 5), 2.0) == strands(disc(0, 0, 1.1), 2.0) == []


@pytest.mark.parametrize("font", HEAVY)
def test_stems_of_heavy_letters_have_the_width_a_ruler_measures(font: str) -> None:
    """The stem of an upright I, cut across at half height, against the strand found there."""
    letter = row(font, "I", 4)
    y = np.mean(shapely.bounds(fine(letter))[[1, 3]])
    across = shapely.intersection(fine(letter), shapely.linestrings([[-50, y], [50, y]]))
    if across.geom_type != "LineString":
        pytest.skip("this font's I has an open middle")
    found = strands(letter, across.length * 1.2)
    assert any(s.width <= across.length + 1e-3 for s in found)
    assert all(s.width < across.length * 1.2 for s in found)


@given(st.sampled_from(EVERY), st.floats(0.2, 1.5), st.floats(0, 360), st.booleans())
def test_widths_are_real_and_do_not_depend_on_how_the_letters_lie(
    font: str, below: float, turn: float, flip: bool
) -> None:
    words = row(font, "Rg&8", 40)
    found = strands(words, below)
    outline, body = shapely.boundary(fine(words)), shapely.buffer(fine(words), 0.006)
    for one in found:
        assert one.width < below
        chord = shapely.linestrings(one.ends)
        assert chord.length == pytest.approx(one.width, abs=1e-9)
        assert body.contains(chord)
        assert shapely.distance(outline, shapely.points(one.ends)).max() < 0.006
    moved = (words.scaled(-1, 1) if flip else words).rotated(turn).translated(7, -3)
    again = strands(moved, below)
    if found and found[0].width < 0.95 * below:
        assert again[0].width == pytest.approx(found[0].width, abs=0.02)


def test_a_hair_is_found_on_outlines_far_too_long_to_be_cut_into_its_lengths() -> None:
    """Twenty metres of outline, looked at for what is thinner than 0.01 mm: two million lengths of that."""
    plate = box(0, 0, 3000, 2000)
    # A hole that comes within 0.008 mm of the plate's edge over 5 mm, and a slit 0.006 mm wide.
    neck = [(1502.5, 1900), (1502.5, 1999.992), (1497.5, 1999.992), (1497.5, 1900)]
    hole = polygon((100, 100), (2900, 100), (2900, 1900), *neck, (100, 1900))
    holed = cut_away(plate, hole)
    (strand,) = strands(holed, 0.01)
    assert strand.width == pytest.approx(0.008, abs=1e-6)
    assert strand.place[1] == pytest.approx(1999.992, abs=1e-3)
    assert gaps(holed, 0.01) == []
    slit = cut_away(plate, box(1000, 500, 0.006, 40))
    (gap,) = gaps(slit, 0.01)
    assert gap.width == pytest.approx(0.006, abs=1e-6)


def test_what_is_found_does_not_depend_on_how_long_edges_are() -> None:
    """Long edges are looked at only where others come near them, many short ones all along."""
    tooth, bar = box(0, 0, 0.4, 90), box(0, 0, 900, 10)
    comb = weld([bar, *[tooth.translated(30.0 + 0.9 * k * k, 5.0) for k in range(12)]])
    flat = comb.flat
    short = shapely.segmentize(comb.multipolygon, 0.5)
    for below in (0.45, 0.95, 3.0):
        for look in (strands, gaps):
            long_edges, short_edges = (look(one, below) for one in (comb, region_of(short)))
            assert len(long_edges) == len(short_edges)
            assert [one.width for one in long_edges] == pytest.approx([one.width for one in short_edges])
    assert len(flat.xy) < 60
    assert len(strands(comb, 0.45)) == 12


@pytest.mark.parametrize("scallops", [20, 3600])
def test_a_strip_between_scallops_is_as_thin_as_its_curves_come_near(scallops: int) -> None:
    """Of the longer one, with more than 20,000 places, only some are moved along the curves."""
    pen = RegionPen()
    pen.move_to((0.0, 0.08))
    for x in range(scallops):
        pen.cubic_to((x + 0.3, 0.03), (x + 0.7, 0.05), (x + 1.0, 0.08))
    pen.line_to((scallops, -0.08))
    for x in range(scallops, 0, -1):
        pen.cubic_to((x - 0.3, -0.05), (x - 0.7, -0.03), (x - 1.0, -0.08))
    t = np.linspace(0.0, 1.0, 100_001)
    height = 0.08 * ((1 - t) ** 3 + t**3) + 3 * (1 - t) * t * (0.03 * (1 - t) + 0.05 * t)
    (strip,) = strands(pen.region(), 0.2)
    assert strip.width == pytest.approx(2.0 * height.min(), abs=1e-6)
    assert strip.place[2] - strip.place[0] > scallops - 0.2


def test_places_of_a_crowd_are_grouped_as_the_few_are() -> None:
    """A letter of a mm repeated all over itself: all pairs of places took 3 GB."""
    rng = np.random.default_rng(3)
    middles = np.array([(0.0, 0.0), (0.9, 0.0), (7.0, 3.0), (20.0, 0.0)])
    crowd = (middles[:, None] + rng.uniform(-0.3, 0.3, (4, 3000, 2))).reshape(-1, 2)
    few = crowd[::100]
    for points in (few, crowd):
        group = thin._grouped(points, 1.0).reshape(4, -1)
        assert (group == group[:, :1]).all()
        assert group[0, 0] == group[1, 0]
        assert len({*group[1:, 0].tolist()}) == 3


def test_long_edges_are_cut_into_bits_only_where_another_is_near() -> None:
    """Sixty bars a metre long, each with a notch that leaves 0.03 mm: three million bits once, and of a frame
    of 60 m the memory was full.
    """
    notched = polygon((0, 0), (1000, 0), (1000, 10), (502, 10), (501, 0.03), (499, 0.03), (498, 10), (0, 10))
    bars = Region.joined(notched.translated(0, 20 * k) for k in range(60))
    flat = bars.flat
    facing = np.zeros_like(flat.xy)
    bits, below = crowded(flat.xy, flat.end, facing, 0.04)
    assert below == 0.04
    assert len(bits.start) < 20_000
    found = strands(bars, 0.04)
    assert [thin.width for thin in found] == pytest.approx([0.03] * 60)
