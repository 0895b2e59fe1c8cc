"""Combining against closed forms, a second clipper, and polygons of a library that is not ours."""

from __future__ import annotations

import random
from itertools import pairwise
from typing import Any, get_args

import numpy as np
import pyclipr
import pytest
import shapely
from shapely import affinity

from perigram.core.art import shapes
from perigram.core.combine.bridges import bridged, islands, strips_for
from perigram.core.combine.joining import close_gaps
from perigram.core.combine.let_in import room_of
from perigram.core.errors import PerigramError
from perigram.core.geometry import Region
from perigram.core.geometry.measure import area, bounds, length
from perigram.core.geometry.overlay import cut_away, weld
from perigram.core.recipe.design import Design, read_design, slots_of
from perigram.core.recipe.edit import add_line, change_sources, remove_line
from perigram.core.recipe.evaluate import Proof, evaluate
from perigram.core.recipe.lines import KINDS, kind_of
from perigram.core.recipe.refs import ref_to
from perigram.core.recipe.scale import scale_to
from perigram.library import DesignSources, load_design

from .material import (
    EVERY,
    assert_keeps_its_promises,
    box,
    disc,
    farthest_apart,
    fine,
    ring_areas,
    rings,
    row,
)
from .test_parts import plies_of
from .test_recipe import ROOT
from .test_warp import proof_of

WORDS = {"id": "l1", "kind": "letter", "font": "bowlby-one", "size": 180.0, "rows": [{"text": "HARBOUR"}]}
HEART = {"id": "l2", "kind": "shape", "figure": "heart", "width": 110.0, "height": 100.0}


def words(font: str, text: str, size: float = 180.0) -> dict[str, Any]:
    return WORDS | {"font": font, "size": size, "rows": [{"text": text}]}


def proof_with(ply: dict[str, Any], *recipe: dict[str, Any]) -> Proof:
    """The proof of lines of which one ply is cut."""
    design = {"format": "perigram", "version": 2, "recipe": list(recipe), "plies": [ply]}
    read = read_design({**design, "materials": [{"id": "m", "name": "Ember smooth", "colour": "#d9532c"}]})
    return evaluate(read, DesignSources(read))


def made(proof: Proof, ref: str) -> Region:
    return next(result.region for result in proof.results if result.ref == ref)


# -- slice, and pieces that stay picked


@pytest.mark.parametrize("font", ["bowlby-one", "pacifico", "alfa-slab-one"])
def test_parts_of_a_slice_add_up_to_the_weld(font: str) -> None:
    sliced = {"id": "l3", "kind": "slice", "of": ["l1/letters", "l2/shape"]}
    proof = proof_of(
        words(font, "Harbour 8"), HEART, sliced, {"id": "l4", "kind": "weld", "of": sliced["of"]}
    )
    pieces = [piece.region for piece in proof.pieces["l3"]]
    whole = made(proof, "l4/weld")
    assert sum(area(one) for one in pieces) == pytest.approx(area(whole), rel=1e-9)
    for one in pieces:
        assert_keeps_its_promises(one)
    both = shapely.union_all([fine(one) for one in pieces])
    assert both.symmetric_difference(fine(whole)).area < 0.02
    halves = area(made(proof, "l3/l1/letters")) + area(made(proof, "l3/l2/shape"))
    assert halves == pytest.approx(area(whole), rel=1e-9)


#: Words that begin alike, so that the picked letter is there in each, and other fonts, sizes and places.
_CHANGES = [
    lambda rng: {"rows": [{"text": "HAR" + "".join(rng.choice("BOUNDS") for _ in range(rng.randrange(6)))}]},
    lambda rng: {"font": rng.choice(["bowlby-one", "anton", "alfa-slab-one", "bungee"])},
    lambda rng: {"size": rng.uniform(120.0, 260.0)},
    lambda rng: {"place": {"x": rng.uniform(-12.0, 12.0), "y": rng.uniform(-8.0, 8.0)}},
    lambda rng: {"gap": rng.uniform(0.2, 3.0)},
]


