"""Warps against closed forms, other libraries, sampled truth and distances measured without them."""

from __future__ import annotations

from functools import cache
from itertools import pairwise
from typing import Any

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.interpolate import NdBSpline
from scipy.special import ellipe

from perigram.core.geometry import Region
from perigram.core.geometry.measure import area, bounds, length
from perigram.core.recipe.design import Design, read_design
from perigram.core.recipe.edit import change_sources, remove_line
from perigram.core.recipe.evaluate import Proof, evaluate
from perigram.core.warp import rails
from perigram.core.warp.arc import Arc, turn_for_rise
from perigram.core.warp.maps import Map, warped
from perigram.core.warp.net import Net, even, resized
from perigram.core.warp.path import Along, Path, through, wave
from perigram.library import DesignSources, font_catalogue

from .material import assert_keeps_its_promises, away, box, disc, farthest_apart, fine, holds_finely
from .test_parts import plies_of

WORDS = {"id": "l1", "kind": "letter", "font": "bowlby-one", "size": 250.0, "gap": 1.2}
ROWS = [{"text": "HEAVE"}, {"text": "Steady"}, {"text": "HOME"}]


def proof_of(*recipe: dict[str, Any]) -> Proof:
    design = read_design({"format": "perigram", "version": 2, "recipe": list(recipe)})
    return evaluate(design, DesignSources(design))


@cache
def words(text: str, font: str = "bowlby-one") -> Region:
    return proof_of({**WORDS, "font": font, "rows": [{"text": text}]}).results[0].region


def furthest(source: Region, onto: Map, result: Region) -> float:
    """How far in mm the mapped truth is from a result at most, sampled much finer than either was made."""
    true = shapely.points(onto.points(source.flattened(0.001).xy))
    outline = shapely.boundary(result.flattened(0.0005).multipolygon())
    return float(away(outline, true).max())


# -- closed forms


def test_a_word_on_a_circle_lies_where_arc_length_puts_it() -> None:
    arc = Arc((0.0, 0.0), (0.0, 80.0), 80.0)
    places = np.array([[0.0, 0.0], [80.0 * np.pi / 2.0, 0.0], [-80.0 * np.pi / 6.0, -20.0]])
    expected = [[0.0, 0.0], [80.0, 80.0], [-100.0 * np.sin(np.pi / 6.0), 80.0 - 100.0 * np.cos(np.pi / 6.0)]]
    assert arc.points(places) == pytest.approx(np.array(expected), abs=1e-9)
    # A sector of a ring: half the angle times the difference of the squared radii (any handbook).
    ring = warped(box(-60.0, -20.0, 120.0, 20.0), arc)
    assert area(ring) == pytest.approx(0.5 * (120.0 / 80.0) * (100.0**2 - 80.0**2), abs=0.01 * length(ring))
    inward = warped(box(-60.0, -20.0, 120.0, 20.0), Arc((0.0, 0.0), (0.0, -80.0), 80.0, np.pi, inward=True))
    assert area(inward) == pytest.approx(
        0.5 * (120.0 / 80.0) * (80.0**2 - 60.0**2), abs=0.01 * length(inward)
    )


@pytest.mark.parametrize("share", [0.02, 0.1, 0.25, 0.36])
def test_an_arc_rises_as_high_as_was_asked(share: float) -> None:
    turn = turn_for_rise(200.0, 200.0 * share)
    radius = 200.0 / turn
    ends = Arc((0.0, 0.0), (0.0, radius), radius).points(np.array([[-100.0, 0.0], [100.0, 0.0]]))
    assert ends[:, 1] == pytest.approx([200.0 * share] * 2, abs=1e-6)


def test_an_arc_beyond_the_highest_says_so_for_words_of_any_length() -> None:
    """At the highest itself it is up to rounding whether a root lies just within or just beyond the end."""
    for width in np.random.default_rng(5).uniform(0.5, 900.0, 250):
        box = {"id": "l1", "kind": "shape", "figure": "arrow", "width": round(width, 3), "height": 0.5}
        proof = proof_of(
            box, {"id": "l2", "kind": "bend", "of": ["l1/shape"], "rise": 2000.0, "on": "middle"}
        )
        assert any("make an arc at most" in f.text for f in proof.findings), width


def test_a_rectangle_under_an_arched_rail_has_the_area_of_a_circular_segment() -> None:
    """Area of a segment: r^2 (a - sin a) / 2 for a chord seen under the angle a (any handbook)."""
    width, rise = 160.0, 30.0
    top = rails.arched(0.0, 0.0, width, rise)
    onto = rails.Between(np.array([0.0, 40.0]), [top, rails.level(40.0, 0.0, width)], width / 4.0)
    made = warped(box(0.0, 0.0, width, 40.0), onto)
    radius = (width**2 / 4.0 + rise**2) / (2.0 * rise)
    angle = 2.0 * np.arcsin(width / 2.0 / radius)
    segment = radius**2 * (angle - np.sin(angle)) / 2.0
    assert area(made) == pytest.approx(160.0 * 40.0 + segment, abs=0.005 * width)
    low, high = (top.at(np.array([x]))[0] for x in (width * 0.25, width * 0.75))
    assert low == pytest.approx(high, abs=1e-6)
    moved = rails.arched(0.0, 0.0, width, rise, at=0.3)
    assert moved.at(np.array([0.3 * width]))[0] == pytest.approx(-rise, abs=1e-3)


