"""Relations between things, against box arithmetic that knows nothing of outlines."""

from __future__ import annotations

from math import cos, radians, sin
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from perigram.core.geometry.measure import Box, bounds
from perigram.core.geometry.region import Region
from perigram.core.recipe.arrange import arrange, moved
from perigram.core.recipe.design import Design, read_design
from perigram.core.recipe.evaluate import evaluate
from perigram.core.recipe.values import Place
from perigram.library import DesignSources

from .test_arrange import EDGE, boxes

LENGTHS = st.floats(5, 200).map(lambda mm: round(mm, 2))
SHIFTS = st.floats(-80, 80).map(lambda mm: round(mm, 2))
#: For each way to be held: the share of its own box and of the other's that are brought together, and
#: which way a distance grows.
HELD = {
    "middle": (0.5, 0.5, 1),
    **dict.fromkeys(("left", "top"), (0.0, 0.0, 1)),
    **dict.fromkeys(("right", "bottom"), (1.0, 1.0, 1)),
    **dict.fromkeys(("before", "above"), (1.0, 0.0, -1)),
    **dict.fromkeys(("after", "below"), (0.0, 1.0, 1)),
}


@st.composite
def recipes(draw: st.DrawFn) -> list[dict[str, Any]]:
    """Sharp boxes, each free or held to an earlier one, some turned, some sized by an earlier one."""
    lines: list[dict[str, Any]] = []
    for i in range(draw(st.integers(2, 6))):
        earlier = [f"l{k}/shape" for k in range(i)]
        ref = st.sampled_from(earlier) if earlier else st.none()
        place = {
            "x": draw(SHIFTS),
            "y": draw(SHIFTS),
            "on": draw(st.one_of(st.none(), ref)),
            "across": draw(st.sampled_from(["middle", "left", "right", "before", "after"])),
            "down": draw(st.sampled_from(["middle", "top", "bottom", "above", "below"])),
            "rotate": draw(st.sampled_from([0.0, 0.0, 90.0, 33.0, -120.0])),
            "flip": draw(st.booleans()),
            "as_wide": draw(st.one_of(st.none(), st.none(), ref)),
            "as_tall": draw(st.one_of(st.none(), st.none(), ref)),
        }
        lines.append(
            {
                "id": f"l{i}",
                "kind": "shape",
                "figure": "rounded box",
                "radius": 0.0,
                "width": draw(LENGTHS),
                "height": draw(LENGTHS),
                "place": place,
            }
        )
    return lines


def design_of(lines: list[dict[str, Any]]) -> Design:
    return read_design({"format": "perigram", "version": 2, "recipe": lines})


def expected(lines: list[dict[str, Any]]) -> dict[str, Box]:
    """Where each box lies by what its place says: a turned box is as wide as its shadow."""
    made: dict[str, Box] = {}

    def of(ref: str | None) -> Box | None:
        return made[ref.split("/")[0]] if ref else None

    for line in lines:
        place = line["place"]
        wide, tall, on = of(place["as_wide"]), of(place["as_tall"]), of(place["on"])
        width = wide[2] - wide[0] if wide else line["width"]
        height = tall[3] - tall[1] if tall else line["height"]
        c, s = abs(cos(radians(place["rotate"]))), abs(sin(radians(place["rotate"])))
        size = (width * c + height * s, width * s + height * c)
        low = []
        for axis, (how, by) in enumerate(((place["across"], place["x"]), (place["down"], place["y"]))):
            if on is None:
                low.append(by - size[axis] / 2)
                continue
            own, other, way = HELD[how]
            low.append(on[axis] + other * (on[axis + 2] - on[axis]) + way * by - own * size[axis])
        made[line["id"]] = (low[0], low[1], low[0] + size[0], low[1] + size[1])
    return made


@settings(deadline=None)
@given(lines=recipes())
def test_every_thing_lies_where_its_relation_says(lines: list[dict[str, Any]]) -> None:
    found, wanted = boxes(design_of(lines)), expected(lines)
    for line, box in wanted.items():
        # Things that take over each other's sizes can grow past what can be cut; then they are a finding.
        if line in found:
            assert found[line] == pytest.approx(box, abs=1e-6), line
    assert "l0" in found


@settings(deadline=None)
@given(lines=recipes(), dx=SHIFTS, dy=SHIFTS)
def test_a_move_moves_by_as_much_whatever_a_thing_is_held_to(
    lines: list[dict[str, Any]], dx: float, dy: float
) -> None:
    last = lines[-1]
    before = boxes(design_of(lines))
    place = moved(Place.model_validate(last["place"]), dx, dy).model_dump()
    after = boxes(design_of([*lines[:-1], {**last, "place": place}]))
    if last["id"] not in before:
        return
    shift = [b - a for a, b in zip(before[last["id"]], after[last["id"]], strict=True)]
    assert shift == pytest.approx([dx, dy, dx, dy], abs=1e-4)
    assert all(after[line] == before[line] for line in before if line != last["id"])


@settings(deadline=None, max_examples=60)
@given(
    lines=recipes(),
    how=st.sampled_from(["left", "centre", "right", "top", "middle", "bottom"]),
    to=st.sampled_from(["each other", "design"]),
    hold=st.booleans(),
)
def test_lined_up_things_are_level_and_stay_so_when_lined_up_again(
    lines: list[dict[str, Any]], how: Any, to: Any, hold: bool
) -> None:
    free = [{**line, "place": {**line["place"], "on": None}} for line in lines]
    ids = [line["id"] for line in lines]
    made = arrange(design_of(free), ids, how, to, hold and to == "each other", boxes)
    axis, share = EDGE[how]
    found = boxes(made)
    levels = [box[axis] + share * (box[axis + 2] - box[axis]) for box in found.values()]
    assert levels == pytest.approx([levels[0]] * len(levels), abs=0.001)
    again = boxes(arrange(made, ids, how, to, hold and to == "each other", boxes))
    for line, box in found.items():
        assert again[line] == pytest.approx(box, abs=0.002)


@pytest.mark.parametrize("turn", [30.0, 90.0, -135.0])
def test_a_thing_that_is_level_with_another_turns_about_the_middle_they_share(turn: float) -> None:
    """A heart is no symmetric figure: the middle of its turned box is elsewhere, and moves nothing."""
    shapes = [
        {
            "id": "l0",
            "kind": "shape",
            "figure": "rounded box",
            "width": 70,
            "height": 50,
            "place": {"x": 13, "y": -8},
        },
        {
            "id": "l1",
            "kind": "shape",
            "figure": "heart",
            "width": 40,
            "height": 30,
            "place": {"on": "l0/shape"},
        },
    ]
    upright = evaluated(shapes)["l1/shape"]
    held = {**shapes[1], "place": {"on": "l0/shape", "rotate": turn}}
    turned = evaluated([shapes[0], held])["l1/shape"]
    wanted = bounds(upright.rotated(turn, 13.0, -8.0))
    assert bounds(turned) == pytest.approx(wanted, abs=1e-6)
    assert bounds(turned.rotated(-turn, 13.0, -8.0)) == pytest.approx(bounds(upright), abs=1e-6)


def evaluated(lines: list[dict[str, Any]]) -> dict[str, Region]:
    design = design_of(lines)
    return {result.ref: result.region for result in evaluate(design, DesignSources(design)).results}