def test_a_picked_piece_is_still_the_one_a_person_would_point_at() -> None:
    """Of 200 changes upstream after a pick: what it stands for is most of what that letter shares with the
    plate, or a finding says that it is not sure.
    """
    plate = {"id": "l2", "kind": "shape", "figure": "rounded box", "width": 400.0, "height": 24.0}
    slicing = {"id": "l3", "kind": "slice", "of": ["l1/letters", "l2/shape"]}
    proof = proof_of(WORDS, plate, slicing)
    letters = made_parts(proof)
    target = fine(letters[1])
    pick = next(
        one.pick.model_dump()
        for one in proof.pieces["l3"]
        if len(one.pick.parents) == 2 and fine(one.region).intersection(target).area > 0.5 * area(one.region)
    )
    assert pick["anchor"]["part"] == [0, 1], "held by its letter"
    rng = random.Random(7)
    unsure = 0
    for _ in range(200):
        changed = WORDS | rng.choice(_CHANGES)(rng) | rng.choice(_CHANGES)(rng)
        proof = proof_of(changed, plate, {**slicing, "picks": [{**pick, "to": ""}]})
        assert not [f for f in proof.findings if f.level == "stop"]
        dropped = [fine(one.region) for one in proof.pieces["l3"] if not one.pick.to]
        if any("may not be" in f.text for f in proof.findings):
            unsure += 1
            continue
        (gone,) = dropped
        meant = fine(made_parts(proof)[1])
        assert gone.intersection(meant).area > 0.9 * gone.area
    assert unsure <= 20, f"{unsure} of 200 not sure"


def made_parts(proof: Proof) -> list[Region]:
    return [part.region for part in proof.results[0].made.parts()]


def test_pieces_kept_and_dropped_by_hand() -> None:
    line: dict[str, Any] = {"id": "l3", "kind": "keep_parts", "of": "l1/letters"}
    proof = proof_of(words("anton", "i!j"), line)
    assert made(proof, "l3/parts") is made(proof, "l1/letters") or area(made(proof, "l3/parts")) == area(
        made(proof, "l1/letters")
    )
    dots = sorted(proof.pieces["l3"], key=lambda one: area(one.region))[:3]
    picks = [one.pick.model_dump() for one in dots]
    without = proof_of(words("anton", "i!j"), {**line, "picks": picks})
    only = proof_of(words("anton", "i!j"), {**line, "picks": picks, "keep": "only"})
    assert area(made(only, "l3/parts")) == pytest.approx(sum(area(one.region) for one in dots))
    both = area(made(without, "l3/parts")) + area(made(only, "l3/parts"))
    assert both == pytest.approx(area(made(proof, "l1/letters")))


# -- rings


@pytest.mark.parametrize(("inner", "outer"), [(2.0, 5.0), (0.0, 3.0), (1.0, 1.4)])
def test_a_ring_of_a_convex_figure_has_the_area_of_steiners_formula(inner: float, outer: float) -> None:
    """area(K + d) = area(K) + perimeter(K) d + pi d^2 (Steiner 1840), so the band's is the difference."""
    for figure in ("oval", "polygon"):
        shape = {"id": "l1", "kind": "shape", "figure": figure, "width": 90.0, "height": 50.0, "points": 7}
        proof = proof_of(
            shape, {"id": "l2", "kind": "ring", "of": ["l1/shape"], "inner": inner, "outer": outer}
        )
        around = length(made(proof, "l1/shape"))
        expected = around * (outer - inner) + np.pi * (outer**2 - inner**2)
        assert area(made(proof, "l2/ring")) == pytest.approx(expected, abs=0.002 * around)


@pytest.mark.parametrize("font", EVERY)
def test_rings_of_every_font_leave_nothing_to_clean(font: str) -> None:
    ring = {"id": "l2", "kind": "ring", "of": ["l1/letters"], "inner": 1.0, "outer": 3.0, "holes": "kept"}
    proof = proof_of(words(font, "Rag8&", 120.0), ring)
    band = made(proof, "l2/ring")
    assert_keeps_its_promises(band)
    body = fine(band)
    for piece in shapely.get_parts(body):
        assert not piece.buffer(-0.55).is_empty, "no fragment narrower than the band"
        for hole in piece.interiors:
            assert not shapely.Polygon(hole).buffer(-0.05).is_empty, "no pinhole"
    # What a disc of half a millimetre does not fit into is the tip of a corner, not a hair.
    opened = body.buffer(-0.25, quad_segs=32).buffer(0.27, quad_segs=32)
    assert all(one.area < 0.1 for one in shapely.get_parts(body.difference(opened))), "no hair"
    source = fine(made(proof, "l1/letters"))
    assert body.distance(source) == pytest.approx(1.0, abs=0.02)
    assert farthest_apart(body, source) < 3.05 + 60.0


# -- bridges


