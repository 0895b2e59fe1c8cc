"""The value by which lines that cut drop what their own cut left too thin."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from perigram.core.combine.leavings import in_words
from perigram.core.geometry.clean import Removed
from perigram.core.recipe.kinds import Note
from perigram.core.recipe.values import length

#: What a new line starts with, in mm, where no material says otherwise.
USUAL = 1.0


def leaving() -> Any:
    """The value "leaving nothing under 1 mm"; 0, as in designs older than it, drops nothing."""
    return length("Leaving nothing under", 0.0, low=0.0, high=10.0, measure=True)


def said_of(removed: Sequence[Removed], least: float) -> list[Note]:
    """The note of what was dropped, if anything was."""
    if not removed:
        return []
    text, place = in_words(removed, least)
    return [Note("holds", text, place)]
