"""Pieces moved, turned and sized by themselves, judged by affine maps of shapely's."""

from __future__ import annotations

from typing import Any

import pytest
import shapely
from shapely import affinity

from perigram.core.recipe.design import Design, read_design
from perigram.core.recipe.evaluate import Proof, evaluate
from perigram.library import DesignSources


def moved(**values: Any) -> Proof:
    """IO with a line that moves pieces of it."""
    words = {"id": "l1", "kind": "letter", "rows": [{"text": "IO"}], "size": 60, "fit": "tall"}
    line = {"id": "l2", "kind": "move_pieces", "of": "l1/letters", **values}
    body = {"format": "perigram", "version": 2, "recipe": [words, line]}
    design: Design = read_design(body)
    return evaluate(design, DesignSources(design))


def shape_of(proof: Proof, ref: str) -> shapely.Geometry:
    return next(one.region.multipolygon for one in proof.results if one.ref == ref)


def pick_of(proof: Proof, at: int) -> dict[str, Any]:
    pieces = sorted(proof.pieces["l2"], key=lambda one: one.region.multipolygon.bounds[0])
    return {**pieces[at].pick.model_dump(), "to": "l1/letters"}


def test_a_picked_piece_is_sized_turned_and_moved_about_its_middle() -> None:
    plain = moved()
    i, o = sorted(shape_of(plain, "l1/letters").geoms, key=lambda one: one.bounds[0])
    pick = pick_of(plain, 1)
    proof = moved(picks=[pick], across=20, down=-5, turn=30, size=150)
    middle = shapely.box(*o.bounds).centroid
    wanted = affinity.scale(o, 1.5, 1.5, origin=middle)
    # shapely turns counter-clockwise where y goes up: clockwise where it goes down.
    wanted = affinity.translate(affinity.rotate(wanted, 30, origin=middle), 20, -5)
    found = shape_of(proof, "l2/moved")
    assert shapely.hausdorff_distance(found.boundary, shapely.union(i, wanted).boundary) < 0.02
    assert [one.made.parts()[1].name for one in proof.results if one.ref == "l2/moved"] == ["O"]
    assert {handle.value for handle in proof.shapings["l2"].handles} == {"turn", "size"}


def test_without_a_pick_nothing_moves_and_it_says_so() -> None:
    proof = moved(across=20, turn=30)
    assert shape_of(proof, "l2/moved").equals(shape_of(proof, "l1/letters"))
    assert any("No piece is picked" in one.text for one in proof.findings)


def test_a_piece_moved_onto_another_is_welded_and_said() -> None:
    plain = moved()
    proof = moved(picks=[pick_of(plain, 0)], across=15)
    (one,) = shape_of(proof, "l2/moved").geoms
    assert one.is_valid
    assert any("one piece now" in finding.text and finding.place for finding in proof.findings)


@pytest.mark.parametrize("at", [0, 1])
def test_the_pick_is_the_letter_whatever_it_is_drawn_by(at: int) -> None:
    pick = pick_of(moved(), at)
    words = {"id": "l1", "kind": "letter", "rows": [{"text": "IO"}], "size": 90, "font": "alfa-slab-one"}
    line = {"id": "l2", "kind": "move_pieces", "of": "l1/letters", "picks": [pick], "down": 200}
    design = read_design({"format": "perigram", "version": 2, "recipe": [words, line]})
    proof = evaluate(design, DesignSources(design))
    before = sorted(shape_of(proof, "l1/letters").geoms, key=lambda one: one.bounds[0])
    after = sorted(shape_of(proof, "l2/moved").geoms, key=lambda one: one.bounds[1])
    assert after[1].area == pytest.approx(before[at].area, rel=1e-9)