@pytest.mark.parametrize("font", EVERY)
def test_every_island_of_every_font_is_held(font: str) -> None:
    bridge = {"id": "l2", "kind": "bridge", "of": "l1/letters", "width": 1.2}
    proof = proof_of(words(font, "ABDOPQR abdegopq 04689 %&@", 400.0), bridge)
    left = made(proof, "l2/bridged")
    assert_keeps_its_promises(left)
    held = len(islands(made(proof, "l1/letters"))) - len(islands(left))
    # What cannot be held is told; with polygons of another library the plate is one piece but for those.
    x0, y0, x1, y1 = bounds(left) or (0.0, 0.0, 0.0, 0.0)
    plate = shapely.box(x0 - 5, y0 - 5, x1 + 5, y1 + 5).difference(fine(left))
    # Specks of a tenth of a mm, where a font's own outlines cross, are nobody's island.
    loose = sum(one.area > 0.05 for one in shapely.get_parts(plate)) - 1
    told = [f for f in proof.findings if "still drop out" in f.text]
    assert bool(loose) == bool(told)
    assert held >= 0.9 * (held + loose), f"{loose} islands of {font} not held"


def test_islands_near_each_other_are_held_from_outside() -> None:
    """The shortest strip joins the two; one of them must reach the edge all the same."""
    plate = cut_away(box(-60, -40, 120, 80), weld([disc(-7, 0, 5), disc(7, 0, 5)]))
    strips = strips_for(plate, 1.0, 1)
    assert sorted(-1 in strip.joins for strip in strips) == [False, True]
    assert len(islands(bridged(plate, strips))) == 0


def test_strips_are_taken_away_and_set_by_hand() -> None:
    line: dict[str, Any] = {"id": "l2", "kind": "bridge", "of": "l1/letters", "width": 2.0, "each": 1}
    proof = proof_of(words("anton", "O"), line)
    (strip,) = proof.pieces["l2"]
    gone = {"gone": [strip.pick.anchor.model_dump()]}
    alone = proof_of(words("anton", "O"), {**line, **gone})
    assert area(made(alone, "l2/bridged")) == pytest.approx(area(made(alone, "l1/letters")))
    assert any("1 island would still drop out" in f.text for f in alone.findings)
    # Set where the stroke of the letter is, half way up its left side.
    own = {"of": "l1/letters", "part": [0, 0], "at": [0.05, 0.5]}
    set_ = proof_of(words("anton", "O"), {**line, **gone, "own": [own]})
    assert len(islands(made(set_, "l2/bridged"))) == 0
    # It goes along when the letter is another size.
    larger = proof_of(words("anton", "O", 300.0), {**line, **gone, "own": [own]})
    assert len(islands(made(larger, "l2/bridged"))) == 0


def test_a_plate_of_card_says_what_would_drop_out() -> None:
    design = load_design(ROOT / "demo" / "crate-stencil.perigram.json")

    def says(one: Design) -> list[str]:
        return [f.text for f in evaluate(one, DesignSources(one)).findings if "drop out" in f.text]

    assert says(design) == []
    body = design.model_dump(mode="json")
    body["recipe"][3]["tool"] = ["l2/letters"]
    assert says(read_design(body)) == ["11 islands of Stencil would drop out: bridge what is cut out of it"]


# -- textures, repeats, figures


@pytest.mark.parametrize("pattern", ["scales", "stripes", "dots", "checks", "waves", "bricks"])
def test_textures_cover_what_their_tiles_do(pattern: str) -> None:
    """The share covered is that of a tile in its cell, but for the edges; tiles keep clear of each other."""
    size, clear = 6.0, 1.0
    shape = {
        "id": "l1",
        "kind": "shape",
        "figure": "rounded box",
        "width": 300.0,
        "height": 200.0,
        "radius": 0.0,
    }
    texture = {
        "id": "l2",
        "kind": "texture",
        "of": "l1/shape",
        "pattern": pattern,
        "size": size,
        "clear": clear,
    }
    proof = proof_of(shape, {**texture, "turn": 17.0, "least": 0.0})
    covered = area(made(proof, "l2/texture"))
    assert covered + area(made(proof, "l2/rest")) == pytest.approx(300.0 * 200.0, rel=1e-6)
    shares = {
        "stripes": size / (size + clear),
        "dots": np.pi * size**2 / 4.0 / ((size + clear) ** 2 * np.sqrt(3.0) / 2.0),
        "checks": (size - clear) ** 2 / (2.0 * size**2),
        "waves": size / (size + clear * np.hypot(1.0, np.pi / 6.0)),
        "bricks": size * size / 2.0 / ((size + clear) * (size / 2.0 + clear)),
    }
    if pattern in shares:
        assert covered / (300.0 * 200.0) == pytest.approx(shares[pattern], rel=0.02)
    tiles = fine(made(proof, "l2/texture")).geoms
    tree = shapely.STRtree(list(tiles))
    near, _ = tree.query(list(tiles), predicate="dwithin", distance=clear - 0.05)
    # A corner of the area may cut a tile in two.
    assert len(near) - len(tiles) <= 4, "every tile clear of its neighbours"


