"""What is pulled on the proof goes with the hand: handles of warps, pulled by half a mm."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from perigram.core.recipe.design import read_design
from perigram.core.recipe.evaluate import evaluate
from perigram.core.recipe.kinds import Handle
from perigram.library import DesignSources

ROWS = [{"text": "BOAT"}, {"text": "HOUSE"}]
WORDS = {"id": "l1", "kind": "letter", "rows": ROWS, "font": "bowlby-one", "size": 250.0, "fit": "wide"}

BENDS: list[dict[str, Any]] = [
    {"curve": "arc", "rise": 30.0},
    {"curve": "arc", "rise": -30.0},
    {"curve": "turn", "turn": 60.0},
    {"curve": "turn", "turn": -60.0},
    {"curve": "radius", "radius": 400.0},
    {"curve": "radius", "radius": -400.0},
    {"curve": "circle", "diameter": 300.0},
    {"curve": "circle", "diameter": 300.0, "side": "inside"},
    {"curve": "wave", "height": 20.0},
    {"curve": "wave", "height": 20.0, "starts": "down"},
    {"curve": "own"},
]
SHAPES: list[dict[str, Any]] = [
    {"shape": "level", "moved": 3.0},
    {"shape": "tilted", "rise": 8.0},
    {"shape": "arched", "rise": 10.0, "top": 40.0},
    {"shape": "waved", "rise": 8.0, "times": 2.0},
    {"shape": "waved", "rise": 8.0, "starts": "down"},
    {"shape": "own", "points": [(0.25, 3.0), (0.75, -3.0)]},
]
SIDES = ("top", "bottom", "left", "right", "between")


def whole(line: dict[str, Any]) -> dict[str, Any]:
    """A line with all its values, as it is edited."""
    design = read_design({"format": "perigram", "version": 2, "recipe": [WORDS, line]})
    return design.recipe[1].model_dump(mode="json")


def handles_of(line: dict[str, Any]) -> list[Handle]:
    design = read_design({"format": "perigram", "version": 2, "recipe": [WORDS, line]})
    proof = evaluate(design, DesignSources(design))
    assert [f.text for f in proof.findings if f.level == "stop"] == []
    return list(proof.shapings["l2"].handles)


def put(tree: Any, path: list[str], value: Any) -> Any:
    """A value replaced at a path like "top.rise"; a list becomes as long as it has to."""
    if not path:
        return value
    if isinstance(tree, list):
        at = int(path[0])
        grown = [*tree, *({} for _ in range(at + 1 - len(tree)))]
        return [put(one, path[1:], value) if i == at else one for i, one in enumerate(grown)]
    return {**tree, path[0]: put(tree.get(path[0], {}), path[1:], value)}


def pulled(line: dict[str, Any], handles: list[Handle], one: Handle, by: np.ndarray) -> dict[str, Any]:
    if len(one.now) == 1:
        change = float(np.dot(one.along, by))
        to = 1.0 / (1.0 / one.now[0] + change) if one.inverse else one.now[0] + change
        return with_sets(put(line, one.value.split("."), to), one)
    name, _, number = one.value.rpartition(".")
    across, down = by[::-1] if one.swapped else by
    goes = {int(number): (1.0, 1.0), **{to: (x, y) for to, x, y in one.partners}}
    points = [list(other.now) for other in handles if other.value.rpartition(".")[0] == name]
    for i, (x, y) in goes.items():
        points[i] = [points[i][0] + across * one.scale[0] * x, points[i][1] + down * one.scale[1] * y]
    return with_sets(put(line, name.split("."), points), one)


def with_sets(line: dict[str, Any], one: Handle) -> dict[str, Any]:
    for path, value in one.sets.items():
        line = put(line, path.split("."), value)
    return line


def assert_goes_with_the_hand(line: dict[str, Any]) -> None:
    line = whole({"id": "l2", "of": ["l1/letters"], **line})
    handles = handles_of(line)
    assert handles
    for one in handles:
        if one.about:
            continue  # goes round, as a clock's hand does
        ways = np.eye(2) if len(one.now) == 2 else np.array([np.sign(one.along)])
        for way in ways[[bool(np.any(way)) for way in ways]]:
            if len(one.now) == 2 and not np.dot(np.abs(one.scale), way):
                continue  # a point that mirrors itself stays in the middle
            # A level rail is another shape once it is bent or tilted, with other handles.
            same = [x for x in handles_of(pulled(line, handles, one, 0.5 * way)) if x.value == one.value]
            after = min(same, key=lambda x: float(np.hypot(*np.subtract(x.at, one.at))))
            # Curves are pulled by their slope where they are, which is right for little.
            went = (np.array(after.at) - one.at) / 0.5
            assert went @ way == pytest.approx(1.0, abs=0.15), one
            # Words keep their length along a curve: the ends of one that is pulled up come nearer as well.
            assert len(one.now) == 1 or abs(went @ way[::-1]) < 0.15, one


@pytest.mark.parametrize("given", BENDS, ids=lambda given: "-".join(map(str, given.values())))
def test_bends_go_with_the_hand(given: dict[str, Any]) -> None:
    if given["curve"] == "circle":
        [rim, clock] = handles_of({"id": "l2", "kind": "bend", "of": ["l1/letters"], **given})
        assert (rim.value, clock.value, clock.about is not None) == ("diameter", "clock", True)
        # A twelfth of a turn is an hour.
        later = handles_of({"id": "l2", "kind": "bend", "of": ["l1/letters"], **given, "clock": 1.0})[1]
        before, after = (complex(*np.subtract(one.at, one.about)) for one in (clock, later))
        assert after / before == pytest.approx(np.exp(2j * np.pi / clock.along[0]), abs=1e-6)
    assert_goes_with_the_hand({"kind": "bend", **given})


@pytest.mark.parametrize("down", [-12.0, 25.0])
def test_an_arc_by_its_radius_is_pulled_through_flat(down: float) -> None:
    """A hanging arc pulled farther up, and down until it stands: its ends are where the hand is."""
    line = whole({"id": "l2", "kind": "bend", "of": ["l1/letters"], "curve": "radius", "radius": -600.0})
    before = handles_of(line)
    after = handles_of(pulled(line, before, before[1], np.array([0.0, down])))
    assert after[1].at[1] - before[1].at[1] == pytest.approx(down, rel=0.1)


@pytest.mark.parametrize("side", SIDES)
@pytest.mark.parametrize("shape", SHAPES, ids=lambda shape: shape["shape"])
def test_rails_go_with_the_hand(shape: dict[str, Any], side: str) -> None:
    for upside_down in (False, True):
        rail = {**shape, "upside_down": upside_down}
        assert_goes_with_the_hand({"kind": "rails", side: [rail] if side == "between" else rail})


def test_rails_of_no_points_between_sides_have_the_handles_of_the_sides() -> None:
    own = {"shape": "own", "points": []}
    line = {"id": "l2", "kind": "rails", "of": ["l1/letters"], "top": own, "bottom": own, "between": [own]}
    found = handles_of(whole({**line, "left": {"shape": "arched", "rise": 4.0}}))
    assert [one.value for one in found if one.value.startswith("left")]


@pytest.mark.parametrize("alike", ["none", "sides", "ends", "all"])
def test_nets_go_with_the_hand(alike: str) -> None:
    assert_goes_with_the_hand({"kind": "net", "alike": alike})
