"""Plies made fit to be cut, overlays of what is not sound, buffers: against figures and GEOS."""

from __future__ import annotations

import itertools
from dataclasses import replace

import numpy as np
import pyclipr
import pytest
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from perigram.core.errors import GeometryError
from perigram.core.geometry import bezier
from perigram.core.geometry.arrange import GRID
from perigram.core.geometry.buffer import buffered, buffered_each
from perigram.core.geometry.candidates import HALVINGS, PARTS, narrowed, near_pairs, near_parts
from perigram.core.geometry.curls import without_curls
from perigram.core.geometry.finish import APART, DECIMALS, fault, finished, on_grid, without_hairs
from perigram.core.geometry.holes import put_back, set_aside
from perigram.core.geometry.measure import area
from perigram.core.geometry.near import near_segments
from perigram.core.geometry.offset import grow
from perigram.core.geometry.overlay import cut_away, overlap, slice_apart, weld
from perigram.core.geometry.region import Region
from perigram.core.geometry.regularise import regularise_each
from perigram.core.geometry.tips import blunted

from .material import (
    EVERY,
    assert_keeps_its_promises,
    box,
    clipped_area,
    disc,
    fine,
    holds_finely,
    polygon,
    row,
)


def together(*regions: Region) -> Region:
    """Regions side by side as one, though they may touch or cross."""
    return Region.joined(regions)


@pytest.mark.parametrize(
    ("given_", "pieces"),
    [
        ((box(0, 0, 10, 80), box(10, 0, 10, 80)), 1),  # one edge twice
        ((box(0, 0, 10, 80), box(10.004, 0, 10, 80)), 1),  # nearer than can be cut apart
        ((box(0, 0, 10, 80), box(10.0097, 0, 10, 80)), 1),
        ((box(0, 0, 10, 80), box(10.0103, 0, 10, 80)), 2),
        ((box(0, 0, 10, 10), box(10, 10, 10, 10)), 1),  # corner to corner
        ((disc(0, 0, 5), disc(10, 0, 5)), 1),  # tangent
        ((disc(0, 0, 5), disc(9.9995, 0, 5)), 1),  # crossing by less than chords can see
    ],
)
def test_what_touches_is_welded(given_: tuple[Region, ...], pieces: int) -> None:
    done = finished(together(*given_)).region
    assert fault(done) is None
    assert done.piece_count == pieces
    assert area(done) == pytest.approx(sum(map(area, given_)), abs=80 * APART)


def test_a_sieve_mended_in_a_few_places_keeps_its_holes_and_what_stands_in_them() -> None:
    """A hair joins two sieves, another parts two holes of one; in holes stand a ring and a cracked plate."""
    spots = list(itertools.product(np.arange(5.0, 50.0, 5.0), repeat=2))
    left = weld([disc(x, y, 2.0) for x, y in spots if (x, y) != (25.0, 25.0)])
    left = weld([left, box(24, 24, 0.998, 2), box(25.002, 24, 1, 2)])
    right = weld([disc(60 + x, y, 2.0) for x, y in spots])
    sieves = weld([box(0, 0, 50, 50), box(50, 27, 10, 0.006), box(60, 0, 50, 50)])
    sieves = cut_away(cut_away(sieves, left), right)
    ring = cut_away(disc(80, 20, 1.0), disc(80, 20, 0.5))
    cracked = together(box(19, 19.5, 0.998, 1), cut_away(box(20.002, 19.5, 1, 1), disc(20.5, 20, 0.2)))
    made = finished(together(sieves, ring, cracked))
    assert made.mended
    assert fault(made.region) is None
    assert made.region.piece_count == 4
    assert made.region.loop_count == 4 + 81 + 81 + 1 + 1
    given_ = area(sieves) + area(ring) + area(cracked)
    assert area(made.region) == pytest.approx(given_ - 10 * 0.006 - 2 * 0.004 + 0.004, abs=0.02)
    # Each hole is in the piece round it.
    plates = fine(made.region).geoms
    assert sorted(len(plate.interiors) for plate in plates) == [1, 1, 81, 81]


def test_what_stands_in_a_hole_stays_whatever_curve_it_is_a_part_of() -> None:
    """Two plates almost touch; in a hole of one stands a bit of a bar that once reached over both."""
    plates = together(cut_away(box(0, 0, 40, 40), disc(20, 20, 10)), box(40.001, 0, 40, 40))
    bit = overlap(box(-100, 18, 200, 4), disc(20, 20, 8))
    made = without_hairs(together(plates, bit))
    assert made.piece_count == 2
    assert area(made) == pytest.approx(area(plates) + area(bit), abs=0.1)


def test_holes_set_aside_come_back_each_in_the_innermost_piece_round_it() -> None:
    target = together(
        *[cut_away(disc(0, 0, r), disc(0, 0, r - 1.0)) for r in (2.0, 6.0, 4.0)], disc(20, 0, 1)
    )
    filled, holes = set_aside(target, np.zeros(target.loop_count, bool))
    assert filled.loop_count == 4
    back = fine(put_back(filled, holes))
    assert back.is_valid
    assert back.equals_exact(fine(target), 1e-12)