def test_a_texture_in_words_leaves_no_sliver() -> None:
    texture = {
        "id": "l2",
        "kind": "texture",
        "of": "l1/letters",
        "pattern": "scales",
        "size": 5.0,
        "least": 0.8,
    }
    proof = proof_of(words("bowlby-one", "TIDE"), texture)
    parts = shapely.get_parts(fine(made(proof, "l2/texture")))
    assert all(not one.buffer(-0.39).is_empty for one in parts)
    assert fine(made(proof, "l2/texture")).difference(fine(made(proof, "l1/letters"))).area < 0.02
    assert any("at the edge dropped" in f.text for f in proof.findings)


def test_no_texture_has_a_bit_that_is_narrower_than_what_it_drops() -> None:
    """What only a hair holds comes off when a ply is made fit to be cut, and would be one then."""
    scales = {"id": "l2", "kind": "texture", "of": "l1/letters"}
    lettering = words("anton", "Gull & Anchor", 200.0) | {"gap": 0.3}
    ply = {"id": "p", "name": "Scales", "material": "m", "results": ["l2/texture"]}
    proof = proof_with(ply, lettering, scales)
    assert not [f.text for f in proof.findings if "bit" in f.text]
    parts = shapely.get_parts(fine(proof.plies[0].region))
    assert min(2.0 * shapely.maximum_inscribed_circle(one, 0.001).length for one in parts) > 0.99


def test_what_is_left_of_nothing_is_called_by_its_line() -> None:
    far = HEART | {"place": {"x": 900.0, "y": 0.0}}
    within = {"id": "l3", "kind": "keep_within", "of": ["l1/letters"], "tool": ["l2/shape"]}
    said = [f.text for f in proof_of(WORDS, far, within).findings if f.line == "l3"]
    assert said == ["Keep within leaves nothing of line 1."]


@pytest.mark.parametrize("kind", ["texture", "art", "repeat"])
def test_what_is_not_chosen_yet_is_said_once(kind: str) -> None:
    line = {
        "texture": {"id": "l2", "kind": "texture", "of": "l1/letters", "pattern": "picture"},
        "art": {"id": "l2", "kind": "art"},
        "repeat": {"id": "l2", "kind": "repeat", "of": ["l1/letters"], "how": "mirrored", "about": ""},
    }[kind]
    name = {"texture": "l2/texture", "art": "l2/art", "repeat": "l2/l1/letters"}[kind]
    ply = {"id": "p", "name": "Top", "material": "m", "results": [name]}
    proof = proof_with(ply, words("anton", "HARBOUR"), line)
    (said,) = [f for f in proof.findings if f.level != "holds" and "strand" not in f.text]
    assert said.level == "stop"
    assert "chosen yet" in said.text
    if kind == "texture":
        assert proof.plies[0].region.piece_count == 7


def test_repeats_are_where_they_should_be() -> None:
    shape = {"id": "l1", "kind": "shape", "figure": "drop", "width": 20.0, "height": 30.0}
    row = {"id": "l2", "kind": "repeat", "of": ["l1/shape"], "how": "row", "count": 5, "apart": 12.0}
    boxes = sorted(one.bounds for one in fine(made(proof_of(shape, row), "l2/l1/shape")).geoms)
    assert [b[0] - a[2] for a, b in pairwise(boxes)] == pytest.approx([12.0] * 4, abs=0.01)
    # The middle of all stays where the middle of the one was.
    assert boxes[0][0] + boxes[-1][2] == pytest.approx(0.0, abs=0.01)
    circle = {**row, "how": "circle", "count": 6, "radius": 80.0}
    drops = fine(made(proof_of(shape, circle), "l2/l1/shape")).geoms
    centroids = np.array([one.centroid.coords[0] for one in drops])
    middle = centroids.mean(axis=0)
    assert middle == pytest.approx((0.0, 80.0), abs=0.01)
    away = np.hypot(*(centroids - middle).T)
    assert away == pytest.approx(np.full(6, away[0]), abs=0.01)
    mirrored = {**row, "how": "mirrored", "about": "l0/shape"}
    other = {"id": "l0", "kind": "shape", "width": 10.0, "height": 10.0, "place": {"x": 40.0, "y": -35.0}}
    own = fine(made(proof_of(shape), "l1/shape"))
    images = {
        "sideways": [(-1, 1)],
        "down": [(1, -1)],
        "both": [(-1, 1), (1, -1), (-1, -1)],
    }
    for axis, ways in images.items():
        drops = fine(made(proof_of(other, shape, {**mirrored, "axis": axis}), "l2/l1/shape"))
        by_hand = [affinity.scale(own, x, y, origin=(40.0, -35.0)) for x, y in [(1, 1), *ways]]
        assert farthest_apart(drops, shapely.union_all(by_hand)) < 0.01


