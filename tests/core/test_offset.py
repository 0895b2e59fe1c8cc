"""Grow and shrink against closed forms, sampled distances and set laws."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from perigram.core.errors import GeometryError
from perigram.core.geometry import Region, cut_away, weld
from perigram.core.geometry.bezier import line_controls
from perigram.core.geometry.measure import area, length
from perigram.core.geometry.offset import grow, misses
from perigram.core.geometry.parallel import raw_parallel
from perigram.core.geometry.pen import RegionPen
from perigram.core.geometry.restore import region_of

from .material import (
    EVERY,
    HEAVY,
    SCRIPT,
    assert_keeps_its_promises,
    away,
    box,
    disc,
    fine,
    holds_finely,
    polygon,
    row,
)
from .test_overlay import OPERATIONS, random_pair

#: What the core promises of every computed outline, in mm.
PROMISED = 0.01


def distance_error(source: Region, grown: Region, distance: float) -> float:
    """How far, in mm, grown's outline is off the distance, at points all along it."""
    outline = shapely.boundary(fine(source))
    points = shapely.points(grown.flattened(0.0005).xy)
    return float(np.abs(away(outline, points) - abs(distance)).max())


def strays(source: Region, grown: Region, distance: float) -> int:
    """How many places on the true outline grown misses by more than what is promised, either way.

    The true outline's places are those of GEOS's buffer, which itself is off by up to a hundredth of
    the distance: from the source's nearest place to each, steps of the distance less and more than
    promised must lie inside and outside of grown (the latter unless the source is nearer elsewhere).
    """
    flat, outline = fine(source), shapely.boundary(fine(source))
    shapely.prepare(outline)
    buffered = shapely.boundary(shapely.buffer(flat, distance, quad_segs=32))
    samples = shapely.points(shapely.get_coordinates(shapely.segmentize(buffered, 0.25)))
    feet = shapely.get_coordinates(shapely.shortest_line(outline, samples)).reshape(-1, 2, 2)
    arm = feet[:, 1] - feet[:, 0]
    arm /= np.hypot(*arm.T)[:, None]
    near = feet[:, 0] + arm * (abs(distance) - PROMISED)
    far = feet[:, 0] + arm * (abs(distance) + PROMISED)
    inner, outer = (near, far) if distance > 0 else (far, near)
    shape = fine(grown)
    shapely.prepare(shape)
    true = np.abs(away(outline, samples) - abs(distance)) < 0.05
    beyond = away(outline, shapely.points(far)) > abs(distance) + 0.9 * PROMISED
    outside = shapely.contains_xy(shape, outer) & (beyond if distance > 0 else True)
    inside = ~shapely.contains_xy(shape, inner) & (beyond if distance < 0 else True)
    return int((true & (outside | inside)).sum())


@given(
    st.lists(st.tuples(st.floats(-40, 40), st.floats(-40, 40)), min_size=3, max_size=9),
    st.floats(0.05, 20),
)
def test_steiners_formula_for_convex_figures(corners: list[tuple[float, float]], distance: float) -> None:
    """A + P d + pi d^2 and P + 2 pi d (Steiner 1840; Schneider, Convex Bodies, section 4.1)."""
    hull = shapely.convex_hull(shapely.multipoints(corners))
    if hull.geom_type != "Polygon" or hull.area < 1 or shapely.minimum_clearance(hull) < 0.05:
        return
    figure = polygon(*shapely.get_coordinates(hull)[:-1].tolist())
    grown = grow(figure, distance)
    assert_keeps_its_promises(grown)
    a, p = hull.area, hull.length
    assert area(grown) == pytest.approx(a + p * distance + np.pi * distance**2, abs=0.004 * length(grown))
    assert length(grown) == pytest.approx(p + 2 * np.pi * distance, abs=0.02)


@pytest.mark.parametrize("count", [30, 70, 120, 600])
@pytest.mark.parametrize("distance", [0.5, 50.0])
def test_corners_that_hardly_turn_are_round_all_the_same(count: int, distance: float) -> None:
    turns = 2.0 * np.pi * np.arange(count) / count
    figure = polygon(*(80.0 * np.stack([np.cos(turns), np.sin(turns)], axis=1)).tolist())
    assert distance_error(figure, grow(figure, distance), distance) < PROMISED


@pytest.mark.parametrize("distance", [-6.5, -3, -0.1, 0.1, 3, 20, 50])
def test_discs_and_rings(distance: float) -> None:
    assert area(grow(disc(0, 0, 7), distance)) == pytest.approx(np.pi * (7 + distance) ** 2, rel=2e-3)
    d = min(distance, 3.9)
    grown = grow(cut_away(disc(50, 0, 20), disc(50, 0, 12)), d)
    if d > -4:
        assert area(grown) == pytest.approx(np.pi * ((20 + d) ** 2 - (12 - d) ** 2), rel=1e-3)
    else:
        assert grown.is_empty