@pytest.mark.parametrize("degrees", [0.0, 7.3, 17.0, 33.1, 61.0, 88.2])
def test_what_lies_just_so_far_apart_is_left_whatever_rounding_does(degrees: float) -> None:
    """A clearance of 0.01 mm is one, all along: it was welded where the file's grid brought sides nearer."""
    plates = [box(0, 60.0 * k, 200, 59.99).rotated(degrees, 10.0, 20.0) for k in range(5)]
    done = finished(together(*plates))
    assert not done.mended
    assert fault(done.region) is None
    assert done.region.piece_count == 5
    assert area(done.region) == pytest.approx(5 * 200 * 59.99, rel=1e-6)


@pytest.mark.parametrize("radius", [0.4, 1.7, 6.0, 23.0, 140.0])
@pytest.mark.parametrize(("gap", "pieces"), [(0.0094, 1), (0.01, 2), (0.0104, 2)])
def test_round_slots_are_welded_all_along_or_left_all_along(radius: float, gap: float, pieces: int) -> None:
    """Chords of its two sides come nearer or less near than they do: it was welded here and there."""
    plate = box(-200, -200, 400, 400)
    # The same curve in other parts, so that chords of the two never run along each other.
    whole = disc(0, 0, radius).segments
    ends = np.array([[0.0, 0.37], [0.37, 1.0]] * len(whole)).T
    parts = bezier.subcurve(np.repeat(whole, 2, axis=0), *ends)
    cut = Region.from_loops(parts, np.ones(len(parts), bool), np.array([0, len(parts)]), np.array([0, 1]))
    done = finished(together(cut_away(plate, disc(0, 0, radius + gap)), cut))
    assert done.mended is (pieces == 1)
    assert (done.region.piece_count, done.region.loop_count) == (pieces, 2 * pieces - 1)


@pytest.mark.parametrize(("gap", "cut"), [(0.0049, False), (0.0051, True)])
def test_the_gate_lets_nothing_through_that_is_nearer_than_half_of_what_is_mended(
    gap: float, cut: bool
) -> None:
    assert (fault(together(box(0, 0, 10, 80), box(10 + gap, 0, 10, 80))) is None) is cut


def test_thin_voids_that_end_in_front_of_each_other_are_filled_and_nothing_is_cut_there() -> None:
    """Two slits that taper to nothing, tip to tip: what is between their tips was bitten out as a speck."""
    plate = box(-40, -10, 80, 20)
    tip = 0.001
    slits = [polygon((way * tip, 0.0), (way * 30.0, -0.02), (way * 30.0, 0.02)) for way in (1, -1)]
    holed = cut_away(cut_away(plate, slits[0]), slits[1])
    done = without_hairs(holed)
    assert done.piece_count == 1
    # What is left of each slit is where it is wider than can be cut apart: no speck between them.
    assert done.loop_count == 3
    holes = shapely.get_parts(shapely.difference(shapely.box(-40, -10, 40, 10), done.multipolygon))
    assert sorted(round(float(abs(shapely.centroid(one).x))) for one in holes) == [21, 21]


#: Ends of outlines, met in foreign designs, that cross within some hundredths of a mm of where they turn.
CURLS = {
    "a curve ends beyond the line it runs back beside": [
        [(269.4359, 207.4194), (268.9843, 207.4065), (268.7551, 207.518), (268.7485, 207.7539)],
        [(268.7485, 207.7539), (268.7418, 207.9897), (268.7698, 208.14), (268.8325, 208.2047)],
        [(268.8325, 208.2047), (268.5825, 207.9144), (268.3325, 207.6241), (268.0825, 207.3338)],
    ],
    "a step of a ten-thousandth lies between": [
        [(20.6274, 17.7048), (20.7039, 17.734), (20.765, 17.7909), (20.8002, 17.8622)],
        [(20.8002, 17.8622), (20.8002, 17.8617), (20.8002, 17.8613), (20.8001, 17.8608)],
        [(20.8001, 17.8608), (20.8092, 18.0241), (20.8539, 18.193), (20.9359, 18.3662)],
    ],
}


def chords(segments: np.ndarray, each: int = 4000) -> np.ndarray:
    """Cubics by de Casteljau, so many chords each."""
    t = np.linspace(0.0, 1.0, each + 1)[None, :-1, None]
    q = [segments[:, None, k] for k in range(4)]
    while len(q) > 1:
        q = [(1.0 - t) * a + t * b for a, b in zip(q[:-1], q[1:], strict=True)]
    return q[0].reshape(-1, 2)


@pytest.mark.parametrize("what", CURLS)
def test_curls_are_cut_off(what: str) -> None:
    ends = np.array(CURLS[what])
    # Closed far away on the side on which nothing crosses.
    turn = ends[-1, 3] - ends[0, 0]
    aside = 3.0 * np.array([-turn[1], turn[0]])
    for way in (aside, -aside):
        corners = [ends[-1, 3], ends[-1, 3] + way, ends[0, 0] + way, ends[0, 0]]
        lines = bezier.line_controls(np.array(corners[:-1]), np.array(corners[1:]))
        segments = np.concatenate([ends, lines])
        curved = np.array([True, True, True, False, False, False])
        whole = Region.from_loops(segments, curved, np.array([0, 6]), np.array([0, 1]))
        if not shapely.LinearRing(chords(segments)).is_simple:
            break
    assert fault(whole) is not None
    done = finished(whole).region
    assert fault(done) is None
    assert shapely.LinearRing(chords(done.segments)).is_simple
    assert abs(area(done)) == pytest.approx(abs(area(whole)), abs=0.01)