def test_copies_that_stay_upright_stand_where_turned_ones_do() -> None:
    """Evenly round the middle of a thing, each the same way up as the first, which stays where it was."""
    other = {"id": "l0", "kind": "shape", "width": 10.0, "height": 10.0, "place": {"x": 40.0, "y": -15.0}}
    place = {"x": 7.0, "y": -4.0}
    shape = {"id": "l1", "kind": "shape", "figure": "oval", "width": 6.0, "height": 3.0, "place": place}
    line = {
        "id": "l2",
        "kind": "repeat",
        "of": ["l1/shape"],
        "how": "around",
        "about": "l0/shape",
        "count": 5,
    }
    proof = proof_of(other, shape, {**line, "turning": "upright"})
    boxes = np.array([one.bounds for one in fine(made(proof, "l2/l1/shape")).geoms])
    assert boxes[:, 2:] - boxes[:, :2] == pytest.approx(np.tile([6.0, 3.0], (5, 1)), abs=0.01)
    fifths = np.exp(2j * np.pi * np.arange(5) / 5)
    spots = complex(40.0, -15.0) + (complex(7.0, -4.0) - complex(40.0, -15.0)) * fifths
    found = (boxes[:, :2] + boxes[:, 2:]) @ [0.5, 0.5j]
    assert sorted(found, key=np.angle) == pytest.approx(sorted(spots, key=np.angle), abs=0.01)


@pytest.mark.parametrize(
    ("how", "axis", "way"),
    [
        ("row", "sideways", (1, 0)),
        ("column", "sideways", (0, 1)),
        ("circle", "sideways", (0, 1)),
        ("beside", "sideways", (1, 0)),
        ("beside", "down", (0, 1)),
    ],
)
def test_a_repeat_is_pulled_to_where_its_handle_goes(how: str, axis: str, way: tuple[int, int]) -> None:
    """And copies beside each other are as far apart as the sentence says."""
    shape = {"id": "l1", "kind": "shape", "figure": "drop", "width": 20.0, "height": 30.0}
    line = {"id": "l2", "kind": "repeat", "of": ["l1/shape"], "how": how, "axis": axis, "count": 4}
    value = "radius" if how == "circle" else "apart"
    found = []
    for change in (0.0, 1.0):
        pulled = found[0].now[0] + change * np.dot(found[0].along, (3.0, 5.0)) if found else 12.0
        proof = proof_of(shape, {**line, value: float(pulled)})
        [handle] = proof.shapings["l2"].handles
        found.append(handle)
        if how != "circle":
            side = way.index(1)
            boxes = sorted(
                (one.bounds for one in fine(made(proof, "l2/l1/shape")).geoms), key=lambda b: b[side]
            )
            gaps = [b[side] - a[side + 2] for a, b in pairwise(boxes)]
            assert gaps == pytest.approx([pulled] * len(gaps), abs=0.01)
    before, after = (np.array(one.at) for one in found)
    assert after - before == pytest.approx(np.array((3.0, 5.0)) * way)


@pytest.mark.parametrize("figure", get_args(shapes.Figure))
def test_figures_fill_their_box_and_keep_every_promise(figure: shapes.Figure) -> None:
    for width, height, points, depth in (
        (2.0, 3.0, 1, 5.0),
        (80.0, 40.0, 5, 50.0),
        (2500.0, 900.0, 60, 95.0),
    ):
        drawn = shapes.draw(shapes.Shape(figure, width, height, 6.0, points, depth))
        assert_keeps_its_promises(drawn)
        assert shapely.is_valid(drawn.flattened(0.0005).multipolygon())
        assert bounds(drawn) == pytest.approx((-width / 2, -height / 2, width / 2, height / 2), rel=1e-4)


# -- a word in an outline, and pieces made one