def test_rails_are_a_coons_patch_of_their_curves() -> None:
    """Coons' bilinearly blended patch (Farin, Curves and Surfaces for CAGD): the ruled surfaces between both
    pairs of opposite edges, less the bilinear one of the corners. Two edges are an arc of a circle and a
    sine here, by formulas of their own; the other two are straight.
    """
    wide, high, rise, wave = 160.0, 50.0, 24.0, 14.0
    radius = (wide**2 / 4.0 + rise**2) / (2.0 * rise)

    def arc(u: Any) -> Any:
        return np.sqrt(radius**2 - (wide * (u - 0.5)) ** 2) - (radius - rise)

    def sine(u: Any) -> Any:
        return wave / 2.0 * np.sin(2.0 * np.pi * u)

    u, v = (one.ravel() for one in np.meshgrid(np.linspace(0.0, 1.0, 41), np.linspace(0.0, 1.0, 17)))
    zero, one = np.zeros_like(u), np.ones_like(u)

    def edge(across: Any, down: Any) -> Any:
        return np.stack([wide * across, down], axis=1)

    top, bottom = edge(u, -arc(u)), edge(u, high - sine(u))
    left, right = edge(zero, high * v), edge(one, high * v)
    corner = {(x, y): edge(x + zero, high * y + zero) for x in (0.0, 1.0) for y in (0.0, 1.0)}
    a, b = u[:, None], v[:, None]
    ruled = (1 - b) * top + b * bottom + (1 - a) * left + a * right
    bilinear = (1 - a) * ((1 - b) * corner[0.0, 0.0] + b * corner[0.0, 1.0])
    bilinear += a * ((1 - b) * corner[1.0, 0.0] + b * corner[1.0, 1.0])
    between = [rails.arched(0.0, 0.0, wide, rise), rails.waved(high, 0.0, wide, wave, 1.0, up=True)]
    onto = rails.Between(np.array([0.0, high]), between, wide / 4.0)
    made = onto.points(np.stack([wide * u, high * v], axis=1))
    assert np.abs(made - (ruled - bilinear)).max() < 0.002


@pytest.mark.parametrize(("height", "times"), [(20.0, 1.0), (35.0, 3.0)])
def test_a_sine_is_as_long_as_the_elliptic_integral_says(height: float, times: float) -> None:
    """Length of a sine: its period times 2 sqrt(1 + k^2) E(k^2 / (1 + k^2)) / pi, k its steepest slope."""

    def sine(width: float) -> float:
        k2 = (np.pi * height * times / width) ** 2
        return float(width * 2.0 / np.pi * np.sqrt(1.0 + k2) * ellipe(k2 / (1.0 + k2)))

    rail = rails.waved(0.0, 0.0, 240.0, height, times, up=True)
    x = np.linspace(0.0, 240.0, 200_001)
    drawn = np.hypot(np.diff(x), np.diff(rail.at(x))).sum()
    assert drawn == pytest.approx(sine(240.0), rel=1e-5)
    path = wave(300.0, height, times, up=False)
    assert path.length == pytest.approx(300.0, abs=1e-5)
    across = path.cubics[-1, 3, 0] - path.cubics[0, 0, 0]
    assert sine(across) == pytest.approx(300.0, rel=1e-5)


def test_a_net_is_a_tensor_product_of_bernstein_polynomials() -> None:
    """Against SciPy's B-splines, whose knots piled up at both ends make them Bernstein's; and the example of
    Farin, Curves and Surfaces for CAGD: the bilinear patch over the corners of z = x y.
    """
    rng = np.random.default_rng(5)
    for rows, columns in ((2, 2), (4, 3), (6, 8)):
        control = even((0.0, 0.0, 1.0, 1.0), rows, columns) + 0.1 * rng.normal(size=(rows, columns, 2))
        knots = tuple(np.repeat([0.0, 1.0], n) for n in (rows, columns))
        spline = NdBSpline(knots, control, (rows - 1, columns - 1))
        u, v = rng.uniform(size=(2, 50))
        found = Net((0.0, 0.0, 1.0, 1.0), control).points(np.stack([u, v], axis=1))
        assert found == pytest.approx(spline(np.stack([v, u], axis=1)), abs=1e-12)
        # More points keep the shape exactly.
        more = Net((0.0, 0.0, 1.0, 1.0), resized(control, 8, 8)).points(np.stack([u, v], axis=1))
        assert more == pytest.approx(found, abs=1e-9)
    corners = np.array([[[0.0, 0.0], [1.0, 0.0]], [[0.0, 0.0], [1.0, 1.0]]])
    assert Net((0.0, 0.0, 1.0, 1.0), corners).points(np.array([[0.5, 0.5]]))[0] == pytest.approx([0.5, 0.25])


