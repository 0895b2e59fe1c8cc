"""Rough proofs: near enough to be looked at while something is dragged, and never cut."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
import shapely

import perigram
from perigram.core.geometry.finish import finished
from perigram.core.geometry.offset import grow
from perigram.core.geometry.overlay import cut_away, overlap, slice_apart, weld
from perigram.core.geometry.region import ROUGH, Region
from perigram.core.geometry.tidy import smooth
from perigram.core.recipe.cache import Cache
from perigram.core.recipe.evaluate import evaluate
from perigram.core.warp.arc import Arc
from perigram.core.warp.maps import warped
from perigram.library import DesignSources, load_design

from .material import box, row

ROOT = Path(perigram.__file__).parents[1]
DEMOS = sorted((ROOT / "demo").glob("*.perigram.json"))


def off(a: Region, b: Region, by: float) -> float:
    """Area in mm^2 of what is of one only, wherever that is twice as wide as `by` mm."""
    bodies = [shapely.make_valid(one.multipolygon) for one in (a, b)]
    return float(shapely.area(shapely.buffer(shapely.symmetric_difference(*bodies), -by)))


@pytest.mark.parametrize("path", DEMOS, ids=lambda p: p.name.split(".")[0])
def test_a_rough_proof_looks_like_the_true_one(path: Path) -> None:
    design = load_design(path)
    # A rough proof drops no leavings.
    plain = [
        line.model_copy(update={"least": 0.0}) if hasattr(line, "least") else line for line in design.recipe
    ]
    design = design.model_copy(update={"recipe": plain})
    true, rough = (evaluate(design, DesignSources(design), care=care) for care in ("drawn", "rough"))
    assert [r.ref for r in rough.results] == [r.ref for r in true.results]
    assert not rough.checked
    assert not rough.is_cuttable
    assert any(r.region.rough for r in rough.results)
    for mine, theirs in zip(rough.plies, true.plies, strict=True):
        assert off(mine.region, theirs.region, 2.5 * ROUGH) < 0.05
        assert mine.measures.pieces == theirs.measures.pieces


@pytest.mark.parametrize("path", DEMOS, ids=lambda p: p.name.split(".")[0])
def test_what_is_held_already_is_not_drawn_roughly(path: Path) -> None:
    """And nothing rough is ever taken for the true thing."""
    design, cache = load_design(path), Cache()
    rough = evaluate(design, DesignSources(design), cache, "rough")
    true = evaluate(design, DesignSources(design), cache)
    assert not any(ply.region.rough for ply in true.plies)
    assert not {r.key for r in rough.results if r.region.rough} & {r.key for r in true.results}
    again = evaluate(design, DesignSources(design), cache, "rough")
    assert [r.key for r in again.results] == [r.key for r in true.results]


def test_lines_that_need_curves_keep_them_and_all_they_come_from() -> None:
    """Which corners of a backing stay sharp cannot be told from chords."""
    design = load_design(ROOT / "demo" / "weekend-shirt.perigram.json")
    backs = [i for i, line in enumerate(design.recipe) if line.kind == "back"]
    for corners, expected in (("round", True), ("mitred", False)):
        recipe = [
            line.model_copy(update={"corners": corners}) if i in backs else line
            for i, line in enumerate(design.recipe)
        ]
        proof = evaluate(design.model_copy(update={"recipe": recipe}), DesignSources(design), care="rough")
        made = {r.ref: r.region.rough for r in proof.results}
        assert made[f"{design.recipe[backs[0]].id}/backing"] is expected


def test_a_rough_region_is_refused_by_the_gate() -> None:
    with pytest.raises(ValueError, match="rough"):
        finished(row("lobster", "Reed", 100.0).roughly())


@pytest.mark.parametrize("distance", [0.3, 4.0, 40.0, -0.4])
def test_rough_offsets_lie_at_their_distance(distance: float) -> None:
    words = row("lobster", "Reed Warbler", 200.0)
    rough = grow(words.roughly(), distance)
    assert rough.rough
    outline = shapely.boundary(words.multipolygon)
    far = shapely.distance(outline, shapely.points(rough.start))
    # GEOS leaves out vertices by a hundredth of the distance before it buffers.
    slack = 2.0 * ROUGH + 0.02 * abs(distance)
    assert np.abs(far - abs(distance)).max() < slack


MADE_OF_IT: dict[str, Callable[[Region, Region], Region]] = {
    "moved": lambda rough, true: rough.translated(3.0, 4.0),
    "mirrored": lambda rough, true: rough.scaled(-1.0, 1.0),
    "at home": lambda rough, true: rough.at_origin()[0],
    "some pieces": lambda rough, true: rough.select_polygons(np.arange(rough.piece_count) > 0),
    "one piece": lambda rough, true: rough.pieces()[0],
    "beside others": lambda rough, true: Region.joined([true.translated(0.0, 500.0), rough]),
    "welded": lambda rough, true: weld([true, rough]),
    "cut away": lambda rough, true: cut_away(true, rough),
    "overlapping": lambda rough, true: overlap(rough, true),
    "sliced": lambda rough, true: slice_apart([rough, true])[0].region,
    "grown": lambda rough, true: grow(rough, 1.0),
    "cleaned": lambda rough, true: smooth(rough, 0.05).region,
    "bent": lambda rough, true: warped(rough, Arc((0.0, 0.0), (0.0, 300.0), 300.0)),
}


@pytest.mark.parametrize("made", MADE_OF_IT.values(), ids=MADE_OF_IT.keys())
def test_what_is_made_of_something_rough_is_rough(made: Callable[[Region, Region], Region]) -> None:
    words = row("alfa-slab-one", "TIDE", 100.0)
    other = words.translated(7.0, 5.0)
    assert made(words.roughly(), other).rough
    assert not made(words, other).rough


def test_a_rough_figure_is_another_one() -> None:
    """Even where it is of straight lines alone: what is worked out once for a figure is told apart by it."""
    figure = box(0.0, 0.0, 20.0, 10.0)
    assert figure.roughly().digest() != figure.digest()