@pytest.mark.parametrize("clear", [0.0, 3.0, 9.0, 25.0, -0.7])
def test_the_room_of_a_word_is_its_closing_grown(clear: float) -> None:
    """By GEOS, step by step: grown by half its height, holes filled, shrunk again, grown by what is clear."""
    word = row("anton", "HEAP", 90, "wide", "clear", 2.0)
    x0, y0, x1, y1 = fine(word).bounds
    half = min(50.0 - abs(clear), (y1 - y0) / 2.0)

    def without_holes(shape: shapely.Geometry) -> shapely.Geometry:
        return shapely.union_all(shapely.polygons(shapely.get_exterior_ring(shapely.get_parts(shape))))

    grown = without_holes(shapely.buffer(without_holes(fine(word)), half, quad_segs=256))
    wanted = shapely.buffer(shapely.buffer(grown, -half, quad_segs=256), clear, quad_segs=256)
    room = room_of(word, clear)
    assert_keeps_its_promises(room)
    assert shapely.area(shapely.symmetric_difference(fine(room), wanted)) < 0.01 * shapely.length(wanted)
    assert (x1 - x0) * (y1 - y0) < 1.2 * area(room_of(word, max(clear, 0.0)))


def test_a_word_let_into_an_oar() -> None:
    oar = {"id": "l2", "kind": "shape", "figure": "rounded box", "width": 400.0, "height": 8.0}
    one = {"id": "l3", "kind": "weld", "of": ["l1/letters"], "close": 0.6, "asked": "one"}
    joined = {"id": "l4", "kind": "let_in", "of": "l3/weld", "into": "l2/shape", "how": "joined"}
    proof = proof_of(WORDS, oar, one, joined)
    whole = fine(made(proof, "l4/into"))
    assert len(whole.geoms) == 1
    assert whole.area < fine(made(proof, "l2/shape")).area + fine(made(proof, "l3/weld")).area
    word = fine(made(proof, "l3/weld"))
    assert word.difference(whole).area < 0.05, "the word is whole in it"
    clear = proof_of(WORDS, oar, one, {**joined, "how": "clear", "clear": 1.5})
    ends = fine(made(clear, "l4/into"))
    assert len(ends.geoms) == 2
    assert ends.distance(word) == pytest.approx(1.5, abs=0.02)


def test_what_is_not_one_piece_says_where_and_is_closed() -> None:
    line: dict[str, Any] = {"id": "l2", "kind": "weld", "of": ["l1/letters"], "asked": "one"}
    proof = proof_of(WORDS | {"gap": 1.4}, line)
    (note,) = [f for f in proof.findings if f.line == "l2"]
    assert "not one: the widest gap between them is" in note.text
    assert note.mend
    widest = float(note.text.split("is ")[-1].removesuffix(" mm"))
    assert widest < note.mend.values["close"] < widest + 0.21
    closed = proof_of(WORDS | {"gap": 1.4}, {**line, **note.mend.values})
    assert len(fine(made(closed, "l2/weld")).geoms) == 1
    # Nothing but what lies between two letters is added.
    letters = shapely.get_parts(fine(made(closed, "l1/letters")))
    more = fine(made(closed, "l2/weld")).difference(shapely.union_all(letters))
    for one in more.geoms:
        assert one.area < 0.01 or (shapely.distance(letters, one) < 0.01).sum() > 1


