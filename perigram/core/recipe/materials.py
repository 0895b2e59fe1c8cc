"""Materials: what their kinds bring with them, and those a design starts from."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from perigram.core.recipe.design import Material
from perigram.core.recipe.making import Pressing


@dataclass(frozen=True)
class MaterialKind:
    """What a kind of material is called, and what it starts with: whether it is cut mirrored, and the
    thinnest strand in mm that still cuts and holds.
    """

    name: str
    mirrored: bool
    smallest: float


#: HTV is cut from its back and so mirrored, the others from their face; strands are common practice.
MATERIAL_KINDS = {
    "htv": MaterialKind("heat-transfer vinyl", True, 1.0),
    "vinyl": MaterialKind("adhesive vinyl", False, 0.8),
    "card": MaterialKind("card", False, 1.5),
}

#: Flock and metal are pressed gently and with nothing over them (common practice).
_FLOCK = Pressing(heat=145.0, pressure="light", peel="cold", most=20.0, last=True, notes="Cover sheet on.")
_METAL = Pressing(full=8.0, heat=150.0, peel="cold", most=25.0, last=True)

#: Materials a design starts from, invented; together they cover the common kinds.
STARTERS = (
    Material(id="ember", name="Ember smooth", colour="#D9532C"),
    Material(id="night", name="Night flock", colour="#1F2733", smallest=1.5, pressing=_FLOCK),
    Material(id="chalk", name="Chalk smooth", colour="#F4F0E6"),
    Material(id="reed", name="Reed smooth", colour="#5E7F57"),
    Material(id="brass", name="Brass metal", colour="#C79A3B", smallest=1.2, pressing=_METAL),
    Material(id="slate", name="Slate matt", kind="vinyl", colour="#2B3A42", mirrored=False, smallest=0.8),
    Material(id="buoy", name="Buoy gloss", kind="vinyl", colour="#E2A01B", mirrored=False, smallest=0.8),
    Material(id="manila", name="Manila card", kind="card", colour="#D8C08A", mirrored=False, smallest=1.5),
)

#: What a material added by hand is at first.
FRESH = Material(id="new", name="New material", colour="#3E7C8C")

#: A new ply can be told from what lies round it: contrast by WCAG 2.2, "contrast ratio", at least this.
CONTRAST = 1.6


def contrast(one: str, other: str) -> float:
    """How well two colours "#rrggbb" can be told apart: 1 for equal ones, 21 for black and white.

    Source: WCAG 2.2, definitions of "relative luminance" and "contrast ratio".

    Example:
        >>> round(contrast("#000000", "#FFFFFF"), 3)
        21.0
    """
    darker, lighter = sorted((_luminance(one), _luminance(other)))
    return (lighter + 0.05) / (darker + 0.05)


def _luminance(colour: str) -> float:
    shares = [int(colour[at : at + 2], 16) / 255.0 for at in (1, 3, 5)]
    red, green, blue = (c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in shares)
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue


def told_apart(colour: str, others: Sequence[str]) -> bool:
    """Whether a colour can be told from each of some others."""
    return all(contrast(colour, other) >= CONTRAST for other in others)


def grey_apart(others: Sequence[str]) -> str:
    """The grey that is easiest to tell from some colours.

    From three colours there always is one at 1.6:1: each shuts out a factor of 2.56 of the 21 that there are.
    """
    greys = [f"#{level:02X}{level:02X}{level:02X}" for level in range(0, 256, 3)]
    return max(greys, key=lambda grey: min((contrast(grey, other) for other in others), default=1.0))