def test_affine_nets_are_affine_maps_and_mirrors_commute() -> None:
    region = words("Rig")
    corner = bounds(region)
    assert corner
    matrix = np.array([[1.2, 0.3, 4.0], [-0.2, 0.9, 7.0]])
    control = even(corner, 3, 4)
    moved = control @ matrix[:, :2].T + matrix[:, 2]
    made, true = warped(region, Net(corner, moved)), region.transformed(matrix)
    assert fine(made).symmetric_difference(fine(true)).area < 0.001 * length(true)
    assert made.node_count == true.node_count

    rng = np.random.default_rng(3)
    pulled = control + 0.06 * (corner[2] - corner[0]) * rng.normal(size=control.shape)
    flip = np.array([[-1.0, 0.0, corner[0] + corner[2]], [0.0, 1.0, 0.0]])
    other = (pulled @ flip[:, :2].T + flip[:, 2])[:, ::-1]
    left = warped(region.transformed(flip), Net(corner, other))
    right = warped(region, Net(corner, pulled)).transformed(flip)
    assert fine(left).symmetric_difference(fine(right)).area < 0.01 * length(right)


# -- as near as promised, with few nodes

MAPS: dict[str, Any] = {
    "arc": lambda x0, y0, x1, y1: Arc(
        ((x0 + x1) / 2.0, y1), ((x0 + x1) / 2.0, y1 + (x1 - x0) / 2.2), (x1 - x0) / 2.2
    ),
    "wave": lambda x0, y0, x1, y1: Along(
        wave(x1 - x0, (x1 - x0) / 40.0, 2.0, True), (x0, (y0 + y1) / 2.0), 0.0, (x1 - x0) / 8.0
    ),
    "own": lambda x0, y0, x1, y1: Along(
        through(np.array([[0.0, 0.0], [0.4, -0.1], [0.7, 0.05], [1.1, 0.0]]) * (x1 - x0)),
        (x0, (y0 + y1) / 2.0),
        0.0,
        (x1 - x0) / 12.0,
    ),
    "rails": lambda x0, y0, x1, y1: rails.Between(
        np.array([y0, y1]),
        [rails.arched(y0, x0, x1, (x1 - x0) / 4.0), rails.waved(y1, x0, x1, 8.0, 3.0, False, True)],
        (x1 - x0) / 12.0,
    ),
    "net": lambda x0, y0, x1, y1: Net(
        (x0, y0, x1, y1),
        even((x0, y0, x1, y1), 4, 4)
        + 0.12 * (y1 - y0) * np.random.default_rng(1).uniform(-1.0, 1.0, size=(4, 4, 2)),
    ),
}


@pytest.mark.parametrize("kind", MAPS)
def test_every_font_comes_out_as_near_as_promised(kind: str) -> None:
    for entry in font_catalogue():
        region = words("Rig Sé8 ends", entry.id)
        corner = bounds(region)
        assert corner
        onto = MAPS[kind](*corner)
        assert onto.holds_over(corner), entry.id
        made = warped(region, onto)
        assert furthest(region, onto, made) < 0.01, entry.id
        assert holds_finely(made), entry.id
        assert made.node_count <= 2.5 * region.node_count, (entry.id, made.node_count, region.node_count)


def test_what_stays_straight_gets_no_node() -> None:
    onto = rails.Between(
        np.array([0.0, 30.0]),
        [rails.tilted(0.0, 0.0, 100.0, 12.0), rails.arched(30.0, 0.0, 100.0, -20.0)],
        25.0,
    )
    made = warped(box(0.0, 0.0, 100.0, 30.0), onto)
    upright = made.straight & (np.abs(made.end - made.start)[:, 0] < 1e-9)
    assert upright.sum() == 2
    assert (made.straight & ~upright).sum() == 1, "a level edge on a tilted rail is one line"
    again = warped(
        made,
        rails.Between(np.array([0.0, 30.0]), [rails.level(0.0, 0, 100), rails.level(30.0, 0, 100)], 25.0),
    )
    assert again.node_count == made.node_count


def test_levels_are_kinks_and_nothing_is_lost_at_them() -> None:
    heights = np.array([0.0, 20.0, 26.0, 50.0])
    edges = [rails.level(y, 0.0, 80.0) for y in (0.0, 30.0, 33.0, 50.0)]
    made = warped(disc(40.0, 25.0, 24.0), rails.Between(heights, edges, 20.0))
    assert_keeps_its_promises(made)
    above = shapely.box(0.0, 0.0, 80.0, 30.0)
    upper = fine(made).intersection(above).area
    assert upper == pytest.approx(
        1.5 * fine(disc(40.0, 25.0, 24.0)).intersection(shapely.box(0, 0, 80, 20)).area, abs=0.5
    )


# -- folds


