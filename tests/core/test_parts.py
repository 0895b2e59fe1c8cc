"""What results consist of, and plies that follow when lines work on other things."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
import shapely

from perigram.core.errors import PerigramError
from perigram.core.geometry import Region, cut_away
from perigram.core.geometry.measure import area, bounds
from perigram.core.recipe.cache import Cache
from perigram.core.recipe.design import Design, read_design, references
from perigram.core.recipe.edit import change_sources, remove_line
from perigram.core.recipe.evaluate import evaluate
from perigram.core.recipe.lines import kind_of
from perigram.core.recipe.parts import Made
from perigram.library import DesignSources, load_design

from .material import box, fine
from .test_recipe import ROOT, shirt

WORDS = {
    "id": "l1",
    "kind": "letter",
    "font": "anton",
    "size": 200.0,
    "rows": [{"text": "HIGH TIDE"}, {"text": "Øresund", "font": "lobster"}],
}


def made_by(*recipe: dict[str, Any], pictures: Any = ()) -> dict[str, Made]:
    design = read_design(
        {"format": "perigram", "version": 2, "recipe": list(recipe), "pictures": list(pictures)}
    )
    proof = evaluate(design, DesignSources(design))
    assert [f.text for f in proof.findings if f.level == "stop"] == []
    return {result.ref: result.made for result in proof.results}


def assert_parts_add_up(made: Made) -> None:
    parts = [fine(part.region) for part in made.parts()]
    whole = fine(made.region)
    assert parts
    assert shapely.union_all(parts).symmetric_difference(whole).area < 1e-3 * whole.area
    paths = [part.path for part in made.parts()]
    assert len(set(paths)) == len(paths)


@pytest.mark.parametrize("shows", ["within", "whole"])
def test_parts_of_what_is_left_add_up_to_it(shows: str) -> None:
    oval = {"id": "l2", "kind": "shape", "figure": "oval", "width": 60, "height": 70}
    place = {"place": {"rotate": 20, "flip": True, "x": 30, "y": -4}}
    cut = {"id": "l3", "kind": "knock_out", "of": ["l2/shape"], "out_of": ["l1/letters"], "shows": shows}
    turned = {"id": "l4", "kind": "knock_out", "of": ["l1/letters"], "out_of": ["l2/shape"], "shows": shows}
    clean = {"id": "l5", "kind": "clean", "of": "l3/l1/letters", "bits": 4.0}
    found = made_by({**WORDS, **place}, oval, cut, turned, clean)
    for ref in ("l1/letters", "l3/l1/letters", "l4/l1/letters", "l5/clean"):
        assert_parts_add_up(found[ref])
    assert {part.path for part in found["l5/clean"].parts()} <= {
        part.path for part in found["l1/letters"].parts()
    }


def test_letters_stand_in_frames_of_their_own() -> None:
    """Put back by its frame, a letter is what it is in a lettering that was never placed or turned."""
    place = {"x": -40, "y": 12, "rotate": 33, "flip": True}
    plain, placed = (made_by({**WORDS, **more})["l1/letters"] for more in ({}, {"place": place}))
    bend = {"id": "l2", "kind": "bend", "of": ["l1/letters"], "curve": "circle", "diameter": 400}
    turned = made_by(WORDS, {**bend, "letters": "turned"})["l2/l1/letters"]
    for one, *others in zip(plain.parts(), placed.parts(), turned.parts(), strict=True):
        own = one.region.translated(-one.frame[0, 2], -one.frame[1, 2])
        for other in others:
            assert (one.path, one.name) == (other.path, other.name)
            square = np.vstack([other.frame, [0.0, 0.0, 1.0]])
            home = fine(other.region.transformed(np.linalg.inv(square)[:2]))
            assert home.symmetric_difference(fine(own)).area < 1e-4 * home.area
        box = bounds(own)
        assert box
        assert box[0] == pytest.approx(-box[2], abs=1e-6)
        if one.name in "HIGTDE":
            assert box[3] == pytest.approx(0.0, abs=0.8), "capitals stand on their baseline"
    assert plain.levels
    assert not placed.levels


def test_a_loop_of_one_curve_made_smaller_than_chords_is_gone() -> None:
    """A picture of a metre with a drop in it, placed a few mm wide."""
    one = np.arange(2)
    drop = Region.from_loops(np.array([[[0.0, 0], [8, 9], [-9, 8], [0, 0]]]), np.ones(1, bool), one, one)
    both = Region.joined([box(20, 0, 400, 400), drop])
    for share, pieces in ((1.0, 2), (0.1, 2), (2e-4, 1), (5e-5, 1)):
        small = Made(both).moved(share * np.eye(2, 3)).region
        assert small.piece_count == pieces
        left = cut_away(small, box(200 * share, -1, 500, 500))
        assert area(left) == pytest.approx(180 * 400 * share**2, rel=1e-3)


def test_shapes_of_a_picture_are_its_parts() -> None:
    design = load_design(ROOT / "demo" / "weekend-shirt.perigram.json")
    proof = evaluate(design, DesignSources(design))
    art = next(r.made for r in proof.results if r.ref.endswith("/art"))
    assert len(art.parts()) > 3
    union = shapely.union_all([fine(part.region) for part in art.parts()])
    assert fine(art.region).difference(union).area < 1e-3


def plies_of(design: Design) -> dict[str, list[str]]:
    return {ply.name: ply.results for ply in design.plies}


def test_plies_follow_what_a_line_works_on() -> None:
    shape = {"kind": "shape", "figure": "oval", "width": 30, "height": 30}
    cut = {"id": "l4", "kind": "knock_out", "of": ["l3/shape"], "out_of": ["l1/letters"]}
    plies = {"words": "l4/l1/letters", "oval": "l2/shape", "dot": "l4/l3/shape"}
    design = read_design(
        {
            "format": "perigram",
            "version": 2,
            "recipe": [WORDS, {**shape, "id": "l2"}, {**shape, "id": "l3"}, cut],
            "materials": [{"id": "m", "name": "Card", "colour": "#112233"}],
            "plies": [
                {"id": f"p{i}", "name": name, "material": "m", "results": [ref]}
                for i, (name, ref) in enumerate(plies.items())
            ],
        }
    )
    other = change_sources(design, "l4", {"out_of": ["l2/shape"]})
    assert plies_of(other) == {"words": ["l1/letters"], "oval": ["l4/l2/shape"], "dot": ["l4/l3/shape"]}
    assert plies_of(change_sources(other, "l4", {"out_of": ["l1/letters"]})) == plies_of(design)
    assert plies_of(remove_line(other, "l4")) == {
        "words": ["l1/letters"],
        "oval": ["l2/shape"],
        "dot": ["l3/shape"],
    }
    # What no ply cuts gives none: the line keeps the ply it has.
    no_oval = design.model_copy(update={"plies": [design.plies[0], design.plies[2]]})
    kept = {"words": ["l4/l2/shape"], "dot": ["l4/l3/shape"]}
    assert plies_of(change_sources(no_oval, "l4", {"out_of": ["l2/shape"]})) == kept
    with pytest.raises(PerigramError, match="cannot take"):
        change_sources(design, "l4", {"out_of": "l1/letters"})
    with pytest.raises(PerigramError, match="not there any more"):
        change_sources(design, "l9", {})


def test_the_shirt_without_its_words_still_refers_to_nothing_that_is_gone() -> None:
    design = remove_line(shirt(), shirt().recipe[0].id)
    left = {line.id for line in design.recipe}
    assert all(ref.split("/")[0] in left for line in design.recipe for ref in references(line) if ref)


def test_a_picture_as_a_tile_lies_where_its_handle_says() -> None:
    """One tile amid the thing, moved as the pattern is; every second row shifted by half a step."""
    svg = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="5 5 9 9"><path d="M6 6h8v2h-6v4h-2z"/></svg>'
    plate = {"id": "l1", "kind": "shape", "figure": "rounded box", "width": 300.0, "height": 200.0}
    tile = {"id": "l2", "kind": "texture", "of": "l1/shape", "pattern": "picture", "picture": "pic"}
    at = {"size": 12.0, "clear": 3.0, "shift": [7.0, -4.0], "least": 0.0}
    picture = {"id": "pic", "name": "Cleat", "svg": svg}
    made = made_by({**plate, "place": {"x": 40.0, "y": 10.0}}, {**tile, **at}, pictures=[picture])
    x0, y0, x1, y1 = fine(made["l1/shape"].region).bounds
    middle = ((x0 + x1) / 2.0 + 7.0, (y0 + y1) / 2.0 - 4.0)
    tiles = fine(made["l2/texture"].region).geoms
    whole = np.array([one.bounds for one in tiles if one.area == pytest.approx(54.0, abs=0.01)])
    assert len(whole) > 200
    amid = (whole[:, :2] + whole[:, 2:]) / 2.0 - middle
    assert np.hypot(*amid.T).min() < 1e-3
    row = np.round(amid[:, 1] / 12.0)
    assert amid[:, 1] == pytest.approx(12.0 * row, abs=1e-3)
    along = amid[:, 0] / 15.0 - np.where(row % 2 == 0, 0.0, 0.5)
    assert along == pytest.approx(np.round(along), abs=1e-3)


@pytest.mark.parametrize("name", sorted(path.name for path in (ROOT / "demo").glob("*.perigram.json")))
def test_a_line_switched_off_is_as_if_it_were_removed(name: str) -> None:
    """What it stood for is there in its place; what only it made is not, which is no reason not to cut."""
    design = load_design(ROOT / "demo" / name)
    compared, cache = 0, Cache()
    for line in design.recipe:
        rest = [one.model_copy(update={"off": one.id == line.id}) for one in design.recipe]
        switched = design.model_copy(update={"recipe": rest})
        off, gone = (
            evaluate(one, DesignSources(design), cache, "drawn")
            for one in (switched, remove_line(design, line.id))
        )
        waiting = [f for f in off.findings if f.level == "stop" and not f.line]
        assert not waiting, waiting
        if any(f.level == "stop" for f in (*off.findings, *gone.findings)):
            # A later line has lost what it works on, either way.
            assert any(f.level == "stop" and f.line for f in off.findings)
            continue
        left = {ply.ply.id: ply.region for ply in gone.plies}
        for ply in off.plies:
            if ply.ply.id in left and not kind_of(line).let_go(line):
                both = fine(ply.region).symmetric_difference(fine(left[ply.ply.id]))
                assert both.area < 1e-3
                compared += 1
            elif ply.ply.id not in left:
                assert ply.region.is_empty
                (said,) = [
                    f
                    for f in evaluate(switched, DesignSources(design), cache).findings
                    if f.ply == ply.ply.id
                ]
                assert said.level == "look"
                assert "what it comes from is switched off" in said.text
    assert compared