def test_the_curl_is_what_encloses_less_even_if_it_is_longer() -> None:
    """Met where a slice left a triangle between two tails: it was cut off, and the tails stayed."""
    tail = [(20.1932, 5.6761), (20.0111, 5.6883), (19.8299, 5.7072), (19.6467, 5.7323)]
    back = [(19.6467, 5.7323), (19.7434, 5.7191), (19.8396, 5.7075), (19.9352, 5.6978)]
    end = [(20.1638, 5.6776), (20.1726, 5.6769), (20.1814, 5.6763), (20.1932, 5.6761)]
    corners = np.array([back[-1], (19.9758, 5.5997), end[0]])
    lines = bezier.line_controls(corners[:-1], corners[1:])
    segments = np.concatenate([[tail, back], lines, [end]])
    curved = np.array([True, True, False, False, True])
    whole = Region.from_loops(segments, curved, np.array([0, 5]), np.array([0, 1]))
    assert fault(whole) is not None
    done = finished(whole).region
    assert fault(done) is None
    triangle = float(shapely.area(shapely.polygons(corners)))
    assert area(done) == pytest.approx(triangle, rel=0.05)


def test_a_curl_that_all_but_crosses_is_cut_off_for_everybodys_chords() -> None:
    """Met in a word 7 mm wide: an outline came within 0.00001 mm of itself, and crossed on coarser chords."""
    ends = [
        [(6.1338, 5.3216), (6.1689, 5.3731), (6.2041, 5.4244), (6.2395, 5.4753)],
        [(6.2395, 5.4753), (6.2393, 5.4818), (6.239, 5.4881), (6.2386, 5.4943)],
        [(6.2386, 5.4943), (6.2416, 5.4951), (6.2446, 5.4959), (6.2475, 5.4967)],
        [(6.2475, 5.4967), (6.2247, 5.4401), (6.2141, 5.3816), (6.2153, 5.3208)],
    ]
    corners = np.array([(6.2153, 5.3208), (6.2153, 5.2), (6.1338, 5.2), (6.1338, 5.3216)])
    segments = np.concatenate([ends, bezier.line_controls(corners[:-1], corners[1:])])
    whole = Region.from_loops(segments, np.arange(7) < 4, np.array([0, 7]), np.array([0, 1]))
    many = range(2, 80)
    assert not all(shapely.LinearRing(chords(segments, count)).is_simple for count in many)
    done = finished(whole).region
    assert all(shapely.LinearRing(chords(done.segments, count)).is_simple for count in many)
    assert abs(area(done)) == pytest.approx(abs(area(whole)), abs=3e-4)


def test_the_gate_knows_corners_as_mending_does() -> None:
    """Met in letters half a mm tall: round the end of a strand 0.005 mm thin is 0.3 mm, or a little less."""
    curves = np.array(
        [
            [(0.2230, 6.7626), (0.2314, 6.7632), (0.2420, 6.7650), (0.2546, 6.7681)],
            [(0.2546, 6.7681), (0.2688, 6.8176), (0.2922, 6.8641), (0.3204, 6.9096)],
            [(0.3204, 6.9096), (0.3601, 6.8916), (0.3991, 6.8737), (0.4375, 6.8559)],
        ]
    )
    corners = np.array([(0.4375, 6.8559), (0.4399, 6.8598), (0.3243, 6.9209), (0.2276, 6.7736), curves[0, 0]])
    segments = np.concatenate([curves, bezier.line_controls(corners[:-1], corners[1:])])
    curved = np.arange(len(segments)) < len(curves)
    whole = Region.from_loops(segments, curved, np.array([0, len(segments)]), np.array([0, 1]))
    done = finished(whole).region
    assert area(done) == pytest.approx(area(whole), abs=0.001)
    assert fault(done) is None


def test_what_lies_beyond_a_neck_is_no_curl() -> None:
    """A void of 0.4 by 0.06 mm beyond a place where rounding has its sides cross: it was filled."""
    low = [(0.0, 0.0), (0.35, 0.0128), (0.3571, 0.0125), (0.9, 0.0)]
    high = [(0.72, 0.23), (0.3571, 0.0122), (0.35, 0.0125), (0.05, 0.06)]
    corners = np.array([*low, *high])
    hole = bezier.line_controls(corners, np.roll(corners, -1, axis=0))
    edge = np.array([(-2.0, -2.0), (3.0, -2.0), (3.0, 2.0), (-2.0, 2.0)])
    frame = bezier.line_controls(edge, np.roll(edge, -1, axis=0))
    body = np.concatenate([frame, hole[::-1, ::-1]])
    whole = Region.from_loops(body, np.zeros(12, bool), np.array([0, 4, 12]), np.array([0, 2]))
    done = finished(whole).region
    assert fault(done) is None
    beyond, rest = (abs(shapely.area(shapely.polygons(part))) for part in (corners[[0, 1, 7]], corners[3:6]))
    assert area(done) == pytest.approx(20.0 - beyond - rest, abs=0.003)


