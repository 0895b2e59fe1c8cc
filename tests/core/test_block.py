"""Rows made one even block: what they share afterwards, and that they stay as large as they were."""

from __future__ import annotations

from typing import Any

import pytest

from perigram.core.errors import PerigramError
from perigram.core.geometry.measure import bounds
from perigram.core.recipe.block import Align, even_block
from perigram.core.recipe.design import Design, read_design
from perigram.core.recipe.evaluate import Proof, evaluate
from perigram.library import DesignSources

ROWS = [
    {"text": "SALT"},
    {"text": "MARSH AND", "stretch": 130},
    {"text": "ROWING", "size": 30, "fit": "tall"},
]


def prove(design: Design) -> Proof:
    return evaluate(design, DesignSources(design))


def words(**values: Any) -> Design:
    line = {"id": "l1", "kind": "letter", "font": "anton", "rows": ROWS, "size": 200, "gap": 0.5, **values}
    return read_design({"format": "perigram", "version": 2, "recipe": [line]})


def rows_of(design: Design) -> list[tuple[float, float]]:
    """Width and cap height of each row, told from its letters and its levels."""
    upright = design.model_copy(deep=True)
    upright.recipe[0].place.rotate = 0.0  # type: ignore[union-attr]
    made = prove(upright).results[0].made
    boxes = [(part.path[0], bounds(part.region)) for part in made.parts()]
    heights = [a - b for a, b in zip(made.levels[::2], made.levels[1::2], strict=True)]
    return [
        (
            max(b[2] for r, b in boxes if b and r == row) - min(b[0] for r, b in boxes if b and r == row),
            height,
        )
        for row, height in enumerate(heights)
    ]


@pytest.mark.parametrize("place", [{}, {"x": 40, "rotate": 25}])
@pytest.mark.parametrize("gives", ["letters", "gaps", "spaces"])
def test_one_width_and_height_keeps_the_width(gives: Any, place: dict[str, float]) -> None:
    before = words(place=place)
    after = even_block(before, "l1", "tall", "even", gives, prove)
    wide = max(width for width, _ in rows_of(before))
    made = rows_of(after)
    # The row that needs the lowest capitals to be this wide keeps its letters.
    assert [width for width, _ in made] == pytest.approx([made[0][0]] * 3, abs=0.001)
    assert [height for _, height in made] == pytest.approx([made[0][1]] * 3, abs=0.001)
    assert made[0][0] == pytest.approx(wide, rel=0.35)
    again = even_block(after, "l1", "wide", "centre", gives, prove)
    assert [width for width, _ in rows_of(again)] == pytest.approx([made[0][0]] * 3, abs=0.051)
    assert after.recipe[0].place == before.recipe[0].place  # type: ignore[union-attr]


def test_rows_of_their_own_width_stay_as_wide_as_the_widest() -> None:
    plain = words(rows=[{"text": "SALT"}, {"text": "MARSH AND"}, {"text": "ROWING"}])
    after = even_block(plain, "l1", "tall", "even", "letters", prove)
    assert max(width for width, _ in rows_of(after)) == pytest.approx(200, rel=0.002)
    kept = even_block(after, "l1", "tall", "centre", "letters", prove)
    assert kept.recipe[0].size == after.recipe[0].size  # type: ignore[union-attr]


@pytest.mark.parametrize("align", ["centre", "even"])
def test_a_lettering_that_comes_to_nothing_keeps_its_size(align: Align) -> None:
    empty = words(rows=[{"text": " "}, {"text": ""}])
    assert even_block(empty, "l1", "tall", align, "gaps", prove).recipe[0].size == 200  # type: ignore[union-attr]


def test_only_words_become_a_block() -> None:
    with pytest.raises(PerigramError, match="not a line of words"):
        even_block(words(), "l9", "tall", "even", "gaps", prove)