def test_a_stadium_and_its_arcs() -> None:
    """A box 30 by 10 grown by 5: straight sides stay straight lines, corners are quarter circles."""
    grown = grow(box(0, 0, 30, 10), 5)
    assert grown.straight.sum() == 4
    assert grown.node_count <= 12
    assert area(grown) == pytest.approx(300 + 80 * 5 + np.pi * 25, rel=1e-4)
    for segment in grown.segments[~grown.straight]:
        corner = np.array([30.0 * (segment[0, 0] > 15), 10.0 * (segment[0, 1] > 5)])
        t = np.linspace(0, 1, 33)[:, None]
        points = sum(c * t**k * (1 - t) ** (3 - k) * segment[k] for k, c in enumerate((1, 3, 3, 1)))
        assert np.abs(np.hypot(*(points - corner).T) - 5).max() < 0.0045


@pytest.mark.parametrize("sides", [3, 4, 5, 6, 12])
def test_mitres_of_regular_polygons(sides: int) -> None:
    """Grown with mitres, a regular polygon of apothem a is one of apothem a + d: n (a + d)^2 tan(pi / n)."""
    apothem, d = 10.0, 2.5
    radius = apothem / np.cos(np.pi / sides)
    angle = 2 * np.pi * np.arange(sides) / sides
    corners = np.stack([radius * np.cos(angle), radius * np.sin(angle)], axis=1)
    figure = polygon(*map(tuple, corners.tolist()))
    grown = grow(figure, d, "mitred")
    assert grown.straight.all()
    assert grown.node_count == sides
    assert area(grown) == pytest.approx(sides * (apothem + d) ** 2 * np.tan(np.pi / sides), rel=1e-9)
    assert area(grow(grown, -d)) == pytest.approx(area(figure), rel=1e-9)


def test_mitres_beyond_their_limit_are_rounded() -> None:
    """A tip of 20 degrees would reach d / sin(10 degrees) = 5.8 d: over the limit of 4 it is round."""
    tip = polygon((0, 0), (30, 30 * np.tan(np.radians(20))), (30, 0))
    sharp, round_ = grow(tip, 2, "mitred", limit=6), grow(tip, 2, "mitred")
    reach = [np.hypot(*r.flat.xy[r.flat.xy[:, 0] < 0].T).max() for r in (sharp, round_)]
    assert reach == pytest.approx([2 / np.sin(np.radians(10)), 2], abs=0.005)


@pytest.mark.parametrize("font", HEAVY[::2])
@pytest.mark.parametrize("distance", [-0.6, 1.8])
def test_mitred_letters_agree_with_a_polygon_library(font: str, distance: float) -> None:
    """GEOS's mitred buffer of finely flattened letters without corners that are over the limit."""
    words = row(font, "HELTIF", 110)
    grown = grow(words, distance, "mitred")
    assert_keeps_its_promises(grown)
    theirs = shapely.buffer(fine(words, 0.001), distance, join_style="mitre", mitre_limit=4)
    differing = shapely.buffer(shapely.symmetric_difference(theirs, fine(grown)), -0.02)
    assert differing.area < 0.02


def test_remains_are_dropped_when_asked_for() -> None:
    plate = cut_away(box(0, 0, 40, 20), weld([box(5, 5, 5, 10), box(20, 5, 12, 10)]))
    assert grow(plate, 2).loop_count == 3
    without = grow(plate, 2, remains=2)
    assert without.loop_count == 2
    assert area(without) == pytest.approx(area(grow(plate, 2)) + 1 * 6, rel=1e-6)
    dumbbell = weld([box(0, 0, 10, 10), box(20, 4, 4, 4)])
    assert grow(dumbbell, -1.5, remains=1.5).piece_count == 1


def test_an_offset_that_is_off_its_distance_is_found_out() -> None:
    words = row("lobster", "Rg&S", 80)
    grown = grow(words, 1.8)
    assert len(misses(words, grown, 1.8)) == 0
    assert len(misses(words, grown, 1.83)) > 0
    assert len(misses(words, grown.translated(0.05, 0), 1.8)) > 0


@pytest.mark.parametrize("seed", range(24))
def test_cut_up_lettering_with_hairs_and_tips(seed: int) -> None:
    """Random overlays leave the hardest outlines: tips of no angle, hairs, cusps."""
    rng = np.random.default_rng(seed)
    region = list(OPERATIONS.values())[seed % 4](*random_pair(5000 + seed))
    distance = float(rng.choice([-1, -0.3, 0.2, 0.7, 1.8, 6]) * rng.uniform(0.7, 1.3))
    grown = grow(region, distance)
    assert_keeps_its_promises(grown)
    assert holds_finely(grown)
    if not grown.is_empty:
        assert distance_error(region, grown, distance) < PROMISED
    assert strays(region, grown, distance) == 0


