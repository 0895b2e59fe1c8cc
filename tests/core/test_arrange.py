"""Aligning, spreading and matching: as plain moves and as relations that hold."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

import pytest

from perigram.core.errors import PerigramError
from perigram.core.geometry.measure import Box, bounds
from perigram.core.recipe.arrange import arrange, moved
from perigram.core.recipe.design import Design, read_design
from perigram.core.recipe.evaluate import evaluate
from perigram.core.recipe.values import Place
from perigram.library import DesignSources


def boxes(design: Design) -> dict[str, Box]:
    proof = evaluate(design, DesignSources(design))
    found = {r.ref.split("/")[0]: bounds(r.region) for r in proof.results}
    return {line: box for line, box in found.items() if box}


def shape(width: float, height: float, x: float, y: float, **values: Any) -> dict[str, Any]:
    place = {"x": x, "y": y, **values.pop("place", {})}
    return {
        "kind": "shape",
        "figure": "rounded box",
        "width": width,
        "height": height,
        "place": place,
        **values,
    }


WORDS: dict[str, Any] = {
    "kind": "letter",
    "rows": [{"text": "TIDE"}],
    "font": "anton",
    "size": 90,
    "gap": 2,
    "place": {"x": 31, "y": 77, "rotate": 10},
}


def design(*lines: dict[str, Any], **values: Any) -> Design:
    recipe = [{"id": f"l{i + 1}", **line} for i, line in enumerate(lines)]
    return read_design({"format": "perigram", "version": 2, "recipe": recipe, **values})


THREE = (shape(40, 20, 0, 0), shape(10, 30, 35, 12, place={"rotate": 25}), WORDS)
EDGE = {
    "left": (0, 0.0),
    "centre": (0, 0.5),
    "right": (0, 1.0),
    "top": (1, 0.0),
    "middle": (1, 0.5),
    "bottom": (1, 1.0),
}


def at(box: Box, how: str) -> float:
    axis, share = EDGE[how]
    return box[axis] + share * (box[axis + 2] - box[axis])


@pytest.mark.parametrize("hold", [False, True])
@pytest.mark.parametrize("how", EDGE)
def test_lining_up_moves_along_one_axis_only(how: Any, hold: bool) -> None:
    before = boxes(design(*THREE))
    made = arrange(design(*THREE), ["l3", "l1", "l2"], how, "each other", hold, boxes)
    after = boxes(made)
    assert after["l1"] == pytest.approx(before["l1"]), "the first of the recipe stays"
    for line in ("l2", "l3"):
        # Middles level means the middle a thing turns about, where it is held.
        slack = 3.0 if hold and how in ("centre", "middle") else 1e-3
        assert at(after[line], how) == pytest.approx(at(after["l1"], how), abs=slack)
        other = 1 - EDGE[how][0]
        assert after[line][other] == pytest.approx(before[line][other], abs=1e-3)
    held = {getattr(line, "place").on for line in made.recipe[1:]}  # noqa: B009
    assert held == ({"l1/shape"} if hold else {None})


@pytest.mark.parametrize("how", EDGE)
def test_a_held_line_follows_when_the_first_changes(how: Any) -> None:
    made = arrange(design(*THREE), ["l1", "l2"], how, "each other", True, boxes)
    bigger = made.recipe[0].model_copy(update={"width": 90.0, "height": 55.0, "place": Place(x=-20, y=9)})
    after = boxes(made.model_copy(update={"recipe": [bigger, *made.recipe[1:]]}))
    assert at(after["l2"], how) == pytest.approx(at(after["l1"], how), abs=1e-3)


@pytest.mark.parametrize("hold", [False, True])
@pytest.mark.parametrize("how", ["width", "height"])
def test_matching_a_size(how: Any, hold: bool) -> None:
    axis = 0 if how == "width" else 1
    start = design(shape(63, 41, 5, 5), shape(20, 10, 80, 0), {**WORDS, "place": {"x": 31, "y": 77}})
    made = arrange(start, ["l1", "l2", "l3"], how, "each other", hold, boxes)
    after = boxes(made)
    for line in ("l2", "l3"):
        assert after[line][axis + 2] - after[line][axis] == pytest.approx((63, 41)[axis], abs=2e-3)
    if hold:
        first = made.recipe[0].model_copy(update={"width": 100.0, "height": 100.0})
        after = boxes(made.model_copy(update={"recipe": [first, *made.recipe[1:]]}))
        assert after["l3"][axis + 2] - after["l3"][axis] == pytest.approx(100, abs=2e-3)


@pytest.mark.parametrize("way", ["across", "down"])
@pytest.mark.parametrize("to", ["each other", "ground"])
def test_spreading_evenly(way: str, to: Any) -> None:
    axis = 0 if way == "across" else 1
    start = design(
        shape(10, 12, 100, 90),
        shape(30, 8, 0, 0),
        shape(20, 20, 33, 70),
        shape(5, 5, 41, 20),
        ground={"name": "Tee", "width": 300, "height": 400},
    )
    ids = ["l1", "l2", "l3", "l4"]
    clear = boxes(arrange(start, ids, f"space {way}", to, False, boxes))  # type: ignore[arg-type]
    row = sorted(clear.values(), key=lambda b: b[axis])
    gaps = [b[axis] - a[axis + 2] for a, b in pairwise(row)]
    assert gaps == pytest.approx([gaps[0]] * 3, abs=1e-3)
    middles = boxes(arrange(start, ids, f"centres {way}", to, False, boxes))  # type: ignore[arg-type]
    centres = sorted((b[axis] + b[axis + 2]) / 2 for b in middles.values())
    steps = [b - a for a, b in pairwise(centres)]
    assert steps == pytest.approx([steps[0]] * 3, abs=1e-3)
    ends = (row[0][axis], row[-1][axis + 2])
    before = boxes(start).values()
    size = (300, 400)[axis] / 2
    wanted = (
        (-size, size) if to == "ground" else (min(b[axis] for b in before), max(b[axis + 2] for b in before))
    )
    assert ends == pytest.approx(wanted, abs=1e-3)


def test_against_the_design_and_the_ground() -> None:
    start = design(*THREE)
    whole = boxes(start)
    right = max(b[2] for b in whole.values())
    assert boxes(arrange(start, ["l2"], "right", "design", False, boxes))["l2"][2] == pytest.approx(right)
    # A ground of no stated size counts as its middle.
    centred = boxes(arrange(start, ["l3"], "left", "ground", False, boxes))["l3"]
    assert centred[0] + centred[2] == pytest.approx(0, abs=1e-3)
    sized = design(*THREE, ground={"name": "Tee", "width": 280, "height": 360})
    top = boxes(arrange(sized, ["l3"], "top", "ground", False, boxes))["l3"]
    assert top[1] == pytest.approx(-180, abs=1e-3)
    wide = boxes(arrange(sized, ["l3"], "width", "ground", False, boxes))["l3"]
    assert wide[2] - wide[0] == pytest.approx(280, abs=2e-3)


@pytest.mark.parametrize("turned", [90.0, -270.0, 180.0, 40.0, -100.0])
def test_what_is_turned_is_matched_as_it_looks(turned: float) -> None:
    start = design(THREE[0], shape(12, 300, 35, 12, place={"rotate": turned}))
    for how, axis, goal in (("width", 0, 40.0), ("height", 1, 20.0)):
        made = arrange(start, ["l1", "l2"], how, "each other", False, boxes)  # type: ignore[arg-type]
        box = boxes(made)["l2"]
        assert box[axis + 2] - box[axis] == pytest.approx(goal, abs=2e-3)
        width, height = made.recipe[1].width, made.recipe[1].height  # type: ignore[union-attr]
        if turned % 90.0:
            assert height / width == pytest.approx(25.0, rel=1e-3)
        else:
            assert (width == 12) != (height == 300)
        if turned % 180.0:
            with pytest.raises(PerigramError, match="cannot be held"):
                arrange(start, ["l1", "l2"], how, "each other", True, boxes)  # type: ignore[arg-type]


def test_locked_lines_stay_and_too_few_are_said() -> None:
    start = design(THREE[0], {**THREE[1], "locked": True}, THREE[2])
    after = boxes(arrange(start, ["l1", "l2", "l3"], "left", "each other", False, boxes))
    assert after["l2"] == pytest.approx(boxes(start)["l2"])
    assert after["l3"][0] == pytest.approx(after["l1"][0], abs=1e-3)
    with pytest.raises(PerigramError, match="two things or more"):
        arrange(start, ["l1"], "left", "each other", False, boxes)
    with pytest.raises(PerigramError, match="three or more"):
        arrange(start, ["l1", "l3"], "space down", "each other", False, boxes)
    with pytest.raises(PerigramError, match="no size yet"):
        arrange(start, ["l1"], "width", "ground", False, boxes)


def test_a_gap_on_the_far_side_grows_the_other_way() -> None:
    place = Place(on="l1/shape", across="before", down="above", x=5, y=5)
    assert (moved(place, 2, 3).x, moved(place, 2, 3).y) == (3, 2)


@pytest.mark.parametrize("how", ["left", "middle", "space across", "centres down"])
def test_what_is_held_to_another_goes_where_it_should_all_the_same(how: Any) -> None:
    """Moving a line moves what is held to it: its own move allows for that."""
    held = shape(
        10, 30, 35, 12, place={"on": "l1/shape", "across": "before", "down": "below", "x": 4, "y": 9}
    )
    free = [THREE[0], shape(10, 30, *_middle(design(THREE[0], held), "l2")), WORDS]
    ground = {"name": "Tee", "width": 280, "height": 360}
    ids = ["l1", "l2", "l3"]
    one = boxes(arrange(design(*free, ground=ground), ids, how, "ground", False, boxes))
    other = boxes(arrange(design(free[0], held, WORDS, ground=ground), ids, how, "ground", False, boxes))
    for line in ids:
        assert other[line] == pytest.approx(one[line], abs=1e-3)


def _middle(of: Design, line: str) -> tuple[float, float]:
    x0, y0, x1, y1 = boxes(of)[line]
    return (x0 + x1) / 2, (y0 + y1) / 2
