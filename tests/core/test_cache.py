"""Results kept by key: worked out once, within their bytes, and never mixed up."""

from __future__ import annotations

import gc
import threading
import types
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import shapely

from perigram.core.geometry import Region
from perigram.core.recipe.cache import Cache, weight
from perigram.core.recipe.design import read_design
from perigram.core.recipe.evaluate import evaluate
from perigram.library import DesignSources, load_design

DEMO = Path(__file__).parent.parent.parent / "demo"


def test_whoever_asks_meanwhile_waits_for_the_one_who_works() -> None:
    cache, made, at_work, go_on = Cache(), [], threading.Event(), threading.Event()

    def make() -> str:
        at_work.set()
        assert go_on.wait(5)
        made.append(1)
        return "done"

    answers: list[str] = []
    threads = [threading.Thread(target=lambda: answers.append(cache.get("key", make))) for _ in range(6)]
    for thread in threads:
        thread.start()
    assert at_work.wait(5)
    assert cache.get("another", lambda: 3) == 3
    go_on.set()
    for thread in threads:
        thread.join(5)
    assert answers == ["done"] * 6
    assert made == [1]


def test_what_fails_is_tried_again() -> None:
    cache = Cache()

    def fail() -> None:
        raise ValueError("no")

    for _ in range(2):
        with pytest.raises(ValueError, match="no"):
            cache.get("key", fail)
    assert cache.get("key", lambda: "yes") == "yes"


def test_it_keeps_within_its_bytes_what_was_used_last() -> None:
    cache = Cache(10_000)
    for n in range(40):
        cache.get(n, lambda: np.zeros(125))
        cache.get(0, lambda: pytest.fail("it was just used"))
        assert cache.weight <= 10_000
    assert cache.held(39) is not None
    assert cache.held(1) is None
    # What is larger than all there is room for is still handed out.
    assert len(cache.get("large", lambda: np.zeros(10_000))) == 10_000


def test_weight_counts_what_is_held_twice_once() -> None:
    array = np.zeros(1000)
    assert 8000 <= weight([array, array, {"a": array}]) < 9000
    assert weight("x" * 5000) >= 5000


def test_a_picture_of_the_same_name_is_another_picture() -> None:
    """Two designs that share a cache: their pictures have one id, and differ."""
    cache = Cache()
    areas = []
    for side in (100, 50):
        svg = f'<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0H100V{side}H0Z"/></svg>'
        design = read_design(
            {
                "format": "perigram",
                "version": 2,
                "name": "one",
                "materials": [{"id": "m", "name": "Vinyl", "kind": "vinyl", "colour": "#202020"}],
                "pictures": [{"id": "pic", "name": "pic", "svg": svg}],
                "recipe": [{"id": "l1", "kind": "art", "picture": "pic", "size": 100, "by": "wide"}],
                "plies": [{"id": "p", "name": "A", "material": "m", "results": ["l1/art"]}],
            }
        )
        areas.append(evaluate(design, DesignSources(design), cache).plies[0].measures.area)
    assert areas == pytest.approx([10_000, 5_000])


#: Lettering with every value of its own in use, so that changing any shows.
WORDS = {
    "id": "l1",
    "kind": "letter",
    "font": "anton",
    "fit": "tall",
    "size": 30,
    "rows": [
        {"text": "Two Oars", "own": [{"at": 1, "x": 1.0, "turn": 5.0, "wide": 120.0, "tall": 90.0}]},
        {"text": "AVA", "size": 20.0, "stretch": 110.0, "fit": "tall", "spacing": "clear", "gap": 1.0},
    ],
    "place": {"x": 3, "y": 4, "rotate": 10},
}
CHANGES: list[dict[str, Any]] = [
    {"font": "lobster"},
    {"size": 31},
    {"gap": 2.0},
    {"gap": 0.0},
    {"spacing": "font"},
    {"fit": "wide"},
    {"align": "left"},
    {"align": "even", "gives": "gaps"},
    {"align": "even", "gives": "letters"},
    {"row_gap": {"value": 9, "of": "mm"}},
    {"row_gap": {"value": 9, "of": "percent"}},
    {"row_gap": {"value": 120, "of": "line"}},
    {"case": "upper"},
    {"features": ["-kern"]},
    {"joins": "closed", "font": "pacifico"},
    {"place": {"x": 3, "y": 4, "rotate": 10, "flip": True}},
    {"place": {"x": 5, "y": 4, "rotate": 10}},
]
ROWS: list[tuple[int, dict[str, Any]]] = [
    (0, {"text": "Two Oar"}),
    (0, {"font": "bungee"}),
    (0, {"stretch": 80.0}),
    (1, {"stretch": 120.0}),
    (1, {"size": 22.0}),
    (1, {"gap": 2.0}),
    (1, {"spacing": "font"}),
    (1, {"fit": "wide", "size": 60.0}),
    (1, {"above": {"value": 12, "of": "mm"}}),
    *((0, {"own": [{**WORDS["rows"][0]["own"][0], name: value}]}) for name, value in (
        ("x", 3.0), ("y", 2.0), ("turn", -9.0), ("wide", 80.0), ("tall", 130.0), ("at", 2)
    )),
]  # fmt: skip


def changed(part: dict[str, Any], row: int | None = None) -> dict[str, Any]:
    if row is None:
        return {**WORDS, **part}
    rows = [{**one, **part} if index == row else one for index, one in enumerate(WORDS["rows"])]
    return {**WORDS, "rows": rows}


@pytest.mark.parametrize("line", [*map(changed, CHANGES), *(changed(part, row) for row, part in ROWS)])
def test_no_value_is_left_out_of_what_results_are_kept_by(line: dict[str, Any]) -> None:
    """Changed with everything before it kept, lettering comes out as from nothing, and it does change."""

    def made(values: dict[str, Any], cache: Cache | None) -> bytes:
        design = read_design({"format": "perigram", "version": 2, "recipe": [values]})
        (result,) = evaluate(design, DesignSources(design), cache).results
        return result.region.digest()

    cache = Cache()
    before = made(WORDS, cache)
    assert made(line, cache) == made(line, None) != before


@pytest.mark.parametrize("name", sorted(path.name for path in DEMO.glob("*.perigram.json")))
def test_no_region_that_threads_share_is_prepared(name: str) -> None:
    """GEOS prepares without a lock: asked first by two threads at once, what both hold ends the process."""
    design = load_design(DEMO / name)
    cache = Cache()
    evaluate(design, DesignSources(design), cache)
    found, seen, todo = [], set[int](), [cache._held]
    while todo:
        one: Any = todo.pop()
        if id(one) in seen or isinstance(one, type | types.ModuleType | types.FunctionType):
            continue
        seen.add(id(one))
        found += [one] if isinstance(one, Region) else []
        todo += gc.get_referents(one)
    asked = [vars(region)["multipolygon"] for region in found if "multipolygon" in vars(region)]
    assert len(asked) > 2
    assert not shapely.is_prepared(np.array(asked)).any()
