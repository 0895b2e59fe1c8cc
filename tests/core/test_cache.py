"""Results kept by key: worked out once, within their bytes, and never mixed up."""

from __future__ import annotations

import threading

import numpy as np
import pytest

from perigram.core.recipe.cache import Cache, weight
from perigram.core.recipe.design import read_design
from perigram.core.recipe.evaluate import evaluate
from perigram.library import DesignSources


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
                "version": 1,
                "name": "one",
                "materials": [{"id": "m", "name": "Vinyl", "kind": "vinyl", "colour": "#202020"}],
                "pictures": [{"id": "pic", "name": "pic", "svg": svg}],
                "recipe": [{"id": "l1", "kind": "art", "picture": "pic", "size": 100, "by": "wide"}],
                "plies": [{"id": "p", "name": "A", "material": "m", "results": ["l1/art"]}],
            }
        )
        areas.append(evaluate(design, DesignSources(design), cache).plies[0].measures.area)
    assert areas == pytest.approx([10_000, 5_000])
