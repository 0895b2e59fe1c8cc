"""Rows of different length made one even block, about as large as they were."""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal

from perigram.core.errors import PerigramError
from perigram.core.geometry import measure
from perigram.core.lettering.rows import Even, Fit
from perigram.core.recipe.design import Design
from perigram.core.recipe.evaluate import Proof
from perigram.core.recipe.lines.letter import Letter
from perigram.core.recipe.values import Place

Align = Literal["left", "centre", "right", "even"]


def even_block(
    design: Design, line_id: str, fit: Fit, align: Align, gives: Even, prove: Callable[[Design], Proof]
) -> Design:
    """The design with a lettering's rows sharing one width or one cap height.

    Sizes by width and by height mean different figures: a block that goes by its width takes over the
    width it has, one that goes by its height the height its widest row needs to stay as wide. Sizes and
    stretches that rows had of their own are given up.

    Raises:
        PerigramError: when the line is no lettering.
    """
    line = next((one for one in design.recipe if one.id == line_id), None)
    if not isinstance(line, Letter):
        raise PerigramError("This is not a line of words. Choose one first.")
    rows = [row.model_copy(update={"fit": None, "size": None, "stretch": 100.0}) for row in line.rows]
    block = line.model_copy(update={"rows": rows, "fit": fit, "align": align, "gives": gives})
    if fit != line.fit:
        block = block.model_copy(update={"size": _size(design, line, fit, prove) or line.size})
    recipe = [block if one.id == line_id else one for one in design.recipe]
    return design.model_copy(update={"recipe": recipe})


def _size(design: Design, line: Letter, fit: Fit, prove: Callable[[Design], Proof]) -> float | None:
    """The width of a lettering as it stands, or the smallest cap height of its rows, to 0.1 mm."""
    alone = line.model_copy(update={"place": Place(), "off": False})
    proof = prove(design.model_copy(update={"recipe": [alone], "plies": []}))
    box = measure.bounds(proof.results[0].region) if proof.results else None
    levels = proof.results[0].made.levels if proof.results else []
    if box is None or not levels:
        return None
    heights = [foot - head for foot, head in zip(levels[::2], levels[1::2], strict=True)]
    return round(max(1.0, box[2] - box[0] if fit == "wide" else min(heights)), 1)