@pytest.mark.parametrize("font", EVERY)
@pytest.mark.parametrize("distance", [-0.6, 0.4, 1.8, 6.0])
def test_within_a_hundredth_of_a_millimetre_on_letters(font: str, distance: float) -> None:
    words = row(font, "Rg&S8e", 110)
    grown = grow(words, distance)
    assert_keeps_its_promises(grown)
    assert holds_finely(grown)
    if grown.is_empty:
        assert shapely.is_empty(shapely.buffer(fine(words), distance + 0.02))
        return
    assert distance_error(words, grown, distance) < PROMISED
    assert strays(words, grown, distance) == 0
    assert grown.node_count <= 2 * words.node_count


@pytest.mark.parametrize("distance", [-50, -12, 12, 50, 1e-3, -1e-3])
def test_extreme_distances_never_fail(distance: float) -> None:
    for font in SCRIPT:
        grown = grow(row(font, "Qty&g", 90), distance)
        assert_keeps_its_promises(grown)


@pytest.mark.parametrize("distance", [np.nan, np.inf, 51, -51])
def test_distances_out_of_reach_are_refused(distance: float) -> None:
    with pytest.raises(GeometryError, match="up to 50 mm"):
        grow(box(0, 0, 1, 1), distance)


@given(
    st.sampled_from(EVERY), st.sampled_from(["Tide", "OAR", "8&a"]), st.floats(0.05, 8), st.floats(0.05, 4)
)
def test_growing_is_monotone_and_closing_only_adds(font: str, text: str, near: float, more: float) -> None:
    words = row(font, text, 60)
    small, large = grow(words, near), grow(words, near + more)
    slack = 0.02 * length(large)
    assert shapely.difference(fine(small), fine(large)).area < slack * 0.01
    assert shapely.difference(fine(words), fine(small)).area < slack * 0.01
    closed = grow(small, -near)
    assert shapely.difference(fine(words), fine(closed)).area < 0.01 * length(words)
    assert shapely.difference(fine(closed), fine(small)).area < slack * 0.01


@given(st.sampled_from(EVERY), st.sampled_from([0.8, -0.4, 5.0]), st.floats(0, 360), st.booleans())
def test_growing_commutes_with_moving_turning_and_mirroring(
    font: str, distance: float, turn: float, flip: bool
) -> None:
    def moved(region: Region) -> Region:
        return (region.scaled(-1, 1) if flip else region).rotated(turn).translated(11.3, -4)

    words = row(font, "R&g", 50)
    a, b = moved(grow(words, distance)), grow(moved(words), distance)
    assert shapely.symmetric_difference(fine(a), fine(b)).area < 0.02 * length(a) + 1e-9


@pytest.mark.parametrize("distance", [0.4, -0.4])
def test_a_hook_against_the_turn_hides_no_corner(distance: float) -> None:
    """An elbow from an emoji: a handle points on beyond the corner, as if it turned the other way round."""
    pen = RegionPen()
    pen.move_to((-38.5561, -15.2791))
    pen.cubic_to((-40.0913, -22.0179), (-43.071886, -24.391639), (-43.068215, -24.391639))
    pen.line_to((-46.1825, -19.0528))
    pen.line_to((-46.0, -5.0))
    region = pen.region()
    frame = cut_away(box(-60.0, -40.0, 40.0, 50.0), region)
    for one in (region, frame):
        grown = grow(one, distance)
        assert distance_error(one, grown, distance) < PROMISED
        assert strays(one, grown, distance) == 0


@pytest.mark.parametrize("hook", [2e-6, 1e-4, 0.0019, 0.01, 0.05, 0.4])
@pytest.mark.parametrize("distance", [0.5, 3.0, -0.4])
def test_a_curve_that_ends_in_a_hook_is_gone_round(hook: float, distance: float) -> None:
    """Drawing programs leave handles of thousandths of a mm that point aside, where curves were cut."""
    pen = RegionPen()
    pen.move_to((0.0, 0.0))
    pen.cubic_to((4.0 - hook, -hook), (6.0, 1.0), (10.0, 2.0))
    pen.cubic_to((10.2, 6.0), (10.0 + hook, 9.0 + hook), (10.0, 9.0))
    pen.cubic_to((10.0 - hook, 9.0 + hook), (2.0, 9.5), (0.0, 9.0))
    region = pen.region()
    grown = grow(region, distance)
    assert distance_error(region, grown, distance) < PROMISED
    assert strays(region, grown, distance) == 0


