"""Overlay: the hard inputs one by one, and agreement with libraries that are not ours."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from perigram.core.errors import GeometryError
from perigram.core.geometry import Region, cut_away, divide, exclude, overlap, regularise, weld
from perigram.core.geometry.arrange import places_in
from perigram.core.geometry.bezier import line_controls
from perigram.core.geometry.edges import Edges
from perigram.core.geometry.folds import filled, unfolded
from perigram.core.geometry.measure import area, bounds, length
from perigram.core.geometry.overlay import slice_apart
from perigram.core.geometry.pen import RegionPen
from perigram.core.geometry.restore import SPECK, region_of, restore

from .material import (
    EVERY,
    HEAVY,
    SCRIPT,
    assert_keeps_its_promises,
    bezier_area,
    box,
    clipped_area,
    disc,
    farthest_apart,
    fine,
    polygon,
    row,
)

OPERATIONS = {
    "Union": lambda a, b: weld([a, b]),
    "Difference": cut_away,
    "Intersection": overlap,
    "Xor": exclude,
}


def same_curves(a: Region, b: Region) -> bool:
    """Whether two regions have bit for bit the same segments, wherever their loops begin."""

    def rows(region: Region) -> set[bytes]:
        return {s.tobytes() for s in region.segments}

    return rows(a) == rows(b)


def random_pair(seed: int) -> tuple[Region, Region]:
    rng = np.random.default_rng(seed)
    words = ["REGATTA", "Slipway", "Tide 24", "boathouse", "&OARS", "Wherry", "Qjg8%"]
    a = row(str(rng.choice(EVERY)), str(rng.choice(words)), float(rng.choice([30, 80, 240])))
    b = row(
        str(rng.choice(SCRIPT if seed % 2 else EVERY)), str(rng.choice(words)), float(rng.choice([40, 100]))
    )
    x0, y0, x1, y1 = bounds(a)  # type: ignore[misc]
    b = b.rotated(float(rng.choice([0, 0, 15, 90, rng.uniform(0, 360)])))
    return a, b.translated(float(rng.uniform(x0, x1) - 20), float(rng.uniform(y0, y1)))


@pytest.mark.parametrize("seed", range(240))
def test_areas_agree_with_a_polygon_clipper_and_a_bezier_library(seed: int) -> None:
    """Clipper2 by pyclipr, Skia's path operations by skia-pathops; both must agree with us.

    The Bezier library computes in single precision and is known to go wrong silently about once in a
    thousand overlays of lettering; where it disagrees, the clipper and a union of finely flattened
    polygons have to agree with us within a tenth of the slack.
    """
    a, b = random_pair(seed)
    for kind, operation in OPERATIONS.items():
        ours = operation(a, b)
        assert_keeps_its_promises(ours)
        slack = 0.001 * (length(a) + length(b)) + 0.01
        clipped = clipped_area(a, b, kind)
        assert abs(area(ours) - clipped) < slack, kind
        if abs(area(ours) - bezier_area(a, b, kind)) > slack:
            assert abs(area(ours) - clipped) < slack / 10, kind


@pytest.mark.parametrize("seed", range(0, 240, 8))
def test_nodes_stay_near_the_sources(seed: int) -> None:
    a, b = random_pair(seed)
    crossings = len(
        shapely.get_parts(shapely.intersection(shapely.boundary(fine(a)), shapely.boundary(fine(b))))
    )
    for operation in OPERATIONS.values():
        assert operation(a, b).node_count <= a.node_count + b.node_count + 2 * crossings


def test_untouched_outlines_come_back_bit_for_bit() -> None:
    words = row("anton", "REGATTA", 254)
    far = disc(1000, 1000, 5)
    assert same_curves(cut_away(words, far), words)
    assert same_curves(weld([words, far]), Region.joined([words, far]))


@pytest.mark.parametrize("seed", range(40))
def test_a_knockout_welded_to_its_other_half_gives_the_original(seed: int) -> None:
    a, b = random_pair(1000 + seed)
    whole = weld(list(divide(a, b)))
    assert area(whole) == pytest.approx(area(a), abs=1e-6)
    assert farthest_apart(fine(whole), fine(a)) < 1e-6
    # All but at most a few outlines that only graze the cut come back with their very bits.
    ours = {s.tobytes() for s in whole.segments}
    kept = sum(s.tobytes() in ours for s in a.segments)
    assert kept >= 0.98 * a.node_count


@pytest.mark.parametrize("seed", range(20))
def test_a_part_taken_off_leaves_what_taking_off_its_cutter_does(seed: int) -> None:
    """A part ends amid curves of the whole, off its chords there: hairs were left between the two."""
    whole, cutter = random_pair(seed)
    part, rest = overlap(whole, cutter), cut_away(whole, cutter)
    made = [cut_away(whole, part), exclude(whole, part), cut_away(whole, rest), weld([whole, part, rest])]
    for one, wanted in zip(made, [rest, rest, part, whole], strict=True):
        # Where two crossings lie in one place they may settle on one node for two.
        assert abs(one.node_count - wanted.node_count) <= 1
        assert shapely.symmetric_difference(fine(one), fine(wanted), grid_size=1e-7).area < 1e-4
    assert all(slice_.parents != {1} for slice_ in slice_apart([whole, part]))


class TestHardInputs:
    def test_outline_laid_on_itself(self) -> None:
        words = row("lobster", "Slipway", 120)
        assert same_curves(weld([words, words]), words)
        assert same_curves(overlap(words, words), words)
        assert cut_away(words, words).is_empty
        assert exclude(words, words).is_empty

    def test_shared_edges(self) -> None:
        left, right = box(0, 0, 10, 10), box(10, 0, 10, 10)
        joined = weld([left, right])
        assert (joined.piece_count, area(joined)) == (1, 200)
        assert overlap(left, right).is_empty
        assert area(cut_away(left, right)) == 100

    def test_tangent_circles(self) -> None:
        a, b, inside = disc(0, 0, 10), disc(20, 0, 10), disc(5, 0, 5)
        assert area(weld([a, b])) == pytest.approx(200 * np.pi, rel=1e-5)
        assert area(overlap(a, b)) < 1e-3
        crescent = cut_away(a, inside)
        assert_keeps_its_promises(crescent)
        assert area(crescent) == pytest.approx(75 * np.pi, rel=1e-5)

    @pytest.mark.parametrize("apart", [1e-4, 1e-3, 5e-3, 2e-2, 5e-2])
    def test_nearly_coincident_outlines(self, apart: float) -> None:
        words = row("pacifico", "Regatta", 150)
        moved = words.translated(apart, apart / 3)
        for operation in OPERATIONS.values():
            assert_keeps_its_promises(operation(words, moved))
        lost = area(words) - area(overlap(words, moved))
        assert 0 <= lost < length(words) * apart
        assert area(weld([words, moved])) == pytest.approx(area(words) + lost, abs=1e-3 * length(words) * 0.1)

    def test_self_crossing_glyph_strokes(self) -> None:
        """Figure eight and a stroke crossing itself: nonzero fills what either loop goes round."""
        bow = polygon((0, 0), (10, 10), (10, 0), (0, 10))
        assert (bow.piece_count, area(bow)) == (2, 50)
        pen = RegionPen()
        pen.move_to((0, 0))
        pen.cubic_to((40, 30), (-30, 30), (10, 0))
        curl = pen.region()
        assert_keeps_its_promises(curl)
        assert curl.piece_count >= 1

    def test_nested_and_inverted_loops(self) -> None:
        def ring(order: int) -> Region:
            pen = RegionPen()
            for inset, way in ((0, 1), (2, order), (4, 1)):
                corners = [(inset, inset), (20 - inset, inset), (20 - inset, 20 - inset), (inset, 20 - inset)]
                corners = corners[::way]
                pen.move_to(corners[0])
                for corner in corners[1:]:
                    pen.line_to(corner)
                pen.close()
            return pen.region("nonzero")

        assert area(ring(1)) == 400
        assert area(ring(-1)) == 400 - 256 + 144

    def test_evenodd_and_nonzero_on_a_pentagram(self) -> None:
        """The star of SVG 1.1 section 11.3, fill-rule: nonzero fills the middle, evenodd leaves it open."""
        angle = np.pi / 2 + np.arange(5) * 4 * np.pi / 5
        corners = np.stack([np.cos(angle), np.sin(angle)], axis=1) * 10
        segments = line_controls(corners, np.roll(corners, -1, axis=0))
        straight, loops = np.zeros(5, bool), np.array([0, 5])
        solid = regularise(segments, straight, loops, "nonzero")
        open_ = regularise(segments, straight, loops, "evenodd")
        inner = 10 * np.cos(2 * np.pi / 5) / np.cos(np.pi / 5)
        pentagon = 2.5 * inner**2 * np.sin(2 * np.pi / 5)
        assert area(solid) - area(open_) == pytest.approx(pentagon, rel=1e-12)
        assert (solid.loop_count, open_.piece_count) == (1, 5)

    def test_loops_touching_at_a_point(self) -> None:
        corner = weld([box(0, 0, 10, 10), box(10, 10, 10, 10)])
        assert_keeps_its_promises(corner)
        assert area(corner) == 200
        bitten = cut_away(box(0, 0, 10, 10), polygon((10, 5), (6, 2), (6, 8)))
        assert_keeps_its_promises(bitten)
        assert area(bitten) == pytest.approx(88)

    def test_duplicate_loops_zero_segments_and_cusps(self) -> None:
        pen = RegionPen()
        for _ in range(2):
            pen.move_to((0, 0))
            pen.line_to((0, 0))
            pen.cubic_to((10, 0), (10, 0), (10, 0))
            pen.cubic_to((0, 10), (10, 10), (0, 0))
            pen.close()
        region = pen.region()
        assert_keeps_its_promises(region)
        assert area(region) > 0

    def test_hairline_slits_and_specks(self) -> None:
        slit = cut_away(box(0, 0, 10, 10), box(2, 5, 9, 1e-4))
        assert_keeps_its_promises(slit)
        assert area(slit) == pytest.approx(100 - 8e-4, abs=1e-9)
        assert polygon((0, 0), (1e-4, 0), (0, 1e-4)).is_empty

    @pytest.mark.parametrize("size", [0.01, 0.1, 10, 5000])
    def test_sizes_from_a_hundredth_of_a_millimetre_to_five_metres(self, size: float) -> None:
        words = row("anton", "REGATTA", 100).scaled(size / 100, size / 100)
        tool = disc(size / 2, -size * 0.15, size * 0.12)
        rest = cut_away(words, tool)
        assert_keeps_its_promises(rest)
        assert area(rest) + area(overlap(words, tool)) == pytest.approx(
            area(words), abs=1e-6 * size**2 + 2 * SPECK
        )

    def test_empty_operands(self) -> None:
        nothing, square = Region.empty(), box(0, 0, 1, 1)
        assert weld([]).is_empty
        assert weld([nothing, square]) is square
        assert cut_away(nothing, square).is_empty
        assert cut_away(square, nothing) is square
        assert overlap(square, nothing).is_empty
        assert exclude(nothing, square) is square

    @pytest.mark.parametrize("bad", [np.nan, np.inf, 1e9])
    def test_what_no_cutter_could_follow_is_refused(self, bad: float) -> None:
        with pytest.raises(GeometryError, match="coordinate"):
            polygon((0, 0), (bad, 0), (0, 1))

    def test_more_than_can_be_worked_on_is_refused_with_its_figure(self) -> None:
        """A comb over a comb crosses as often as one has edges times the other's."""
        tooth, bar, dot = box(0, 0, 20_000, 1), box(0, 0, 1, 4000), disc(0, 0, 0.1, 32)
        teeth = Region.joined([tooth.translated(0, 2.0 * i) for i in range(1600)])
        across = Region.joined([bar.translated(2.0 * i, 0) for i in range(1600)])
        with pytest.raises(GeometryError, match=r"cross about .* million times; up to 4 million"):
            cut_away(teeth, across)
        dots = Region.joined([dot.translated(0.4 * i, 0.4 * j) for i in range(120) for j in range(120)])
        with pytest.raises(GeometryError, match=r"need 4.* points; up to 400,000"):
            weld([dots, tooth])


