"""Hundreds of random designs of foreign art and fonts: what is called cut-ready is, and nothing crashes.

Sources: the sets and fonts named in README.md; files are judged by `judge`, results by `reference`.
"""

from __future__ import annotations

import numpy as np
import pytest
import shapely

from .designs import design
from .judge import CHORD, breaches, chords, solid
from .sets import drawings, font_files
from .trial import QUICK, anything_tried, font_ids, proof_of, tried

#: Seeds of one test, and of those how many are compared with the reference, which costs as much again.
_EACH, _COMPARED = 10, 2
#: What a design can be refused for that is its own: nothing left, too little room, a warp that folds, tiles
#: by the ten thousand.
_REASONS = ("nothing to cut", "fit", "what shows", "So fine a texture")


@pytest.mark.parametrize(
    ("first", "chain"),
    [(seed, False) for seed in range(100_000, 100_270, _EACH)]
    + [(seed, True) for seed in range(0, 30, _EACH)],
)
def test_cut_files_keep_their_promises(first: int, chain: bool) -> None:
    """Of designs with one more line at most, and of such with up to five, each upon the last."""
    for seed in range(first, first + _EACH):
        trial = tried(seed, by_reference=seed < first + _COMPARED, quick=True, chain=chain)
        assert not trial.wrong, trial.body["name"]
        assert not trial.refused or any(why in trial.refused for why in _REASONS), trial.refused


@pytest.mark.parametrize("first", range(110, 160, _EACH))
def test_any_lines_with_any_values_keep_their_promises(first: int) -> None:
    """Most are refused with a sentence; none ends in an error, and what is cut is cut as it is drawn."""
    for seed in range(first, first + _EACH):
        trial = anything_tried(seed, quick=True)
        assert not trial.wrong, trial.body["name"]


@pytest.mark.parametrize("first", [710_000, 720_000])
def test_rough_proofs_look_like_the_true_ones(first: int) -> None:
    """What is off them in places that are 0.05 mm wide is 2 % of the area at most."""
    for seed in range(first, first + _EACH):
        body = design(seed, font_ids(sketched=False), QUICK)
        true, rough = (proof_of(body, care) for care in ("drawn", "rough"))
        assert [r.ref for r in rough.results] == [r.ref for r in true.results]
        assert [f.text for f in rough.findings if f.level == "stop"] == [
            f.text for f in true.findings if f.level == "stop"
        ]
        for mine, theirs in zip(rough.plies, true.plies, strict=True):
            bodies = [shapely.make_valid(one.region.multipolygon) for one in (mine, theirs)]
            off = shapely.buffer(shapely.symmetric_difference(*bodies), -0.025)
            assert shapely.area(off) <= 0.02 * shapely.area(bodies[1]) + 0.01, body["name"]


def test_letters_metres_tall_cover_nothing_twice() -> None:
    """An 8 whose outline touches itself as drawn, and would cross itself by 0.045 mm at 1.9 m."""
    proof = proof_of(design(61_000_121, font_ids(sketched=False), QUICK), "drawn")
    (letters,) = [one.region for one in proof.results if str(one.ref) == "l1/letters"]
    points, starts = chords(letters.segments, CHORD)
    rings = np.split(points, starts[letters.loop_offsets[1:-1]])
    once = abs(sum(_signed(ring) for ring in rings))
    assert shapely.area(solid(rings)) == pytest.approx(once, abs=0.001)


def _signed(ring: np.ndarray) -> float:
    """The area of a ring (k, 2) by the shoelace formula: what it winds round twice counts twice."""
    (x, y), (u, v) = ring.T, np.roll(ring, -1, axis=0).T
    return float((x * v - u * y).sum()) / 2.0


def test_the_material_is_there() -> None:
    assert len(font_files()) >= 12
    assert len(drawings("game-icons")) > 4000
    assert len(drawings("lucide")) > 1000


def _box(x: float, y: float, size: float) -> list[tuple[float, float]]:
    return [(x, y), (x + size, y), (x + size, y + size), (x, y + size)]


@pytest.mark.parametrize(
    ("rings", "says"),
    [
        ([_box(0, 0, 10)], None),
        ([_box(0, 0, 10), _box(2, 2, 5)], None),
        ([[(0, 0), (10, 10), (10, 0), (0, 10)]], "crosses itself"),
        ([_box(0, 0, 10), _box(10, 2, 5)], "cut twice"),
        ([_box(0, 0, 10), _box(5, 5, 10)], "cross"),
        ([[(0, 0), (10, 0), (10, 5), (30, 5), (30, 5.002), (10, 5.002), (10, 10), (0, 10)]], "a hair"),
        ([_box(0, 0, 10), _box(10.003, 0, 10)], "a slit"),
    ],
)
def test_the_judge_sees_what_it_is_there_for(
    rings: list[list[tuple[float, float]]], says: str | None
) -> None:
    import numpy as np

    found = " ".join(breaches([np.array(ring, float) for ring in rings]))
    assert (says in found) if says else (found == "")