@pytest.mark.parametrize("hole", [False, True])
@pytest.mark.parametrize("lap", [0.0002, 0.002])
def test_a_bay_behind_a_neck_whose_sides_cross_is_no_curl(lap: float, hole: bool) -> None:
    """A void of 0.16 by 0.25 mm, or as much solid in a hole, went with the crossing: found in a backing."""
    bay = np.array([(0.1 + lap / 2.0, -1.8), (0.02, -1.55), (0.18, -1.55), (0.1 - lap / 2.0, -1.8)])
    ring = np.array([(-2, -2), (0, -2), *bay, (0.2, -2), (3, -2), (3, 2), (-2, 2)])
    lines = bezier.line_controls(ring, np.roll(ring, -1, axis=0))
    whole = Region.from_loops(lines, np.zeros(10, bool), np.array([0, 10]), np.array([0, 1]))
    wanted = 20.0 - 0.02 - 0.02
    if hole:
        segments = np.concatenate([box(-4, -4, 9, 8).segments, lines[::-1, ::-1]])
        whole = Region.from_loops(segments, np.zeros(14, bool), np.array([0, 4, 14]), np.array([0, 2]))
        wanted = 72.0 - wanted
    done = finished(whole).region
    assert fault(done) is None
    assert area(done) == pytest.approx(wanted, abs=0.003)


def test_a_corner_that_reaches_through_a_curve_by_less_than_fine_chords_show() -> None:
    """By a hundred-thousandth of a mm, round a lobe so short that its ends are near as corners are, and as
    wide as can be cut: found in a backing.
    """
    nodes = np.array(
        [
            [-0.2122, -2.3299],
            [-0.1275, -2.3511],
            [-0.0055, -2.3934],
            [0.0505, -2.3732],
            [0.0501, -2.3701],
            [-0.0642, -2.3701],
            [-0.1542, -2.2501],
        ]
    )
    segments = bezier.line_controls(nodes, np.roll(nodes, -1, axis=0))
    segments[1, 1:3] = [[-0.085, -2.3617], [-0.0445, -2.3761]]
    segments[2, 1:3] = [[0.0132, -2.3854], [0.0319, -2.3787]]
    curved = np.array([False, True, True, False, False, False, False])
    region = Region.from_loops(segments, curved, np.array([0, 7]), np.array([0, 1]))
    assert holds_finely(region)
    assert not shapely.is_valid(region.flattened(0.00001).multipolygon())
    made = finished(region).region
    assert fault(made) is None
    assert shapely.is_valid(made.flattened(0.00001).multipolygon())
    assert area(made) == pytest.approx(area(region), abs=0.001)


def test_a_curl_that_ends_a_hair_before_a_node() -> None:
    """Edge and share added up are the next edge there, which is none for the last one of a ring."""
    x = float(np.nextafter(1.0, 0.0))
    ring = np.array([(1.0, 0.0), (1.1, 0.1), (x, 0.1), (x, -5.0), (-5.0, -5.0), (-5.0, 0.0), (-1.0, 0.0)])
    ring = np.vstack([ring, [(0.0, 0.0)]])
    for corners in (ring, np.roll(ring, 3, axis=0)):
        segments = bezier.line_controls(corners, np.roll(corners, -1, axis=0))
        loop = np.array([0, len(segments)])
        whole = Region.from_loops(segments, np.zeros(len(segments), bool), loop, np.array([0, 1]))
        done = without_curls(whole)
        assert shapely.LinearRing(chords(done.segments)).is_simple
        assert abs(area(done)) == pytest.approx(30.0, abs=0.01)


def test_a_curve_that_rounding_laid_along_its_chord_does_not_double_back() -> None:
    """Met in a foreign design: two short curves in one line, each beyond where it ends and back again."""
    x, end = -40.4829, (-40.4830, 9.6595)
    legs = [
        (9.6438, 9.6457, 9.6488, 9.6485),
        (9.6485, 9.6482, 9.6551, 9.6548),
        (9.6548, 9.6545, 9.6576, 9.6595),
    ]
    side = [[(x, y) for y in leg] for leg in legs]
    side[-1][-1] = end
    corners = [end, (x - 5.0, 14.0), (x - 5.0, 5.0), side[0][0]]
    lines = bezier.line_controls(np.array(corners[:-1]), np.array(corners[1:]))
    cubics = np.concatenate([np.array(side), lines])
    curved = np.arange(len(cubics)) < len(side)
    region = Region.from_loops(cubics, curved, np.array([0, len(cubics)]), np.array([0, 1]))
    region = region if area(region) > 0.0 else region.reversed()
    done = finished(region).region
    assert fault(done) is None
    assert area(done) == pytest.approx(area(region), abs=1e-4)
    ring = shapely.polygons(chords(done.segments))
    assert shapely.is_valid(ring)