def test_folds_are_found_and_only_they() -> None:
    rng = np.random.default_rng(11)
    grid = np.stack(np.meshgrid(*[np.linspace(0.0, 1.0, 81)] * 2), axis=2).reshape(-1, 2)
    corner, found = (0.0, 0.0, 1.0, 1.0), [0, 0]
    for _ in range(120):
        net = Net(corner, even(corner, 4, 4) + rng.uniform(0.1, 0.5) * rng.uniform(-1, 1, size=(4, 4, 2)))
        determinant = np.linalg.det(net.jacobian(grid)).min()
        place = net.fold()
        if determinant < -1e-3:
            assert place is not None, "a fold that samples see is not missed"
        if place is None:
            assert determinant > 0.0
        elif determinant > 0.05:
            pytest.fail("a net far from folding is let through")
        found[place is None] += 1
    assert min(found) > 20
    for _ in range(60):
        path = through(np.cumsum(rng.uniform(0.5, 2.0, size=(5, 2)) * (8.0, rng.choice([-6.0, 6.0])), axis=0))
        reach = rng.uniform(1.0, 12.0)
        s = np.linspace(0.0, path.length, 4001)
        tightest = 1.0 - reach * np.abs(path.at(s)[2]).max()
        holds = path.holds_within(-reach, reach)
        assert not (holds and tightest < -1e-6)
        assert holds or tightest < 0.05


def test_a_sharp_turn_between_the_ends_of_a_cubic_is_found() -> None:
    path = Path(np.array([[[0.0, 0.0], [12.0, 30.0], [8.0, 30.0], [20.0, 0.0]]]))
    bends = path.at(np.linspace(0.0, path.length, 20_001))[2]
    tightest = 1.0 / np.abs(bends).max()
    assert np.abs(bends[[0, -1]]).max() < 0.2 * np.abs(bends).max(), "it is between them"
    assert path.holds_within(-0.98 * tightest, 0.98 * tightest)
    assert not path.holds_within(-1.02 * tightest, 1.02 * tightest)


# -- rows that share a rail


@pytest.mark.parametrize("apart", [0.0, 2.0, 6.0])
def test_rows_are_as_far_apart_as_asked_square_to_their_rail(apart: float) -> None:
    """Waves up to 45 degrees steep: the edges of the rows, and the letters between them."""
    width, times = 250.0, 2.0
    rail = rails.waved(0.0, 0.0, width, width / np.pi / times * 0.99, times, True)
    x = np.linspace(20.0, width - 20.0, 3001)
    assert np.abs(rail.slope(x)).max() == pytest.approx(1.0, abs=0.02)
    upper, lower = (rail.parallel(side * apart / 2.0) for side in (-1.0, 1.0))
    wide = np.linspace(-40.0, width + 40.0, 60_001)
    below = shapely.LineString(np.stack([wide, lower.at(wide)], axis=1))
    found = away(below, shapely.points(x, upper.at(x)))
    assert found == pytest.approx(np.full(len(x), apart), abs=0.02)

    line = {
        "id": "l2",
        "kind": "rails",
        "of": ["l1/letters"],
        "top": {"shape": "level"},
        "between": [{"shape": "waved", "rise": 26.0}, {"shape": "waved", "rise": 26.0, "upside_down": True}],
        "apart": apart,
    }
    proof = proof_of({**WORDS, "rows": ROWS}, line)
    assert [f.text for f in proof.findings if f.level == "stop"] == []
    parts = proof.results[1].made.parts()
    rows = [shapely.union_all([fine(p.region) for p in parts if p.path[0] == row]) for row in range(3)]
    for upper_row, lower_row in pairwise(rows):
        assert upper_row.distance(lower_row) > apart - 0.02


# -- letters that only turn


HEART = {"id": "l0", "kind": "shape", "figure": "heart", "width": 300.0, "height": 240.0}
EDGE = {"curve": "edge", "edge": "l0/shape"}
#: Up and down like a gable: a point given twice is a corner.
ROOF = [[-160.0, 60.0], [0.0, -40.0], [0.0, -40.0], [160.0, 60.0]]


@pytest.mark.parametrize(
    "bend",
    [
        {"rise": 60.0},
        {"rise": -50.0},
        {"curve": "circle", "diameter": 170.0},
        {"curve": "wave", "height": 60.0},
        EDGE,
        {**EDGE, "side": "inside", "clock": 4.0},
    ],
)
def test_letters_that_turn_keep_their_gaps(bend: dict[str, Any]) -> None:
    line = {"id": "l2", "kind": "bend", "of": ["l1/letters"], "letters": "turned", **bend}
    proof = proof_of(HEART, {**WORDS, "rows": [{"text": "BOATHOUSE"}]}, line)
    flat, turned = (result.made.parts() for result in proof.results[1:])
    for (a, b), (c, d) in zip(pairwise(flat), pairwise(turned), strict=True):
        before, after = (fine(x.region).distance(fine(y.region)) for x, y in ((a, b), (c, d)))
        assert after == pytest.approx(before, abs=0.02), (a.name, b.name)
    for one, other in zip(flat, turned, strict=True):
        assert area(one.region) == pytest.approx(area(other.region), rel=1e-9), "they only turn"