@pytest.mark.parametrize("speed", [0.0, 0.003, 0.5])
@pytest.mark.parametrize("distance", [0.5, 3.0, -0.4])
def test_a_curve_that_turns_on_the_spot_is_gone_round(speed: float, distance: float) -> None:
    """A leaf whose tip lies within one curve, which stops there or all but stops."""
    pen = RegionPen()
    pen.move_to((0.0, 0.0))
    # Half way its speed is 1.5 times what is given, straight up.
    pen.cubic_to((20.0, 6.0), (20.0, speed), (0.0, speed + 6.0))
    pen.line_to((-10.0, speed + 3.0))
    region = pen.region()
    assert area(region) > 10.0
    grown = grow(region, distance)
    assert distance_error(region, grown, distance) < PROMISED
    assert strays(region, grown, distance) == 0


def test_specks_beside_letters_cost_no_curves() -> None:
    """Plain buffers of what is crowded lose specks on their way: that says nothing against the outline."""
    words = row("lobster", "Reed Warbler", 60.0)
    source = Region.joined([words, *(box(x, 60.0, 0.02, 0.02) for x in range(-30, 45, 15))])
    grown = grow(source, 6.0)
    assert grown.node_count < 2 * words.node_count
    assert area(grown) == pytest.approx(
        shapely.area(shapely.buffer(fine(source), 6.0, quad_segs=64)), rel=5e-4
    )


@pytest.mark.parametrize("radius", [0.4, 5.0, 300.0])
def test_the_parallel_of_a_circle_turns_back_beyond_its_radius(radius: float) -> None:
    """Curvature is one over the radius (handbook): nearer than that all of it may be on the outline."""

    def nowhere(_: np.ndarray, lines: np.ndarray) -> np.ndarray:
        return np.zeros(len(lines), bool)

    circle = disc(0, 0, radius)
    near, beyond = (raw_parallel(circle, -share * radius, 0.004, nowhere) for share in (0.98, 1.02))
    assert near.curved.sum() == 8
    assert not near.inner.any()
    assert not beyond.curved.any()


def test_a_hook_that_winds_past_its_corner_leaves_no_gap() -> None:
    """Met in a foreign drawing: within 0.03 mm a curve turns on past the corner it begins in.

    The arc round that was missed, an outline did not close, and 2,800 mm^2 came as thousands of lines.
    """
    segments = np.array(
        [
            [(85.3386, 27.7827), (83.2499, 25.3346), (81.7653, 23.3897), (80.8846, 21.948)],
            [(80.8846, 21.948), (80.9286, 21.9578), (80.2043, 25.3288), (78.7118, 32.0611)],
            line_controls(np.array([[78.7118, 32.0611]]), np.array([[85.3386, 27.7827]]))[0],
        ]
    )
    loop, polygons = np.array([0, 4, 7]), np.array([0, 2])
    outer = box(60, 0, 40, 45)
    curves = np.concatenate([outer.segments, segments])
    holed = Region.from_loops(curves, np.array([False] * 4 + [True, True, False]), loop, polygons)
    assert holds_finely(holed)
    shrunk = grow(holed, -2.112)
    wanted = shapely.buffer(fine(holed), -2.112, quad_segs=256)
    assert area(shrunk) == pytest.approx(shapely.area(wanted), abs=0.05)
    assert shrunk.node_count < 40


@pytest.mark.parametrize("distance", [6.0, -6.0])
def test_dust_moved_far_is_as_far_as_it_should_be(distance: float) -> None:
    """Thousands of specks, whose parallels cross a million times: by distances of places all over."""
    rng = np.random.default_rng(3)
    middles = rng.uniform(0.0, 1.0, (3000, 1, 2)) * [40.0, 0.5]
    turn = np.sort(rng.uniform(0.0, 2.0 * np.pi, (3000, 3)))
    specks = shapely.polygons(middles + 0.05 * np.stack([np.cos(turn), np.sin(turn)], axis=-1))
    body = shapely.union_all(specks)
    if distance < 0.0:
        body = shapely.difference(shapely.box(-20.0, -20.0, 60.0, 20.5), body)
    grown = grow(region_of(body), distance)
    assert_keeps_its_promises(grown)
    outline, edge = shapely.boundary(fine(grown)), shapely.boundary(body)
    along = shapely.get_coordinates(shapely.segmentize(outline, 0.02))
    assert np.abs(away(edge, shapely.points(along)) - abs(distance)).max() <= PROMISED
    places = rng.uniform(0.0, 1.0, (4000, 2)) * [90.0, 50.0] - [25.0, 25.0]
    clear = away(outline, shapely.points(places)) > PROMISED
    near = away(edge, shapely.points(places)) < abs(distance)
    solid = shapely.contains_xy(body, places)
    wanted = solid | near if distance > 0.0 else solid & ~near
    assert (shapely.contains_xy(fine(grown), places) == wanted)[clear].all()
