"""Lengths of a drawing, and what they are told by."""

from __future__ import annotations

import re
from dataclasses import dataclass

import numpy as np

from perigram.core.errors import PictureError

#: Exactly as CSS Values and Units 4 defines them, section 6.2.
PX_PER_UNIT = {
    "": 1.0, "px": 1.0, "mm": 96 / 25.4, "cm": 960 / 25.4, "in": 96.0, "pt": 96 / 72, "pc": 16.0,
    "q": 24 / 25.4, "rem": 16.0,
}  # fmt: skip
_LENGTH = re.compile(r"\s*([+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)\s*([A-Za-z%]*)\s*\Z")


@dataclass(frozen=True)
class Room:
    """What lengths are told by: the size of the viewport they are in, and of the font, in px."""

    wide: float
    tall: float
    em: float = 16.0

    @property
    def across(self) -> float:
        """What percentages are of that are neither across nor down (SVG 2, section 8.9)."""
        return float(np.hypot(self.wide, self.tall)) / 2.0**0.5

    def x(self, text: str | None, otherwise: float = 0.0) -> float:
        return length(text, self.wide, otherwise, self.em)

    def y(self, text: str | None, otherwise: float = 0.0) -> float:
        return length(text, self.tall, otherwise, self.em)

    def either(self, text: str | None, otherwise: float = 0.0) -> float:
        return length(text, self.across, otherwise, self.em)


def length(text: str | None, whole: float, otherwise: float = 0.0, em: float = 16.0) -> float:
    """A length in px, percent being of `whole`, and `em` how large the font is.

    Raises:
        PictureError: for what is no length.
    """
    if text is None or not text.strip() or text.strip() == "auto":
        return otherwise
    found = _LENGTH.match(text)
    if found is None or found[2].lower() not in {*PX_PER_UNIT, "em", "ex", "%"}:
        raise PictureError(f"“{text.strip()[:24]}” is no length.")
    value, unit = float(found[1]), found[2].lower()
    if unit in ("em", "ex"):
        return value * em * (1.0 if unit == "em" else 0.5)
    return value * whole / 100.0 if unit == "%" else value * PX_PER_UNIT[unit]