def test_a_point_given_twice_is_a_corner_for_letters_that_only_turn() -> None:
    """On either side of a gable all letters lean alike, by the angle of its roof; smooth, none two do."""
    roof = through(np.array(ROOF), corners=True)
    assert roof.length == pytest.approx(2.0 * np.hypot(160.0, 100.0), rel=1e-9)
    smooth = through(np.array(ROOF))
    assert smooth.length != pytest.approx(roof.length, abs=1.0)
    line = {"id": "l2", "kind": "bend", "of": ["l1/letters"], "curve": "own", "points": ROOF}
    flat, turned = (
        result.made.parts()
        for result in proof_of(
            {**WORDS, "rows": [{"text": "HHHHHHHH"}]}, {**line, "letters": "turned"}
        ).results
    )
    leans = []
    for one, other in zip(flat, turned, strict=True):
        (a, b), (c, d) = one.region.start[:2], other.region.start[:2]
        was, now = np.arctan2(*(b - a)[::-1]), np.arctan2(*(d - c)[::-1])
        leans.append(float(np.degrees((now - was + np.pi) % (2.0 * np.pi) - np.pi)))
    roof_angle = np.degrees(np.arctan2(100.0, 160.0))
    assert leans[:3] == pytest.approx([-roof_angle] * 3, abs=0.01)
    assert leans[-3:] == pytest.approx([roof_angle] * 3, abs=0.01)
    clear = [fine(a.region).distance(fine(b.region)) for a, b in pairwise(turned)]
    asked = [fine(a.region).distance(fine(b.region)) for a, b in pairwise(flat)]
    # Across the ridge they may have to be farther from each other than was asked, and nowhere nearer.
    off = np.array(clear) - np.array(asked)
    assert off.min() > -0.02
    assert (off > 0.02).sum() <= 1
    # Letters that bend cannot: the line says so, and bends smoothly.
    bent = proof_of({**WORDS, "rows": [{"text": "HHHHHHHH"}]}, line)
    assert any("go smoothly past corners" in finding.text for finding in bent.findings)


@given(
    st.lists(
        st.tuples(st.floats(-160.0, 160.0), st.floats(-90.0, 90.0), st.booleans()), min_size=2, max_size=6
    ),
    st.sampled_from(["GABLE ROOF", "Ag", "i", "Reed & oar"]),
    st.sampled_from(["turned", "bent"]),
)
@settings(max_examples=25)
def test_any_curve_of_ones_own_is_followed_or_refused(
    places: list[tuple[float, float, bool]], text: str, letters: str
) -> None:
    points = [[x, y] for x, y, corner in places for _ in range(2 if corner else 1)]
    line = {"id": "l2", "kind": "bend", "of": ["l1/letters"], "curve": "own", "points": points}
    proof = proof_of({**WORDS, "rows": [{"text": text}]}, {**line, "letters": letters})
    assert not any("went wrong" in finding.text for finding in proof.findings), points
    assert all(holds_finely(result.region) for result in proof.results)


def test_turned_letters_stay_about_the_middle() -> None:
    line = {"id": "l2", "kind": "bend", "of": ["l1/letters"], "letters": "turned", "rise": 60.0}
    proof = proof_of({**WORDS, "rows": [{"text": "HOTTOH"}]}, line)
    flat, turned = (bounds(result.region) for result in proof.results)
    assert flat
    assert turned
    assert turned[0] + turned[2] == pytest.approx(flat[0] + flat[2], abs=0.5)


# -- along the edge of something


@pytest.mark.parametrize("side", ["outside", "inside"])
@pytest.mark.parametrize("letters", ["bent", "turned"])
def test_the_edge_of_a_disc_is_a_circle(side: str, letters: str) -> None:
    disc_line = {"id": "l0", "kind": "shape", "figure": "oval", "width": 240.0, "height": 240.0}
    away = {"outside": 8.0, "inside": -8.0}[side]
    alike: dict[str, Any] = {
        "kind": "bend",
        "of": ["l1/letters"],
        "letters": letters,
        "side": side,
        "clock": 2.0,
    }
    proof = proof_of(
        disc_line,
        {**WORDS, "rows": [{"text": "REGATTA"}]},
        {**alike, "id": "l2", "curve": "edge", "edge": "l0/shape", "away": 8.0},
        {**alike, "id": "l3", "curve": "circle", "diameter": 2.0 * (120.0 + away)},
    )
    assert proof.findings == []
    edge, circle = (fine(result.region) for result in proof.results[2:])
    # A circle bent along lies where its words' middle was; the disc where it is.
    dx, dy = np.subtract(circle.centroid.coords[0], edge.centroid.coords[0])
    assert edge.area == pytest.approx(circle.area, rel=1e-3)
    moved = shapely.transform(edge, lambda xy: xy + (dx, dy))
    assert farthest_apart(moved, circle) < 0.02