@pytest.mark.parametrize("way", [1, -1])
def test_a_hair_at_the_top_of_a_ring_does_not_turn_it_round(way: int) -> None:
    """Rounding leaves hairs where edges should have cancelled; a hole that ends in one was filled once."""
    hair = [(50, 80), (50, 95), (50, 80)]
    outer = [(0, 0), (100, 0), (100, 100), (50, 100), (50, 120), (50, 100), (0, 100)]
    hole = [(20, 20), (80, 20), (80, 80), *hair, (20, 80)]
    ring = shapely.polygons(outer[::way], [hole[::way]])
    region = region_of(ring)
    assert area(region) == pytest.approx(100.0 * 100.0 - 60.0 * 60.0)
    assert region.loop_count == 2
    turned = region_of(shapely.transform(ring, lambda xy: xy * [1.0, -1.0]))
    assert area(turned) == pytest.approx(area(region))


def test_hairs_are_taken_off_an_outcome_and_nothing_else() -> None:
    """Where edges should have cancelled: outwards, inwards, one on top of another, and a speck by itself."""
    hairs = [(20.0, 5.0), (27.0, 5.0 + 1e-12), (24.0, 5.0), (20.0, 5.0)]
    outer = [(0, 0), (20, 0), *hairs, (20, 10), (9, 10), (9, 4), (9, 10), (0, 10)]
    speck = shapely.polygons([(40, 0), (50, 0), (50, 1e-12)])
    made = unfolded(shapely.multipolygons([shapely.polygons(outer), speck]))
    assert shapely.is_valid(made)
    assert shapely.equals(made, shapely.box(0, 0, 20, 10))
    plain = shapely.box(0, 0, 20, 10)
    assert unfolded(plain) is plain
    # What is not valid without its hairs is for others to work out.
    assert unfolded(shapely.polygons([(0, 0), (10, 10), (10, 0), (0, 4), (-5, 4), (0, 4)])) is None


