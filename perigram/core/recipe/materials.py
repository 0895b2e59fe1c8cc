"""Materials: what their kinds bring with them, and those a design starts from."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from perigram.core.recipe.design import Design, Material
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


@dataclass(frozen=True)
class Finish:
    """What a finish is called, and whether it bears no pressing over it (common practice)."""

    name: str
    last: bool


FINISHES = {
    "smooth": Finish("smooth", False),
    "matt": Finish("matt", False),
    "gloss": Finish("gloss", False),
    "flock": Finish("flock", True),
    "glitter": Finish("glitter", True),
    "metal": Finish("foil and metal", True),
    "puff": Finish("puff", True),
}

#: Flock and metal are pressed gently and with nothing over them (common practice).
_FLOCK = Pressing(heat=145.0, pressure="light", peel="cold", most=20.0, last=True, notes="Cover sheet on.")
_METAL = Pressing(full=8.0, heat=150.0, peel="cold", most=25.0, last=True)

#: Materials a design starts from, invented; together they cover the common kinds.
STARTERS = (
    Material(id="ember", name="Ember smooth", colour="#D9532C"),
    Material(id="night", name="Night flock", finish="flock", colour="#1F2733", smallest=1.5, pressing=_FLOCK),
    Material(id="chalk", name="Chalk smooth", colour="#F4F0E6"),
    Material(id="reed", name="Reed smooth", colour="#5E7F57"),
    Material(id="brass", name="Brass metal", finish="metal", colour="#C79A3B", smallest=1.2, pressing=_METAL),
    Material(
        id="slate",
        name="Slate matt",
        kind="vinyl",
        finish="matt",
        colour="#2B3A42",
        mirrored=False,
        smallest=0.8,
    ),
    Material(
        id="buoy",
        name="Buoy gloss",
        kind="vinyl",
        finish="gloss",
        colour="#E2A01B",
        mirrored=False,
        smallest=0.8,
    ),
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


@dataclass(frozen=True)
class Choice:
    """A material a ply could be cut from, and what speaks against it there.

    Attributes:
        own: whether it is one of the design's; any other would be brought into it.
    """

    material: Material
    own: bool
    warns: list[str]


def choices(design: Design, ply: str, shelf: Sequence[Material]) -> list[Choice]:
    """Materials for a ply, those that suit its ground and its neighbours first.

    Args:
        ply: the ply's id.
        shelf: materials that can be brought into the design; those it has already, by name, count once.
    """
    own = list(design.materials)
    names = {one.name for one in own}
    given = [(one, True) for one in own] + [(one, False) for one in shelf if one.name not in names]
    found = [Choice(one, mine, _warnings(design, ply, one)) for one, mine in given]
    return sorted(found, key=lambda choice: len(choice.warns))


def _warnings(design: Design, ply: str, material: Material) -> list[str]:
    at = next((i for i, one in enumerate(design.plies) if one.id == ply), None)
    if at is None:
        return []
    known = {one.id: one for one in design.materials}
    beside = [
        (one.name, known[one.material])
        for one in (*design.plies[max(at - 1, 0) : at], *design.plies[at + 1 : at + 2])
        if one.material in known
    ]
    warns = []
    if contrast(material.colour, design.ground.colour) < CONTRAST:
        warns.append("hard to tell from the ground")
    warns += [
        f"hard to tell from {name}"
        for name, one in beside
        if contrast(material.colour, one.colour) < CONTRAST
    ]
    above = design.plies[at + 1 :]
    if material.pressing.last and above:
        warns.append("nothing can be pressed over it")
    if other := next((one for _, one in beside if one.kind != material.kind), None):
        mine, its = MATERIAL_KINDS[material.kind].name, MATERIAL_KINDS[other.kind].name
        warns.append(f"{mine} beside {its}")
    return warns