@pytest.mark.parametrize("fills", [20.0, 75.0])
def test_words_spread_over_a_share_of_their_curve(fills: float) -> None:
    words_line = {**WORDS, "rows": [{"text": "REGATTA"}]}
    disc_line = {"id": "l0", "kind": "shape", "figure": "oval", "width": 240.0, "height": 240.0}
    bend = {"id": "l2", "kind": "bend", "of": ["l1/letters"], "fills": fills}
    straight = proof_of(
        words_line, {**bend, "curve": "own", "points": [[-200.0, 0.0], [0.0, 0.0], [200.0, 0.0]]}
    )
    x0, _, x1, _ = fine(straight.results[-1].region).bounds
    assert x1 - x0 == pytest.approx(400.0 * fills / 100.0, abs=0.02)
    circle = proof_of(words_line, {**bend, "curve": "circle", "diameter": 300.0})
    edge = proof_of(disc_line, words_line, {**bend, "curve": "edge", "edge": "l0/shape", "away": 8.0})
    x0, _, x1, _ = fine(circle.results[0].region).bounds
    top = circle.results[0].made.levels[0]
    for proof, centre in ((circle, ((x0 + x1) / 2.0, top + 150.0)), (edge, (0.0, 0.0))):
        x, y = (shapely.get_coordinates(fine(proof.results[-1].region)) - centre).T
        # Twelve o'clock, where the words have their middle, is straight up.
        turns = np.arctan2(x, -y)
        assert np.ptp(turns) == pytest.approx(2.0 * np.pi * fills / 100.0, abs=1e-3)


def test_words_follow_an_edge_at_their_distance_and_round_its_corners() -> None:
    line = {"id": "l2", "kind": "bend", "of": ["l1/letters"], **EDGE, "away": 6.0}
    proof = proof_of(HEART, {**WORDS, "rows": [{"text": "HATHLINE"}]}, line)
    heart, flat, bent = (fine(result.region) for result in proof.results)
    # Letters of this font reach a little below their baseline, some more than others.
    below = flat.bounds[3] - proof.results[1].made.levels[0]
    (note,) = proof.findings
    assert note.mend
    assert note.mend.values["soft"] > 10.0
    assert heart.distance(bent) == pytest.approx(6.0 - below, abs=0.05)
    mended = proof_of(HEART, {**WORDS, "rows": [{"text": "HATHLINE"}]}, {**line, **note.mend.values})
    assert mended.findings == []
    assert_keeps_its_promises(mended.results[-1].region)
    for wrong, says in (({"edge": ""}, "not chosen"), ({"side": "inside", "away": 150.0}, "no room")):
        assert says in proof_of(HEART, WORDS, {**line, **wrong}).findings[0].text


# -- in a recipe


def test_a_warp_of_several_keeps_plies_and_what_fits_together() -> None:
    """Words with an oval knocked out of them, both bent: their cut edges still meet, each on its ply."""
    oval = {"id": "l2", "kind": "shape", "figure": "oval", "width": 60, "height": 40}
    cut = {"id": "l3", "kind": "knock_out", "of": ["l2/shape"], "out_of": ["l1/letters"], "clearance": 0}
    bend = {"id": "l4", "kind": "bend", "of": ["l3/l1/letters", "l3/l2/shape"], "rise": 40}
    line = {**WORDS, "rows": [{"text": "BOATHOUSE"}]}
    plies = [
        {"id": "p1", "name": "words", "material": "m", "results": ["l4/l3/l1/letters"]},
        {"id": "p2", "name": "oval", "material": "m", "results": ["l4/l3/l2/shape"]},
    ]
    design = read_design(
        {
            "format": "perigram",
            "version": 2,
            "recipe": [line, oval, cut, bend],
            "materials": [{"id": "m", "name": "Card", "colour": "#112233"}],
            "plies": plies,
        }
    )
    proof = evaluate(design, DesignSources(design))
    assert proof.is_cuttable
    words_ply, oval_ply = (fine(ply.region) for ply in proof.plies)
    whole = fine(evaluate(*with_first(design)).results[-1].region)
    assert words_ply.intersection(oval_ply).area < 0.05
    assert words_ply.union(oval_ply).symmetric_difference(whole).area < 0.5
    # Taken off, plies have what they had before; with a source less, so has that one's.
    assert plies_of(remove_line(design, "l4")) == {"words": ["l3/l1/letters"], "oval": ["l3/l2/shape"]}
    less = change_sources(design, "l4", {"of": ["l3/l1/letters"]})
    assert plies_of(less) == {"words": ["l4/l3/l1/letters"], "oval": ["l3/l2/shape"]}
    bare = remove_line(design, "l3")
    assert plies_of(bare) == {"words": ["l4/l1/letters"], "oval": ["l4/l2/shape"]}
    assert bare.recipe[-1].of == ["l1/letters", "l2/shape"]


def with_first(design: Design) -> tuple[Design, DesignSources]:
    """The words alone, bent as they are with the oval."""
    recipe = [design.recipe[0], design.recipe[3].model_copy(update={"of": ["l1/letters"]})]
    alone = design.model_copy(update={"recipe": recipe, "plies": []})
    return alone, DesignSources(alone)