def test_a_tip_whose_sides_are_one_for_long_is_only_cut_short() -> None:
    """Two mirrored curves that leave their tip in one direction: too near to tell for over half a mm."""
    side = np.array([(0.0, 0.0), (10.0, 0.0), (20.0, 0.5), (30.0, 3.0)])
    segments = np.stack([side[::-1], side * [1.0, -1.0]])
    segments = np.concatenate([segments, bezier.line_controls(segments[-1:, 3], segments[:1, 0])])
    tip = Region.from_loops(segments, np.array([True, True, False]), np.array([0, 3]), np.array([0, 1]))
    tip = tip if area(tip) > 0.0 else tip.reversed()
    done = finished(tip).region
    assert fault(done) is None
    assert area(done) == pytest.approx(area(tip), abs=0.02)
    assert done.start[:, 0].min() < 3.0


@given(
    st.floats(-8.0, 8.0),
    st.floats(0.0, 6.28),
    st.floats(0.05, 4.0),
    st.integers(-12, 12),
    st.sampled_from([1.0, 40.0, 400.0]),
)
@settings(max_examples=80)
def test_tips_as_sharp_as_can_be_come_out_simple(
    lean: float, turned: float, long: float, bend: int, size: float
) -> None:
    """A curve and a line that meet within some degrees, in whatever direction, in numbers as written."""
    turn = np.array([[np.cos(turned), np.sin(turned)], [-np.sin(turned), np.cos(turned)]])
    angle = np.radians(lean)
    out = np.array([np.cos(angle), np.sin(angle)])
    tip = np.array([5.0, 0.1])
    curve = np.array([tip - long * out * (3.0 - k) + [0.0, bend * 0.004 * k * (3 - k)] for k in range(4)])
    far = [tip, np.array([-12.0, 0.1]), np.array([-12.0, 9.0]), curve[0] + [0.0, 9.0], curve[0]]
    if curve[0, 1] <= 0.1:
        far = [tip, np.array([-12.0, 0.1]), np.array([-12.0, -9.0]), curve[0] - [0.0, 9.0], curve[0]]
    segments = (
        np.concatenate([curve[None], bezier.line_controls(np.array(far[:-1]), np.array(far[1:]))]) @ turn
    )
    curved = np.array([True, False, False, False, False])
    given_ = Region.from_loops(size * segments, curved, np.array([0, 5]), np.array([0, 1]))
    if area(given_) < 0.0:
        given_ = given_.reversed()
    # As overlays leave them: sound on the chords they look on.
    assume(holds_finely(given_))
    done = finished(given_).region
    assert fault(done) is None
    assert area(done) == pytest.approx(area(given_), rel=1e-4, abs=0.05)
    for loop in done.loop_slices():
        assert shapely.LinearRing(chords(done.segments[loop])).is_simple


@pytest.mark.parametrize("lean", [0.4, 1.5])
def test_a_tip_between_a_curve_and_a_line_ends_in_a_line_across(lean: float) -> None:
    slope = np.tan(np.radians(lean))
    curve = np.array(
        [(0.0, 0.0), (10.0, 10.0 * slope), (20.0, 20.0 * slope + 0.02), (30.0, 30.0 * slope + 2.0)]
    )
    corners = np.array([curve[3], (30.0, 0.0), curve[0]])
    segments = np.concatenate([curve[None], bezier.line_controls(corners[:-1], corners[1:])])
    whole = Region.from_loops(segments, np.array([True, False, False]), np.array([0, 3]), np.array([0, 1]))
    done = blunted(whole)
    across = np.hypot(*(done.end - done.start).T)
    assert done.node_count == 4
    assert 0.0015 < across.min() < 0.006
    assert done.start[:, 0].min() == pytest.approx(0.003 / slope, rel=0.5)
    assert abs(area(done)) == pytest.approx(abs(area(whole)), abs=0.01)
    # What is blunt is left alone.
    assert blunted(done) is done


def test_a_tip_is_cut_off_where_it_is_a_hair_and_no_farther() -> None:
    """A wedge that is a thirtieth as wide as it is long, with nodes just before it is as wide as a hair."""
    node, whole = 0.285, 30.0
    tip = np.array([(0.0, 0.0), (node, node / 60.0), (whole, 0.5), (whole, -0.5), (node, -node / 60.0)])
    segments = bezier.line_controls(tip, np.roll(tip, -1, axis=0))
    wedge = Region.from_loops(segments, np.zeros(5, bool), np.array([0, 5]), np.array([0, 1]))
    done = without_hairs(wedge)
    (left, _, _, _) = shapely.bounds(done.flattened(0.0005).multipolygon())
    assert 30.0 * APART - 0.02 <= left <= 30.0 * APART + 0.03


def test_hairs_are_cut_off_and_corners_stay() -> None:
    hair = polygon((0, 0), (10, 0), (10, 5), (26, 5.001), (26, 5.004), (10, 5.005), (10, 10), (0, 10))
    done = finished(hair)
    assert done.mended
    assert area(done.region) == pytest.approx(100, abs=0.01)
    assert done.region.start[:, 0].max() < 10.1
    folded = polygon((0, 0), (10, 0), (10, 5), (12, 5), (10, 5), (10, 10), (0, 10))
    assert area(finished(folded).region) == pytest.approx(100, abs=1e-3)
    needle = polygon((0, 0), (10, 0.5), (0, 1))
    assert not finished(needle).mended
    assert finished(needle).region.node_count == 3