@pytest.mark.parametrize("seed", range(8))
def test_only_gaps_between_pieces_are_closed(seed: int) -> None:
    """Pairs and threes of figures far apart, against a closing by GEOS of which only what joins is kept."""
    rng = random.Random(seed)
    figures, width = [], rng.uniform(1.0, 4.0)
    for group in range(7):
        # Within reach of each other or just not; one has a notch of its own, which stays open.
        x, y = 120.0 * (group % 4), 110.0 * (group // 4)
        notch = box(x + 8.0, y - 5.0, width, 20.0)
        figures.append(cut_away(box(x, y, 24.0, 24.0), notch))
        figures.append(disc(x + 40.0 + rng.uniform(0.0, 2.5 * width), y + rng.uniform(0.0, 24.0), 14.0))
        figures.append(box(x + rng.uniform(-5.0, 5.0), y + 26.0 + rng.uniform(0.0, 1.5 * width), 20.0, 9.0))
    region = weld(figures)
    closed = close_gaps(region, width)
    assert_keeps_its_promises(closed)
    source = fine(region)
    whole = source.buffer(width, quad_segs=200).buffer(-width, quad_segs=200)
    pieces = shapely.get_parts(source)
    fills = [
        one
        for one in shapely.get_parts(whole.difference(source))
        if one.area > 1e-3 and (shapely.distance(pieces, one) < 1e-3).sum() > 1
    ]
    assert fills
    wanted = shapely.union_all([source, *(one.buffer(1e-4) for one in fills)])
    off = fine(closed).symmetric_difference(wanted)
    assert off.area < 0.3
    assert off.buffer(-0.02).is_empty
    assert len(fine(closed).geoms) == len(shapely.get_parts(wanted))


# -- plies, and the size of the whole


def test_a_weld_takes_the_plies_of_all_it_welds_and_gives_them_back() -> None:
    design = Design()
    for kind in ("letter", "shape", "weld"):
        design, _ = add_line(design, kind)
    assert list(plies_of(design).values()) == [["l3/weld"]]
    assert sorted(ref for refs in plies_of(remove_line(design, "l3")).values() for ref in refs) == [
        "l1/letters",
        "l2/shape",
    ]
    less = change_sources(design, "l3", {"of": ["l1/letters"]})
    assert [ref for refs in plies_of(less).values() for ref in refs] == ["l3/weld", "l2/shape"]


def test_what_is_not_cut_leaves_its_ply_and_comes_back() -> None:
    design = Design()
    for kind in ("letter", "shape", "knock_out"):
        design, _ = add_line(design, kind)
    assert plies_of(design) == {"NEW WORDS": ["l3/l1/letters"], "Heart": ["l3/l2/shape"]}
    hidden = change_sources(design, "l3", {"shows": "not"})
    assert plies_of(hidden) == {"NEW WORDS": ["l3/l1/letters"]}
    back = change_sources(hidden, "l3", {"shows": "whole"})
    assert list(plies_of(back).values()) == [["l3/l1/letters"], ["l3/l2/shape"]]
    gone = remove_line(hidden, "l3")
    assert list(plies_of(gone).values()) == [["l1/letters"], ["l2/shape"]]


def drawn_proof(one: Design) -> Any:
    return evaluate(one, DesignSources(one), care="drawn")


@pytest.mark.parametrize("name", ["weekend-shirt", "boathouse-sign", "hull-decal", "crew-tee"])
def test_a_design_is_as_wide_as_asked_and_keeps_or_scales_its_measures(name: str) -> None:
    design = load_design(ROOT / "demo" / f"{name}.perigram.json")

    for measures in ("kept", "scaled"):
        made_ = scale_to(design, "width", 317.5, measures, drawn_proof)
        x0, y0, x1, y1 = drawn_proof(made_).bounds
        assert x1 - x0 == pytest.approx(317.5, abs=0.006)
        a0, b0, a1, b1 = drawn_proof(design).bounds
        if measures == "scaled":
            assert (y1 - y0) / (x1 - x0) == pytest.approx((b1 - b0) / (a1 - a0), rel=2e-3)
        for before, after in zip(design.recipe, made_.recipe, strict=True):
            for value in ("clearance", "distance", "inner", "outer", "apart"):
                if hasattr(before, value) and measures == "kept" and before.kind != "repeat":
                    assert getattr(after, value) == getattr(before, value)


@pytest.mark.parametrize(
    ("name", "size", "measures", "says"),
    [
        ("weekend-shirt", 5.0, "kept", r"Line 1 stops at 5 mm: .* do not fit a row .* Ask for more\."),
        ("weekend-shirt", 3000.0, "scaled", r"Line 4 stops at 3000 mm: Distance can be .* Ask for less\."),
        ("boathouse-sign", 9000.0, "kept", r"Line 3 stops at 9000 mm: Size of each row .* Ask for less\."),
        ("hull-decal", 0.5, "scaled", r"A design can be 1 to 20,000 mm wide, not 0\.5 mm\."),
    ],
)
def test_a_size_that_a_line_cannot_have_is_refused_by_that_line(
    name: str, size: float, measures: Any, says: str
) -> None:
    design = load_design(ROOT / "demo" / f"{name}.perigram.json")
    with pytest.raises(PerigramError, match=says):
        scale_to(design, "width", size, measures, drawn_proof)


# -- chains of them all, against a second clipper


def clip(kind: Any, subject: list[np.ndarray], tool: list[np.ndarray]) -> list[np.ndarray]:
    if not tool or not subject:
        return [] if kind == pyclipr.Intersection else [*subject, *(tool if kind == pyclipr.Union else [])]
    clipper = pyclipr.Clipper()
    clipper.scaleFactor = 100_000
    clipper.addPaths(subject, pyclipr.Subject)
    clipper.addPaths(tool, pyclipr.Clip)
    return [np.asarray(path) for path in clipper.execute(kind, pyclipr.FillRule.NonZero)]


@pytest.mark.parametrize("seed", range(12))
def test_random_chains_agree_with_a_second_clipper(seed: int) -> None:
    rng = random.Random(seed)
    recipe: list[dict[str, Any]] = [
        words(rng.choice(EVERY), rng.choice(["Oar 8", "TIDE", "Reed", "B&Q"]), rng.uniform(60.0, 300.0))
        | {"id": "a"},
        {
            "id": "b",
            "kind": "shape",
            "figure": rng.choice(get_args(shapes.Figure)),
            "width": rng.uniform(40.0, 200.0),
            "height": rng.uniform(30.0, 150.0),
            "place": {"x": rng.uniform(-30, 30), "y": rng.uniform(-20, 20), "rotate": rng.uniform(-90, 90)},
        },
    ]
    proof = proof_of(*recipe)
    known = {result.ref: rings(result.region) for result in proof.results}
    for number in range(10):
        one, other = (rng.choice(list(known)) for _ in range(2))
        name = f"n{number}"
        kind = rng.choice(["weld", "cut_away", "keep_within", "knock_out"])
        if one == other and kind != "weld":
            continue
        if kind == "weld":
            recipe.append({"id": name, "kind": "weld", "of": list(dict.fromkeys([one, other]))})
            known[f"{name}/weld"] = clip(pyclipr.Union, known[one], known[other])
        elif kind == "knock_out":
            recipe.append({"id": name, "kind": kind, "of": [other], "out_of": [one], "clearance": 0.0})
            known[f"{name}/{one}"] = clip(pyclipr.Difference, known[one], known[other])
            known[f"{name}/{other}"] = clip(pyclipr.Intersection, known[other], known[one])
        else:
            recipe.append({"id": name, "kind": kind, "of": [one], "tool": [other]})
            which = pyclipr.Difference if kind == "cut_away" else pyclipr.Intersection
            known[f"{name}/{one}"] = clip(which, known[one], known[other])
        known = {ref: paths for ref, paths in known.items() if len(ref) < 700}
    proof = proof_of(*recipe)
    for result in proof.results:
        assert_keeps_its_promises(result.region)
        if result.ref in known:
            expected = ring_areas(known[result.ref])
            # What is nearer than chords can tell may be on either side all along an outline.
            assert area(result.region) == pytest.approx(expected, rel=1e-3, abs=0.02), result.ref


@pytest.mark.parametrize("seed", range(100))
def test_plies_follow_whatever_lines_come_go_and_change(seed: int) -> None:
    """No ply cuts what is not there, nothing comes to be cut twice, no ply is left with nothing."""
    rng = random.Random(seed)
    design = Design()
    for _ in range(rng.randrange(4, 14)):
        step = rng.choice(["add", "add", "change", "change", "remove"])
        if step == "add" or len(design.recipe) < 2:
            kind = rng.choice(["letter", "shape"] * 3 + [kind for kind in KINDS if kind != "art"])
            design, _line = add_line(design, kind)
        elif step == "remove":
            design = remove_line(design, rng.choice(design.recipe).id)
        else:
            design = _changed_somehow(design, rng)
        made_here = {ref_to(line.id, name) for line in design.recipe for name in kind_of(line).names(line)}
        cut_here = [ref for ply in design.plies for ref in ply.results]
        assert set(cut_here) <= made_here
        assert len(set(cut_here)) == len(cut_here)
        assert all(ply.results for ply in design.plies)


def _changed_somehow(design: Design, rng: random.Random) -> Design:
    """One value that plies depend on, of one line, changed."""
    at = rng.randrange(1, len(design.recipe))
    line = design.recipe[at]
    earlier = [ref_to(one.id, name) for one in design.recipe[:at] for name in kind_of(one).names(one)]
    values: dict[str, Any] = {}
    for name, slot in slots_of(line).items():
        extra = type(line).model_fields[name].json_schema_extra
        if slot == "refs" and earlier:
            values[name] = rng.sample(earlier, min(len(earlier), rng.randrange(1, 4)))
        elif slot == "ref" and earlier:
            values[name] = rng.choice(earlier)
        elif isinstance(extra, dict) and extra.get("plies"):
            values[name] = rng.choice(list(extra["choices"]))  # type: ignore[arg-type]
    if not values:
        return design
    name = rng.choice(list(values))
    return change_sources(design, line.id, {name: values[name]})