def test_a_rail_as_another_follows_it() -> None:
    line = {**WORDS, "rows": [{"text": "SALT"}]}
    lead = {"id": "l2", "kind": "rails", "of": ["l1/letters"], "top": {"shape": "arched", "rise": 30}}
    other = {**line, "id": "l3", "place": {"x": 0, "y": 200}}
    follows = {
        "id": "l4",
        "kind": "rails",
        "of": ["l3/letters"],
        "top": {"like": "l2/top"},
        "bottom": {"like": "l2/top", "upside_down": True},
    }
    same = {**follows, "top": lead["top"], "bottom": {**lead["top"], "upside_down": True}}
    for rise in (30, 12):
        lead["top"]["rise"] = same["top"]["rise"] = same["bottom"]["rise"] = rise
        found, expected = (proof_of(line, lead, other, one).results[-1].region for one in (follows, same))
        assert found.digest() == expected.digest()
    gone = proof_of(line, {**follows, "of": ["l1/letters"]})
    assert any("not there any more" in f.text for f in gone.findings)


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ({"kind": "bend", "rise": 200}, "at most 91 mm high, not 200 mm"),
        ({"kind": "bend", "curve": "circle", "diameter": 40}, "80 mm across or more"),
        ({"kind": "bend", "curve": "wave", "height": 60, "times": 3}, "fold over each other"),
        ({"kind": "bend", "curve": "radius", "radius": 10}, "40 mm or more"),
        ({"kind": "rails", "top": {"shape": "arched", "rise": -900}}, "The rails cross"),
        (
            {"kind": "net", "of_rows": 2, "of_columns": 2, "points": [(1.5, 0), (0, 0), (0, 0), (0, 0)]},
            "folds",
        ),
        ({"kind": "bend", "rise": 1e6}, "can be -2000 to 2000 mm"),
    ],
)
def test_what_cannot_hold_says_what_would(line: dict[str, Any], says: str) -> None:
    proof = proof_of({**WORDS, "rows": [{"text": "BOATHOUSE"}]}, {"id": "l2", "of": ["l1/letters"], **line})
    assert any(says in f.text for f in proof.findings if f.level == "stop"), [f.text for f in proof.findings]
    if "can be" not in says:
        assert_keeps_its_promises(proof.results[-1].region)
    for mend in (f.mend for f in proof.findings if f.mend):
        mended = proof_of(
            {**WORDS, "rows": [{"text": "BOATHOUSE"}]},
            {"id": "l2", "of": ["l1/letters"], **line, **mend.values},
        )
        assert not [f.text for f in mended.findings if f.level == "stop"], "what is offered holds"


@pytest.mark.parametrize(
    "bend",
    [
        {"curve": "turn", "turn": 300.0, "on": "cap"},
        {"curve": "turn", "turn": -300.0},
        {"curve": "radius", "radius": -22.0},
        {"curve": "circle", "diameter": 60.0, "side": "inside"},
        {"curve": "wave", "height": 60.0, "times": 3.0},
    ],
)
def test_what_is_offered_where_letters_fold_is_what_shows(bend: dict[str, Any]) -> None:
    line = {**WORDS, "rows": [{"text": "HOVE"}], "size": 120.0}
    bend = {**bend, "id": "l2", "kind": "bend", "of": ["l1/letters"]}
    shown = proof_of(line, bend)
    [mend] = [found.mend for found in shown.findings]
    assert mend
    offered = proof_of(line, {**bend, **mend.values})
    assert offered.findings == []
    # To the tenth of a mm or degree it is rounded to.
    assert farthest_apart(fine(offered.results[-1].region), fine(shown.results[-1].region)) < 0.4
    [(value, figure)] = mend.values.items()
    tighter = 0.9 if value in ("radius", "diameter") else 1.1
    folds = proof_of(line, {**bend, value: float(figure) * tighter})
    assert "fold over" in folds.findings[0].text


@pytest.mark.parametrize(
    ("shape", "pulled"),
    [
        ({"shape": "level"}, ["top.rise", "top.rise", "top.rise", "top.moved"]),
        ({"shape": "tilted"}, ["top.rise", "top.rise"]),
        ({"shape": "arched", "rise": 40.0}, ["top.rise"]),
        ({"shape": "waved", "times": 2.0}, ["top.rise", "top.rise"]),
        ({"shape": "own", "points": [(0.25, 12.0), (0.75, -8.0)]}, ["top.points.0", "top.points.1"]),
    ],
)
def test_a_rail_is_pulled_where_it_is(shape: dict[str, Any], pulled: list[str]) -> None:
    line = {"id": "l2", "kind": "rails", "of": ["l1/letters"], "top": shape}
    shaping = proof_of(WORDS, line).shapings["l2"]
    handles = [one for one in shaping.handles if one.value.startswith("top.")]
    assert [one.value for one in handles] == pulled
    top = shapely.LineString(shaping.curves[0])
    assert all(top.distance(shapely.Point(one.at)) < 0.1 for one in handles)