@given(
    st.sampled_from(EVERY),
    st.sampled_from(["Tide", "OAR&", "g8"]),
    st.floats(3, 1500),
    st.floats(-0.05, 0.05),
)
@settings(max_examples=40, deadline=None)
def test_finished_lettering_is_sound_on_the_grid_and_stays_so(
    font: str, text: str, size: float, gap: float
) -> None:
    words = row(font, text, 100, "wide", "clear", gap)
    done = finished(words.scaled(size / 100, size / 100)).region
    assert fault(done) is None
    assert np.abs(done.segments[done.segments != 0] * 10**DECIMALS % 1.0).min() < 1e-3
    again = finished(done)
    assert not again.mended
    assert np.array_equal(again.region.start, done.start)


@given(st.integers(0, 10_000))
@settings(max_examples=60, deadline=None)
def test_regions_that_are_not_sound_are_overlaid_all_the_same(seed: int) -> None:
    """Random loops that cross themselves and each other, as if art had been scaled; against Clipper2."""
    rng = np.random.default_rng(seed)

    def tangle() -> Region:
        corners = [rng.uniform(0, 50, (rng.integers(3, 8), 2)) for _ in range(2)]
        corners = [c if bezier.cross(c, np.roll(c, -1, axis=0)).sum() > 0 else c[::-1] for c in corners]
        segments = np.concatenate([bezier.line_controls(c, np.roll(c, -1, axis=0)) for c in corners])
        loops = np.cumsum([0] + [len(c) for c in corners])
        return Region.from_loops(segments, np.zeros(len(segments), bool), loops, np.arange(3))

    a, b = tangle(), tangle()
    # Solid is what loops of positive area go round, as everywhere in a region.
    sound_a, sound_b = (weld([one, box(900 + k, 900, 1, 1)]) for k, one in enumerate((a, b)))
    assert_keeps_its_promises(sound_a)
    for made, kind in ((overlap(a, b), "Intersection"), (cut_away(a, b), "Difference")):
        assert_keeps_its_promises(made)
        wanted = clipped_area(sound_a, sound_b, kind) - (1.0 if kind == "Difference" else 0.0)
        assert area(made) == pytest.approx(wanted, abs=1e-3 + 200 * GRID)
    pieces = slice_apart([a, b])
    assert sum(area(piece.region) for piece in pieces) == pytest.approx(area(weld([a, b])), abs=1e-3)


def test_loops_that_lie_apart_are_filled_as_if_each_were_alone() -> None:
    """Stars that cross themselves, figures in figures and bow ties, many of them in one go, by both rules."""
    rng = np.random.default_rng(4)
    shapes = []
    for k in range(60):
        turn = np.arange(5) * (0.8 * np.pi if k % 3 else 0.4 * np.pi) + rng.uniform(0, 6)
        corners = np.column_stack([np.cos(turn), np.sin(turn)])
        middle = rng.uniform(0, 30 if k % 2 else 90, 2)
        loops = [middle + size * corners for size in (3.0, 1.0)[: 1 + k % 2]]
        ends = np.concatenate([np.roll(loop, -1, axis=0) for loop in loops])
        lines = bezier.line_controls(np.concatenate(loops), ends)
        rule = "evenodd" if k % 5 else "nonzero"
        shapes.append((lines, np.zeros(len(lines), bool), np.arange(0, len(lines) + 1, 5), rule))
    for shape, made in zip(shapes, regularise_each(shapes), strict=True):
        segments, _, loops, rule = shape
        clipper = pyclipr.Clipper()
        clipper.scaleFactor = 10**7
        clipper.addPaths([segments[a:b, 0] for a, b in itertools.pairwise(loops)], pyclipr.Subject)
        kind = pyclipr.FillRule.EvenOdd if rule == "evenodd" else pyclipr.FillRule.NonZero
        filled = clipper.execute(pyclipr.Union, kind)
        wanted = sum(0.5 * bezier.cross(p, np.roll(p, -1, axis=0)).sum() for p in map(np.array, filled))
        assert area(made) == pytest.approx(wanted, abs=1e-4)


def test_buffers_in_steps_are_those_of_one_step() -> None:
    words = row("pacifico", "harbour", 40).multipolygon
    for distance in (-0.4, 0.3, 4.0, 20.0):
        plain = shapely.buffer(words, distance)
        assert shapely.area(shapely.symmetric_difference(plain, buffered(words, distance))) <= (
            0.03 * abs(distance) * shapely.length(plain) + 1e-9
        )


@pytest.mark.parametrize("distance", [-0.02, 0.3, 4.0])
def test_strips_are_grown_as_all_of_them_at_once(distance: float) -> None:
    """Letters made of thousands of strips, which grow into each other."""
    rng = np.random.default_rng(6)
    left, low = rng.uniform(0.0, 40.0, 3000), np.arange(3000) % 300 * 0.1
    strips = shapely.box(left, low, left + rng.uniform(0.1, 0.4, 3000), low + 0.06)
    body = shapely.MultiPolygon(shapely.get_parts(shapely.union_all(strips)).tolist())
    # Each strip grown by itself, and then united: GEOS takes a fiftieth of the time.
    plain = shapely.union_all(shapely.buffer(shapely.get_parts(body), distance))
    off = shapely.area(shapely.symmetric_difference(plain, buffered(body, distance)))
    assert off <= 0.02 * abs(distance) * shapely.length(plain)


