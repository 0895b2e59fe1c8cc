"""Strands cut off, slits closed, nodes made fewer."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from perigram.core.geometry import Region, cut_away, divide, weld
from perigram.core.geometry.bezier import line_controls
from perigram.core.geometry.measure import area
from perigram.core.geometry.tidy import (
    SMOOTHING,
    CannotSmoothError,
    close_slits,
    drop_strands,
    fewer_nodes,
    smooth,
)

from .material import EVERY, SCRIPT, assert_keeps_its_promises, box, disc, farthest_apart, fine, polygon, row


def polylines(region: Region, tolerance: float) -> Region:
    """The region as a tracer would leave it: nothing but short lines."""
    flat = region.flattened(tolerance)
    lines = line_controls(flat.xy, flat.xy[flat.following])
    return Region.from_loops(lines, np.zeros(len(flat.xy), bool), flat.ring_offsets, flat.polygon_offsets)


def apart(a: Region, b: Region) -> float:
    return farthest_apart(fine(a, 0.002), fine(b, 0.002))


def test_a_dumbbells_bar_goes_and_its_weights_stay() -> None:
    weights = [disc(0, 0, 4), disc(20, 0, 4)]
    rest, (bar,) = drop_strands(weld([*weights, box(0, -0.2, 20, 0.4)]), 1.0)
    assert rest.piece_count == 2
    assert bar.what == "strand"
    assert bar.place == pytest.approx((4, -0.2, 16, 0.2), abs=0.05)
    assert area(rest) == pytest.approx(2 * np.pi * 16, abs=0.05)
    assert_keeps_its_promises(rest)


def test_corners_stay_sharp_and_hairs_go() -> None:
    square = box(0, 0, 10, 10)
    assert drop_strands(square, 3.0)[0] is square
    hairy = weld([square, polygon((10, 5), (14, 5.01), (10, 5.02))])
    done = smooth(hairy)
    assert [r.what for r in done.removed] == ["strand"]
    assert done.removed[0].place[2] == pytest.approx(14)
    assert not done.gave_up
    assert area(done.region) == pytest.approx(100, abs=2e-3)


def test_a_slit_is_closed_and_a_wide_cut_is_not() -> None:
    plate = cut_away(box(0, 0, 20, 10), weld([box(2, 5, 9, 0.02), box(14, 2, 1, 6)]))
    closed, removed = close_slits(plate, 0.04)
    assert [r.what for r in removed] == ["slit"]
    assert area(closed) == pytest.approx(200 - 6, abs=2e-3)
    assert close_slits(closed, 0.04) == (closed, [])


@settings(max_examples=25)
@given(st.floats(8.0, 80.0), st.floats(0.1, 0.25), st.floats(0.0, 90.0), st.floats(0.05, 0.2))
def test_tips_end_in_one_arc_and_bays_too(radius: float, moved: float, turned: float, width: float) -> None:
    """Cut off along the very edges of what goes, hairs were left of them, and of each hair a dozen nodes."""
    other = disc(moved * radius, 0, radius).rotated(17.0, 0.0, 0.0)
    crescent = cut_away(disc(0, 0, radius), other).rotated(turned, 1.0, 2.0)
    plate = cut_away(box(-400, -400, 800, 800), crescent)
    for figure, (rest, removed) in (
        (crescent, drop_strands(crescent, width)),
        (plate, close_slits(plate, width)),
    ):
        assert len(removed) == 2
        assert rest.node_count <= figure.node_count + 4 * len(removed)
        assert rest.loop_count == figure.loop_count
        assert_keeps_its_promises(rest)
        changed = shapely.symmetric_difference(fine(figure), fine(rest))
        assert changed.area == pytest.approx(sum(one.area for one in removed), abs=0.01)


@pytest.mark.parametrize("font", EVERY[::2])
def test_traced_letters_come_back_with_few_nodes_near_where_they_were(font: str) -> None:
    words = row(font, "Rg&8", 80)
    traced = polylines(words, 0.005)
    fewer = fewer_nodes(traced)
    assert_keeps_its_promises(fewer)
    assert fewer.node_count <= 1.6 * words.node_count
    assert apart(fewer, traced) <= SMOOTHING + 0.003
    assert fewer_nodes(fewer) is fewer
    x0, y0, x1, y1 = shapely.bounds(fine(words))
    assert shapely.bounds(fine(fewer)) == pytest.approx([x0, y0, x1, y1], abs=SMOOTHING)


def test_corners_and_what_is_smooth_already_keep_their_bits() -> None:
    star = polygon(
        *((10 * (1 + i % 2) * np.cos(i * 0.6283), 10 * (1 + i % 2) * np.sin(i * 0.6283)) for i in range(10))
    )
    assert fewer_nodes(star) is star
    cut = polygon((0, 0), (3, 0), (5, 0), (10, 0), (10, 10), (7, 10), (4, 10), (0, 10))
    merged = fewer_nodes(cut)
    assert merged.node_count == 4
    assert merged.straight.all()
    assert area(merged) == 100


def test_outlines_closer_than_the_tolerance_are_never_made_to_cross() -> None:
    for font in SCRIPT:
        words = polylines(row(font, "Qy&g", 30), 0.01)
        split, _ = divide(words, box(-50, -8, 100, 0.01))
        try:
            assert_keeps_its_promises(fewer_nodes(split, 0.05))
        except CannotSmoothError:
            assert smooth(split, 0.05).gave_up


def test_what_cannot_be_smoothed_within_the_tolerance_stays_and_says_so() -> None:
    """A bump 0.1 mm high between the places a long edge is compared at: fitted, it would be lost."""
    t = np.linspace(0, 60, 601)
    edge = np.stack([t, np.where(np.abs(t - 29.1) < 0.5, 0.1 * np.cos(np.pi * (t - 29.1)) ** 2, 0.0)], axis=1)
    figure = polygon(*map(tuple, np.vstack([edge, [[60, -9], [0, -9]]]).tolist()))
    with pytest.raises(CannotSmoothError, match=r"within 0\.02 mm"):
        fewer_nodes(figure)
    done = smooth(figure)
    assert done.gave_up
    assert done.region.node_count == figure.node_count


@settings(max_examples=12)
@given(st.sampled_from(EVERY), st.floats(0.2, 1.5), st.floats(0, 60), st.floats(-20, 20))
def test_cleaning_is_idempotent_and_takes_only_what_it_lists(
    font: str, width: float, x: float, y: float
) -> None:
    words, _ = divide(row(font, "Rg&8", 60), weld([disc(x, y, 9), box(x - 20, y - 0.5, 40, 1.2)]))
    rest, removed = drop_strands(words, width)
    assert_keeps_its_promises(rest)
    assert area(words) - area(rest) == pytest.approx(sum(r.area for r in removed), abs=0.02)
    assert shapely.difference(fine(rest), fine(words)).area < 0.01
    assert drop_strands(rest, width)[1] == []
    # Where a disc of the width fits, nothing was taken.
    opened = shapely.buffer(shapely.buffer(fine(words), -width / 2 - 0.02), width / 2 - 0.02)
    assert shapely.difference(opened, fine(rest)).area < 0.01