@pytest.mark.parametrize("moved", [35.0, 45.0, 60.0, 90.0])
def test_a_row_that_a_letter_moved_by_hand_hangs_beside_is_one_with_it(moved: float) -> None:
    """The second row is small and stands within the height of the first, one letter of which hangs down."""
    small = {"text": "HOME", "size": 4.0, "above": {"value": 30.0, "of": "mm"}}
    rows = [{"text": "HEAVE", "own": [{"at": 0, "y": moved}]}, small]
    line = {"id": "l2", "kind": "rails", "of": ["l1/letters"], "top": {"shape": "tilted", "rise": 4.0}}
    flat, railed = proof_of({**WORDS, "rows": rows, "size": 40.0, "fit": "tall"}, line).results
    assert_keeps_its_promises(railed.region)
    assert area(railed.region) == pytest.approx(area(flat.region), rel=0.1)


@pytest.mark.parametrize("rise", [-300.0, 60.0, 300.0])
@pytest.mark.parametrize("down", [-600.0, 600.0])
def test_sides_hold_for_what_lies_beyond_the_rows(rise: float, down: float) -> None:
    """What they run through goes on beyond the rows, and comes to cross there."""
    heart = {"id": "l2", "kind": "shape", "width": 240.0, "height": 60.0, "place": {"y": down}}
    side = {"shape": "arched", "rise": rise}
    of = ["l1/letters", "l2/shape"]
    proof = proof_of(
        {**WORDS, "rows": ROWS[:1]},
        heart,
        {"id": "l3", "kind": "rails", "of": of, "left": side, "right": side},
    )
    for result in proof.results:
        assert_keeps_its_promises(result.region)


def test_nothing_pulled_leaves_all_as_it_is() -> None:
    still: list[dict[str, Any]] = [
        {"kind": "bend", "rise": 0},
        {"kind": "rails", "top": {"shape": "level"}},
        {"kind": "net"},
    ]
    for line in still:
        first, second = proof_of(
            {**WORDS, "rows": [{"text": "BOATHOUSE"}]}, {"id": "l2", "of": ["l1/letters"], **line}
        ).results
        assert first.region.digest() == second.region.digest(), line


RAIL = st.fixed_dictionaries(
    {
        "shape": st.sampled_from(["level", "tilted", "arched", "waved", "own"]),
        "rise": st.floats(-300, 300),
        "top": st.floats(10, 90),
        "times": st.floats(0.25, 8),
        "ends_level": st.booleans(),
        "upside_down": st.booleans(),
        "moved": st.floats(-40, 40),
        "points": st.lists(st.tuples(st.floats(0, 1), st.floats(-60, 60)), max_size=5),
    }
)
WARP = st.one_of(
    st.fixed_dictionaries(
        {
            "kind": st.just("bend"),
            "curve": st.sampled_from(["arc", "radius", "turn", "circle", "wave", "own"]),
            "rise": st.floats(-300, 300),
            "radius": st.floats(-500, 500),
            "turn": st.floats(-355, 355),
            "diameter": st.floats(5, 800),
            "side": st.sampled_from(["outside", "inside"]),
            "clock": st.floats(0, 12),
            "height": st.floats(0, 200),
            "times": st.floats(0.25, 12),
            "on": st.sampled_from(["cap", "middle", "base"]),
            "letters": st.sampled_from(["bent", "turned"]),
            "fills": st.sampled_from([0.0, 30.0, 100.0]),
            "points": st.lists(st.tuples(st.floats(-300, 300), st.floats(-200, 200)), max_size=6),
        }
    ),
    st.fixed_dictionaries(
        {
            "kind": st.just("rails"),
            "top": RAIL,
            "bottom": RAIL,
            "between": st.lists(RAIL, max_size=2),
            "apart": st.floats(0, 30),
            "left": RAIL,
            "right": RAIL,
        }
    ),
    st.fixed_dictionaries(
        {
            "kind": st.just("net"),
            "rows": st.integers(2, 5),
            "columns": st.integers(2, 5),
            "of_rows": st.just(3),
            "of_columns": st.just(3),
            "points": st.lists(st.tuples(*[st.floats(-0.6, 0.6)] * 2), min_size=9, max_size=9),
        }
    ),
)


@given(WARP, WARP, st.sampled_from(["anton", "pacifico", "lobster"]))
def test_warps_of_any_kind_and_of_each_other_are_sound(
    first: dict[str, Any], second: dict[str, Any], font: str
) -> None:
    line = {**WORDS, "font": font, "size": 120.0, "rows": [{"text": "Tide"}, {"text": "RUN"}]}
    proof = proof_of(
        line,
        {"id": "l2", "of": ["l1/letters"], **first},
        {"id": "l3", "of": ["l2/l1/letters"], **second},
    )
    assert not [f.text for f in proof.findings if "in Perigram itself" in f.text]
    for result in proof.results:
        assert_keeps_its_promises(result.region)


def test_a_straight_path_is_the_line_it_is() -> None:
    path = Path(np.array([[[0.0, 0.0], [10.0, 0.0], [20.0, 0.0], [30.0, 0.0]]]))
    points, ways, curvature = path.at(np.array([-5.0, 0.0, 12.0, 40.0]))
    assert points == pytest.approx(np.array([[-5.0, 0], [0, 0], [12.0, 0], [40.0, 0]]), abs=1e-9)
    assert ways == pytest.approx(np.array([[1.0, 0.0]] * 4))
    assert curvature == pytest.approx(np.zeros(4))