def test_buffers_of_a_sieve_take_seconds() -> None:
    """Two thousand holes 0.02 mm apart, as of a star of many points cut small."""
    turn = np.linspace(0.0, 2.0 * np.pi, 9)[:-1]
    hole = 0.05 * np.column_stack([np.cos(turn), np.sin(turn)])
    places = np.stack(np.meshgrid(np.arange(45), np.arange(45)), axis=-1).reshape(-1, 2) * 0.12 + 0.1
    sieve = shapely.Polygon([(0, 0), (5.5, 0), (5.5, 5.5), (0, 5.5)], [place + hole for place in places])
    assert buffered(sieve, -0.25).is_empty
    assert shapely.area(buffered(sieve, 0.3)) == pytest.approx(
        5.5**2 + 4 * 5.5 * 0.3 + np.pi * 0.09, rel=0.005
    )
    pair = buffered_each(np.array([sieve, shapely.box(0, 0, 5.5, 5.5)]), -0.005)
    assert shapely.area(pair) == pytest.approx(
        [shapely.area(shapely.buffer(sieve, -0.005)), 5.49**2], rel=1e-3
    )


@pytest.mark.parametrize("distance", [-1.2, -0.4, -0.1, 0.1, 0.4, 1.2])
def test_a_sieve_grows_and_shrinks_as_all_of_it_at_once(distance: float) -> None:
    """Holes of any size that run into each other as it shrinks, and close one by one as it grows."""
    rng = np.random.default_rng(8)
    holes = shapely.buffer(shapely.points(rng.uniform(2, 38, (400, 2))), rng.uniform(0.05, 1.0, 400))
    body = shapely.difference(shapely.box(0, 0, 40, 40), shapely.union_all(holes))
    sieve = max(shapely.get_parts(body), key=shapely.area)
    assert shapely.get_num_interior_rings(sieve) > 50
    plain = shapely.buffer(sieve, distance)
    off = shapely.area(shapely.symmetric_difference(plain, buffered(sieve, distance)))
    assert off <= 0.02 * abs(distance) * shapely.length(plain) + 1e-9


@pytest.mark.parametrize("thorn", [0.01, 0.03])
def test_a_thorn_grows_no_fang(thorn: float) -> None:
    """A mitre at a corner of a hundredth of the distance would reach four distances out."""
    corners = [(0, 0), (20 - thorn, 0), (20, -3 * thorn), (20 + thorn, 0), (40, 0), (40, 10), (0, 10)]
    figure = polygon(*corners)
    grown = grow(figure, 6.0, "mitred")
    plain = shapely.buffer(figure.multipolygon, 6.0, join_style="mitre", mitre_limit=4.0)
    beyond = shapely.difference(grown.multipolygon, shapely.buffer(plain, 0.05))
    assert shapely.area(beyond) < 0.5


def test_segments_of_no_length_cost_nothing() -> None:
    """Crossings that coincide leave none in what overlays make: they had no direction, and offsets of them
    ran wild.
    """
    words = row("anton", "OAR", 60)
    halves = [overlap(words, box(-100, -100 + 50 * k, 200, 50)) for k in range(4)]
    joined = weld([*halves, *(one.translated(1e-7, 0) for one in halves)])
    size = np.hypot(*(joined.end - joined.start).T)
    assert size.min() > 1e-6


def crowd(seed: int) -> Region:
    """Loops of random cubics, some letters over them: crossing, hooked, folded and all but touching."""
    rng = np.random.default_rng(seed)
    loops = []
    for _ in range(6):
        nodes = rng.uniform(0.0, 12.0, (rng.integers(1, 6), 2))
        after = np.roll(nodes, -1, axis=0)
        reach = rng.choice([0.05, 1.0, 8.0])
        handles = rng.uniform(-reach, reach, (2, len(nodes), 2))
        cubics = np.stack([nodes, nodes + handles[0], after + handles[1], after], axis=1)
        one = np.array([0, len(nodes)])
        loops.append(Region.from_loops(cubics, np.ones(len(nodes), bool), one, np.array([0, 1])))
    words = row(EVERY[seed % len(EVERY)], "Rg&", 12)
    return together(*loops, words, words.translated(rng.uniform(0.0, 0.02), 0.0))


