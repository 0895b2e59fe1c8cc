"""What a cut leaves too thin is gone by default; judged by GEOS buffers, which the core does not cut by."""

from __future__ import annotations

import pytest
import shapely

from perigram.core.recipe.design import Design
from perigram.core.recipe.edit import add_line
from perigram.core.recipe.evaluate import Proof, evaluate
from perigram.library import DesignSources

FONTS = ("anton", "alfa-slab-one", "chango", "lobster")
SQUARE = {"kind": "shape", "figure": "rounded box", "radius": 0}
FIGURES = ("heart", "star", "flower", "oval", "crescent")


def knocked_out(font: str, figure: str, clearance: float, shift: float, least: float | None = None) -> Design:
    """HARBOUR with a figure knocked out of it, as the bench adds it."""
    start = Design.model_validate(
        {
            "recipe": [
                {"id": "l1", "kind": "letter", "rows": [{"text": "HARBOUR"}], "font": font, "size": 200.0}
                | {"fit": "wide"},
                {"id": "l2", "kind": "shape", "figure": figure, "width": 60.0, "height": 55.0}
                | {"place": {"on": "l1/letters", "x": shift}},
            ],
            "materials": [{"id": "a", "name": "A", "colour": "#000000"}],
            "plies": [
                {"id": "p1", "name": "Words", "material": "a", "results": ["l1/letters"]},
                {"id": "p2", "name": "Figure", "material": "a", "results": ["l2/shape"]},
            ],
        }
    )
    given = {"clearance": clearance} | ({} if least is None else {"least": least})
    return add_line(start, "knock_out", given=given)[0]


def proved(design: Design) -> Proof:
    return evaluate(design, DesignSources(design))


def results(proof: Proof) -> dict[str, shapely.Geometry]:
    return {result.ref: result.region.multipolygon for result in proof.results}


@pytest.mark.parametrize("font", FONTS)
@pytest.mark.parametrize("figure", FIGURES)
@pytest.mark.parametrize(("clearance", "shift"), [(1.5, 0.0), (0.0, 7.3), (0.6, -31.9)])
def test_a_knockout_leaves_nothing_thin_that_was_not_thin(
    font: str, figure: str, clearance: float, shift: float
) -> None:
    design = knocked_out(font, figure, clearance, shift)
    assert design.recipe[-1].model_dump()["least"] == 1.0
    made = results(proved(design))
    bare = results(proved(knocked_out(font, figure, clearance, shift, 0.0)))
    for source, ref in (("l1/letters", "l3/l1/letters"), ("l2/shape", "l3/l2/shape")):
        was, now = made[source], made[ref]
        # Bits: no piece in which no disc of 0.98 mm fits, of sources that have no such piece.
        assert not any(piece.buffer(-0.49).is_empty for piece in shapely.get_parts(now))
        # Strands: what opening takes, and is longer than a corner's tip, was as thin before.
        thin = shapely.difference(now, now.buffer(-0.49).buffer(0.52))
        thick = was.buffer(-0.5).buffer(0.5)
        long = [p for p in shapely.get_parts(thin) if p.length > 6.0 and p.buffer(-0.05).area > 0.3]
        assert not any(p.intersection(thick).area > 0.6 * p.area for p in long)
    words, figure_left = made["l3/l1/letters"], made["l3/l2/shape"]
    # Words only lose; what is shown may take their place, and keeps the clear line to them.
    assert shapely.difference(words, bare["l3/l1/letters"].buffer(0.01)).area < 0.01
    assert shapely.difference(figure_left, made["l1/letters"].buffer(0.01)).area < 0.01
    assert words.distance(figure_left) > clearance - 0.02


def test_harbour_and_a_heart_is_clean_as_added_and_says_what_went() -> None:
    """It left a strand of 0.06 to 0.09 mm and offered no mend."""
    proof = proved(knocked_out("anton", "heart", 1.5, 0.0))
    assert not any(
        "under 1 mm, thinnest" in one.text or "bit" in one.text for one in proof.findings if one.ply
    )
    assert any(one.level == "holds" and "under 1 mm dropped" in one.text for one in proof.findings)


def test_what_tapers_leaves_no_stub_behind() -> None:
    """Of a stroke that tapers, a stub of 1.45 mm was left where 1.5 was asked for."""
    words = {"id": "l1", "kind": "letter", "rows": [{"text": "NEW WORDS"}], "font": "anton", "gap": 0.3}
    heart = {"id": "l2", "kind": "shape", "figure": "heart", "width": 80, "height": 80}
    cut = {"id": "l3", "kind": "knock_out", "of": ["l2/shape"], "out_of": ["l1/letters"], "least": 1.5}
    flock = {"id": "m", "name": "Flock", "colour": "#1F2733", "smallest": 1.5}
    ply = {"id": "p", "name": "Heart", "material": "m", "results": ["l3/l2/shape"]}
    recipe = [words | {"size": 200, "fit": "wide", "spacing": "clear"}, heart, cut]
    design = Design.model_validate({"recipe": recipe, "materials": [flock], "plies": [ply]})
    assert not [one.text for one in proved(design).findings if one.ply]


def test_no_unfilled_slit_where_a_bit_of_the_words_is_dropped() -> None:
    """A strip of 0.8 mm between a square's clear line and the plate's edge: the square takes its place."""
    design = Design.model_validate(
        {
            "recipe": [
                {
                    "id": "l1",
                    "kind": "shape",
                    "figure": "rounded box",
                    "width": 100,
                    "height": 60,
                    "radius": 0,
                },
                {"id": "l2", "kind": "shape", "figure": "rounded box", "width": 40, "height": 40, "radius": 0}
                | {"place": {"x": 27.7}},
                {"id": "l3", "kind": "knock_out", "of": ["l2/shape"], "out_of": ["l1/shape"]}
                | {"clearance": 1.5, "least": 1.0},
            ]
        }
    )
    made = results(proved(design))
    plate, square = made["l3/l1/shape"], made["l3/l2/shape"]
    # By hand: the strip from 49.2 to 50 is gone between -21.5 and 21.5, the square reaches the edge instead.
    assert plate.bounds == pytest.approx((-50, -30, 50, 30))
    assert square.bounds[2] == pytest.approx(50.0, abs=0.01)
    assert plate.distance(square) == pytest.approx(1.5, abs=0.02)
    assert shapely.Point(49.6, 0.0).within(square)


def test_what_holds_the_islands_of_a_stencil_stays() -> None:
    """A plate less a ring with a bar of 0.6 mm across the gap: cut off, the middle would drop out of it."""
    recipe = [
        {"id": "l1", **SQUARE, "width": 80, "height": 80},
        {"id": "l2", **SQUARE, "width": 50, "height": 50},
        {"id": "l3", **SQUARE, "width": 30, "height": 30},
        {"id": "l4", **SQUARE, "width": 60, "height": 0.6},
        {"id": "l5", "kind": "cut_away", "of": ["l2/shape"], "tool": ["l3/shape", "l4/shape"]},
        {"id": "l6", "kind": "cut_away", "of": ["l1/shape"], "tool": ["l5/l2/shape"], "least": 1.0},
    ]
    made = results(proved(Design.model_validate({"recipe": recipe})))
    assert len(shapely.get_parts(made["l6/l1/shape"])) == 1