def test_bodies_that_cross_themselves_are_filled_or_refused() -> None:
    """A crossing of a thousandth is filled; of a bow tie GEOS would lose half."""
    crossed = shapely.polygons(
        [(0, 0), (10, 0), (10, 10), (5, 10), (5.001, -0.001), (4.999, -0.001), (5, 10), (0, 10)]
    )
    made = filled(crossed)
    assert made is not None
    assert shapely.is_valid(made)
    assert shapely.area(made) == pytest.approx(shapely.area(crossed), abs=1e-3)
    assert filled(shapely.polygons([(0, 0), (10, 10), (10, 0), (0, 10)])) is None
    sound = shapely.box(0, 0, 1, 1)
    assert filled(sound) is sound


def test_an_outcome_that_cannot_be_traced_comes_as_its_lines() -> None:
    """Right in area, if not in curves: never quietly another shape."""
    source = box(0.0, 0.0, 10.0, 10.0)
    outcome = shapely.box(200.0, 0.0, 230.0, 20.0)
    (region,) = restore(Edges.of([source], [source.flat]), [outcome])
    assert area(region) == pytest.approx(600.0)
    assert shapely.equals(region.multipolygon, shapely.multipolygons([outcome]))


def test_slicing_gives_every_piece_with_its_parentage() -> None:
    """Three discs in a Venn diagram: seven pieces, one for each way of lying in some of them."""
    discs = [disc(0, 0, 10), disc(10, 0, 10), disc(5, 8, 10)]
    pieces = slice_apart(discs)
    assert sorted(sorted(p.parents) for p in pieces) == [[0], [0, 1], [0, 1, 2], [0, 2], [1], [1, 2], [2]]
    for index, whole in enumerate(discs):
        mine = sum(area(p.region) for p in pieces if index in p.parents)
        assert mine == pytest.approx(area(whole), rel=1e-9)
    assert sum(area(p.region) for p in pieces) == pytest.approx(area(weld(discs)), rel=1e-9)
    for i, a in enumerate(pieces):
        assert_keeps_its_promises(a.region)
        assert all(area(overlap(a.region, b.region)) < 1e-6 for b in pieces[i + 1 :])
    words, band = row("lobster", "Slipway", 120), box(-5, -14, 140, 5)
    cut = slice_apart([words, band])
    assert len(cut) > 12
    assert same_curves(weld([p.region for p in cut if 0 in p.parents]), words)