@pytest.mark.parametrize("seed", range(40))
@pytest.mark.parametrize("apart", [0.01, 0.2])
def test_segments_that_come_near_each_other_are_all_found(seed: int, apart: float) -> None:
    """Every two chords nearer than asked, but for those within thirty times that along one outline."""
    region = crowd(seed)
    i, j = near_segments(region, apart)
    assert (i <= j).all()
    closer = narrowed(region.segments, region.following, (i, j), apart, HALVINGS)
    told, truly = (set(zip(a.tolist(), b.tolist(), strict=True)) for a, b in ((i, j), closer))
    assert truly <= told
    flat = region.flattened(0.001)
    edges = shapely.linestrings(np.stack([flat.xy, flat.xy[flat.following]], axis=1))
    a, b = shapely.STRtree(edges).query(edges, predicate="dwithin", distance=0.9 * apart)
    size = shapely.length(edges)
    way = np.cumsum(size) - size / 2.0
    ring = np.searchsorted(flat.ring_offsets, np.arange(len(edges)), side="right") - 1
    whole = np.bincount(ring, size)[ring]
    between = np.abs(way[a] - way[b])
    between = np.minimum(between, whole[a] - between)
    far = (a < b) & ((ring[a] != ring[b]) | (between > 30.0 * apart + np.maximum(size[a], size[b])))
    pairs = np.sort(flat.segment[np.stack([a[far], b[far]], axis=1)], axis=1)
    assert len(pairs) > 100
    assert {(int(p), int(q)) for p, q in np.unique(pairs, axis=0)} <= truly
    # And not simply all of them.
    assert len(told) < 0.6 * region.node_count**2 / 2.0
    parts = near_parts(region.segments, region.following, (i, j), apart)
    for edge in (a[far], b[far]):
        segment = flat.segment[edge]
        begin, end = region.span[segment].T
        first, last = np.sort((flat.t[edge].T - begin) / (end - begin) * PARTS, axis=0)
        for one in zip(segment, first.astype(int), np.ceil(last).astype(int), strict=True):
            assert parts[one[0], one[1] : one[2]].any()
    assert apart > 0.1 or not parts.all()


@pytest.mark.parametrize("across", [3, 24])
@pytest.mark.parametrize("apart", [0.02, 0.001, 0.0002, -0.0002, -0.001, -0.02])
def test_a_closer_look_sees_what_chords_ten_times_finer_see(across: int, apart: float) -> None:
    """Discs that all but touch, or cross by less than the chords of overlays are off; 9 of them, and 576."""
    rng = np.random.default_rng(across)
    radius = 40.0 / across
    step = 2.0 * radius + apart + rng.uniform(0.0, 0.3 * abs(apart), (across, across))
    places = np.stack([np.cumsum(step, axis=0), np.cumsum(step, axis=1)], axis=-1).reshape(-1, 2)
    # Turned: at the ends of their arcs chords lie on them.
    region = Region.joined(disc(0, 0, radius).rotated(rng.uniform(0, 90)).translated(*at) for at in places)
    assert region.is_sound == holds_finely(region)
    assert region.is_sound == (apart > 0.0)


def test_a_lens_is_cut_at_its_tips_and_stays() -> None:
    """Of two curves 0.38 mm long and 0.04 mm apart at most, which meet at either end."""
    sides = np.array(
        [
            [(-61.0871, 31.0612), (-61.2092, 31.0294), (-61.3312, 30.9976), (-61.4532, 30.9658)],
            [(-61.4532, 30.9658), (-61.2808, 30.9535), (-61.1588, 30.9853), (-61.0871, 31.0612)],
        ]
    )
    lens = Region.from_loops(sides, np.ones(2, bool), np.array([0, 2]), np.array([0, 1]))
    done = finished(lens).region
    assert fault(done) is None
    assert area(done) == pytest.approx(area(lens), rel=0.02)


def test_outlines_too_close_to_be_told_apart_are_refused() -> None:
    """Three thousand squares in one place come near each other four and a half million times and more."""
    loops = np.tile(np.array([(0.0, 0.0), (0.01, 0.0), (0.01, 0.01), (0.0, 0.01)]), (3000, 1))
    crowd = Region.from_rings(loops, np.arange(0, 12_001, 4), np.arange(3001))
    with pytest.raises(GeometryError, match="one may touch another more than 4,000,000 times"):
        near_pairs(crowd.segments, crowd.following, 0.0125)


def test_close_pairs_of_what_was_changed_are_those_found_anew() -> None:
    """Letters of which some go, and outlines that meet in a place, led on there another way."""

    def pairs(region: Region) -> set[tuple[int, int]]:
        return set(zip(*(one.tolist() for one in region.close_pairs), strict=True))

    def alike(region: Region, other: Region) -> bool:
        assert other.close_pairs
        return pairs(replace(region).akin(other)) == pairs(replace(region))

    words = on_grid(row("pacifico", "harbour", 30))
    crowd = Region.joined([words, words.translated(0.004, 0.0)])
    some = np.arange(crowd.piece_count) % 3 > 0
    assert alike(Region.joined([crowd.select_polygons(some), words.translated(0.0, 0.006)]), crowd)
    corners = np.array([(0, 0), (2, 1), (2, -1), (0, 0), (-2, -1), (-2, 1)], float)
    once, twice = (
        Region.from_loops(
            bezier.line_controls(corners, corners[after]), np.zeros(6, bool), starts, np.arange(len(starts))
        )
        for after, starts in (
            ([1, 2, 3, 4, 5, 0], np.array([0, 6])),
            ([1, 2, 0, 4, 5, 3], np.array([0, 3, 6])),
        )
    )
    assert alike(once, twice)
    assert alike(twice, once)
