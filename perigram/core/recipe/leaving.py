"""The value by which lines that cut drop what their own cut left too thin."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from perigram.core.geometry.clean import Removed
from perigram.core.recipe.kinds import Note
from perigram.core.recipe.values import slot

#: What a new line starts with, in mm, where no material says otherwise.
USUAL = 1.0


def leaving() -> Any:
    """The value "leaving nothing under 1 mm"; 0, as in designs older than it, drops nothing."""
    # What a material holds does not grow with the design, so it never scales.
    return slot("length", "Leaving nothing under", 0.0, low=0.0, high=10.0, step=0.1)


def said_of(removed: Sequence[Removed], least: float, done: str = "dropped") -> list[Note]:
    """The note "2 bits and 1 strand under 1 mm dropped", at the smallest of them; none where nothing was.

    Args:
        done: what was done with them.
    """
    if not removed:
        return []
    counts = [(what, sum(one.what == what for one in removed)) for what in ("bit", "strand")]
    said = [f"{count} {what}" if count == 1 else f"{count} {what}s" for what, count in counts if count]
    return [Note("holds", f"{' and '.join(said)} under {least:g} mm {done}", removed[0].place)]