@st.composite
def figures(draw: st.DrawFn) -> Region:
    """Small crowds of boxes, discs and letters on a coarse grid, so that edges coincide often."""
    parts = []
    for _ in range(draw(st.integers(1, 3))):
        x, y = draw(st.integers(0, 8)), draw(st.integers(0, 8))
        kind = draw(st.sampled_from(["box", "disc", "letter"]))
        if kind == "box":
            parts.append(box(x, y, draw(st.integers(1, 5)), draw(st.integers(1, 5))))
        elif kind == "disc":
            parts.append(disc(x, y, draw(st.integers(1, 3)), 4))
        else:
            parts.append(
                row(draw(st.sampled_from(HEAVY[:4])), draw(st.sampled_from("RO8&")), 6).translated(x, y)
            )
    return weld(parts)


def same_points(a: Region, b: Region) -> bool:
    """Whether two regions differ by no more than the promised 0.01 mm anywhere.

    Where outlines only just touch, as they often do on this grid, the place of their crossing is open
    within the flattening tolerance; what differs then must be thinner than that on both sides.
    """
    differing = shapely.symmetric_difference(fine(a), fine(b))
    return differing.area < 0.02 and shapely.buffer(differing, -0.005).is_empty


@given(figures(), figures())
def test_laws_of_overlay(a: Region, b: Region) -> None:
    welded = weld([a, b])
    for region in (welded, cut_away(a, b), overlap(a, b), exclude(a, b)):
        assert_keeps_its_promises(region)
    assert same_points(welded, weld([b, a]))
    assert same_points(weld([welded, b]), welded)
    assert same_points(weld([cut_away(a, b), overlap(a, b)]), a)
    assert area(cut_away(a, b)) + area(overlap(a, b)) == pytest.approx(area(a), abs=2e-3)
    assert same_points(exclude(a, b), weld([cut_away(a, b), cut_away(b, a)]))


@given(figures(), figures(), st.sampled_from([0.0, 90.0, 30.0]), st.booleans())
def test_moving_turning_and_mirroring_commute_with_overlay(
    a: Region, b: Region, turn: float, flip: bool
) -> None:
    def moved(region: Region) -> Region:
        region = region.scaled(-1.0, 1.0) if flip else region
        return region.rotated(turn).translated(3.5, -2.25)

    assert same_points(moved(cut_away(a, b)), cut_away(moved(a), moved(b)))
    assert_keeps_its_promises(moved(a))


def test_areas_of_circles_and_sectors() -> None:
    """Closed forms: a disc, a quarter of one, and the lens of two (Weisstein, Circle-Circle Intersection)."""
    assert area(disc(3, 4, 7, 16)) == pytest.approx(np.pi * 49, rel=1e-7)
    assert length(disc(3, 4, 7, 16)) == pytest.approx(2 * np.pi * 7, rel=1e-7)
    quarter = overlap(disc(0, 0, 7, 16), box(0, 0, 20, 20))
    assert area(quarter) == pytest.approx(np.pi * 49 / 4, rel=1e-7)
    lens = overlap(disc(0, 0, 5, 16), disc(6, 0, 5, 16))
    assert area(lens) == pytest.approx(2 * 25 * np.arccos(6 / 10) - 6 / 2 * np.sqrt(4 * 25 - 36), rel=1e-6)


@pytest.mark.parametrize(
    ("radius", "other", "over", "way", "kind"),
    [
        (7.834361909244082, 7.500466531726602, 0.018777442374383852, 2.4757137969178165, "Difference"),
        (31.413370610161238, 1.2883330814847123, 0.00040844678079794174, 1.9146788157232613, "Difference"),
        (2.1807005751428337, 2.597009629292695, 0.0021214246979585857, 1.5925262630790913, "Difference"),
        (5.049831771301126, 2.884964634602175, 0.003906672911075614, 3.439919841937925, "Intersection"),
    ],
)
def test_polishing_is_undone_where_it_makes_outlines_cross(
    radius: float, other: float, over: float, way: float, kind: str
) -> None:
    """Discs that all but touch inside: moved onto both curves, the nodes of the sliver change places."""
    apart = abs(radius - other) + over
    a, b = disc(0.0, 0.0, radius), disc(apart * np.cos(way), apart * np.sin(way), other)
    made = cut_away(a, b) if kind == "Difference" else overlap(a, b)
    assert_keeps_its_promises(made)
    assert area(made) == pytest.approx(clipped_area(a, b, kind), abs=0.001 * 2 * np.pi * max(radius, other))


@pytest.mark.parametrize("neck", [5.6e-17, 1e-9, 1e-7])
def test_faces_are_known_by_a_place_well_inside_them(neck: float) -> None:
    """GEOS's own lies in the neck: found as a whole letter that one took for a hole."""
    left = [(-8, 29), (-8, 14), (-neck, neck), (-neck, -neck), (-8, -14), (-8, -29)]
    right = [(8, -29), (8, -14), (neck, -neck), (neck, neck), (8, 14), (8, 29)]
    faces = np.array([shapely.polygons([*left, *right]), shapely.box(0, 0, 1, 4e-6), shapely.box(0, 0, 1, 1)])
    assert shapely.distance(faces[0].boundary, shapely.point_on_surface(faces[0])) <= neck
    places = places_in(faces)
    assert shapely.contains(faces, places).all()
    far = shapely.distance(shapely.boundary(faces), places)
    assert far[0] > 5e-6
    assert far[1] == pytest.approx(2e-6)
    assert far[2] == pytest.approx(0.5)
